#pragma once
#include <functional>
#include <map>
#include <set>
#include <span>

#include "core/base/hash.h"
#include "core/blend/sheet.h"

/// The blend as a graph of pictures that are made of one another, piece by piece, when they are asked for.
namespace dusk {

class Node;
using NodePtr = std::shared_ptr<const Node>;

/// What tells one node from another: its operation, its numbers and what it is made of.
class NodeKey {
 public:
  explicit NodeKey(std::string what) : bytes_(std::move(what)) { bytes_.push_back('\0'); }
  template <typename T>
  requires std::is_trivially_copyable_v<T> NodeKey& with(const T& value) {
    bytes_.append(reinterpret_cast<const char*>(&value), sizeof value);
    return *this;
  }
  template <typename T>
  NodeKey& with(const Imath::Vec2<T>& v) {
    return with(v.x).with(v.y);
  }
  template <typename T>
  NodeKey& with(const Imath::Vec3<T>& v) {
    return with(v.x).with(v.y).with(v.z);
  }
  NodeKey& with(const std::string& text) { return with(text.size()), bytes_ += text, *this; }
  template <typename T>
  NodeKey& with(const std::vector<T>& all) {
    with(all.size());
    for (const T& value : all) with(value);
    return *this;
  }
  NodeKey& of(const std::vector<NodePtr>& inputs);
  std::string text() const { return hashBytes(bytes_.data(), bytes_.size()); }

 private:
  std::string bytes_;
};

/// A picture that is made of others. A pure function of its inputs and of the numbers in its key; immutable.
class Node {
 public:
  Node(const PixelArea& whole, int channels, std::vector<NodePtr> inputs, NodeKey key)
      : whole(whole), channels(channels), inputs(std::move(inputs)), key(key.of(this->inputs).text()) {}
  virtual ~Node() = default;

  /// The area of an input that is needed for an area of this; it is clipped to what the input has.
  virtual PixelArea needs(size_t input, const PixelArea& area) const { return (void)input, area; }
  /// Fills `to`; `from` covers what is needed of each input.
  virtual void make(std::span<const Sheet> from, Sheet& to) const = 0;
  /// Whether all of it is made before what needs it: it looks at neighbours, or several look at it.
  virtual bool isHeld() const { return false; }
  /// Whether making it costs too little for it to be worth holding.
  virtual bool isCheap() const { return false; }
  /// The node whose very picture this is, where it only holds one.
  virtual const Node* sameAs() const { return nullptr; }

  const PixelArea whole;
  const int channels;
  const std::vector<NodePtr> inputs;
  const std::string key;
};

/// The same picture, of which all is made before what needs it.
NodePtr held(NodePtr node);

/// The area of pictures of the whole size that an area of `root` is made of, were they `whole`: beyond what
/// the graph's own sources hold, too.
PixelArea neededOf(const NodePtr& root, const PixelArea& area, const PixelArea& whole);

/// Makes pictures of nodes, tile by tile on all cores, and remembers what the next one may need: what was
/// held, and what lies just below that which changed. For one thread at a time.
class Evaluator {
 public:
  /// Calls `take` with pieces that cover the area, from several threads.
  void each(const NodePtr& root, const PixelArea& area, const std::function<void(const Sheet&)>& take);
  /// The area as one sheet.
  Sheet sheet(const NodePtr& root, const PixelArea& area);
  void forget() { held_.clear(), last_.clear(); }
  size_t bytes() const;

 private:
  struct Plan;
  /// What was made for a tile already, of nodes that several others look at.
  using Memo = std::vector<std::pair<const Node*, Sheet>>;
  Sheet produced(const Node& node, const PixelArea& area, Memo& memo) const;
  void fill(const Node& node, Sheet& sheet, Memo& memo) const;

  std::map<std::string, Sheet> held_;
  std::set<std::string> last_;
  std::set<const Node*> shared_;
  NodePtr root_;  ///< keeps alive what the keys of its sources are told by
};

}  // namespace dusk
