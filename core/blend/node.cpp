#include "core/blend/node.h"

#include <tbb/parallel_for.h>

namespace dusk {
namespace {

constexpr int tileWidth = 512, tileRows = 16;

PixelArea unite(const PixelArea& a, const PixelArea& b) {
  if (a.width() <= 0 || a.height() <= 0) return b;
  if (b.width() <= 0 || b.height() <= 0) return a;
  return {std::min(a.x0, b.x0), std::min(a.y0, b.y0), std::max(a.x1, b.x1), std::max(a.y1, b.y1)};
}

PixelArea clip(const PixelArea& a, const PixelArea& to) {
  PixelArea c{std::max(a.x0, to.x0), std::max(a.y0, to.y0), std::min(a.x1, to.x1), std::min(a.y1, to.y1)};
  c.x1 = std::max(c.x0, c.x1), c.y1 = std::max(c.y0, c.y1);
  return c;
}

std::vector<PixelArea> tilesOf(const PixelArea& area) {
  std::vector<PixelArea> tiles;
  for (int y = area.y0; y < area.y1; y += tileRows)
    for (int x = area.x0; x < area.x1; x += tileWidth)
      tiles.push_back({x, y, std::min(area.x1, x + tileWidth), std::min(area.y1, y + tileRows)});
  return tiles;
}

/// Inputs before what is made of them, each once.
void walk(const Node& node, std::set<const Node*>& seen, std::vector<const Node*>& order) {
  if (!seen.insert(&node).second) return;
  for (const NodePtr& input : node.inputs) walk(*input, seen, order);
  order.push_back(&node);
}

class Held : public Node {
 public:
  explicit Held(NodePtr of) : Node(of->whole, of->channels, {of}, NodeKey("held")) {}
  bool isHeld() const override { return true; }
  const Node* sameAs() const override { return inputs[0].get(); }
  void make(std::span<const Sheet> from, Sheet& to) const override {
    for (int c = 0; c < channels; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        std::copy_n(from[0].row(c, y) + (to.area.x0 - from[0].area.x0), to.area.width(), to.row(c, y));
  }
};

}  // namespace

NodeKey& NodeKey::of(const std::vector<NodePtr>& inputs) {
  for (const NodePtr& input : inputs) with(input->key);
  return *this;
}

NodePtr held(NodePtr node) { return node->isHeld() ? node : std::make_shared<Held>(std::move(node)); }

PixelArea neededOf(const NodePtr& root, const PixelArea& area, const PixelArea& whole) {
  std::vector<const Node*> order;
  std::set<const Node*> seen;
  walk(*root, seen, order);
  std::map<const Node*, PixelArea> need{{root.get(), area}};
  PixelArea all = area;
  for (auto node = order.rbegin(); node != order.rend(); ++node)
    for (size_t i = 0; i < (*node)->inputs.size(); ++i) {
      const Node* input = (*node)->inputs[i].get();
      PixelArea& sum = need[input];
      sum = unite(sum, (*node)->needs(i, need[*node]));
      if (input->whole == root->whole) all = unite(all, sum);
    }
  return clip(all, whole);
}

struct Evaluator::Plan {
  std::vector<const Node*> order;
  std::map<const Node*, PixelArea> need;
  std::set<std::string> toHold;
};

Sheet Evaluator::produced(const Node& node, const PixelArea& area, Memo& memo) const {
  if (const Node* of = node.sameAs()) return produced(*of, area, memo);
  if (const auto found = held_.find(node.key); found != held_.end() && found->second.covers(area))
    return found->second;
  const bool shared = shared_.count(&node) > 0;
  if (shared)
    for (const auto& [made, sheet] : memo)
      if (made == &node && sheet.area == area) return sheet;
  Sheet sheet(area, node.channels);
  fill(node, sheet, memo);
  if (shared) memo.emplace_back(&node, sheet);
  return sheet;
}

void Evaluator::fill(const Node& node, Sheet& sheet, Memo& memo) const {
  std::vector<Sheet> from;
  from.reserve(node.inputs.size());
  for (size_t i = 0; i < node.inputs.size(); ++i) {
    const Node& input = *node.inputs[i];
    from.push_back(produced(input, clip(node.needs(i, sheet.area), input.whole), memo));
  }
  node.make(from, sheet);
}

void Evaluator::each(const NodePtr& root, const PixelArea& area,
                     const std::function<void(const Sheet&)>& take) {
  Plan plan;
  std::set<const Node*> seen;
  walk(*root, seen, plan.order);
  std::set<std::string> now;
  for (const Node* node : plan.order) now.insert(node->key);
  // What changed is likely to change again: what it is made of is held for then.
  shared_.clear();
  std::map<const Node*, int> users;
  for (const Node* node : plan.order)
    for (const NodePtr& input : node->inputs)
      if (!input->isCheap() && ++users[input.get()] == 2) shared_.insert(input.get());
  for (const Node* node : plan.order) {
    if (const Node* of = node->sameAs())
      plan.toHold.insert(of->key);
    else if (node->isHeld())
      plan.toHold.insert(node->key);
    if (last_.empty() || last_.count(node->key)) continue;
    for (const NodePtr& input : node->inputs)
      if (last_.count(input->key) && !input->isCheap()) plan.toHold.insert(input->key);
  }
  std::erase_if(held_, [&](const auto& entry) { return !now.count(entry.first); });
  plan.need[root.get()] = clip(area, root->whole);
  for (auto node = plan.order.rbegin(); node != plan.order.rend(); ++node) {
    const auto need = plan.need.find(*node);
    if (need == plan.need.end()) continue;
    const auto found = held_.find((*node)->key);
    if (found != held_.end() && found->second.covers(need->second)) continue;
    for (size_t i = 0; i < (*node)->inputs.size(); ++i) {
      const Node* input = (*node)->inputs[i].get();
      PixelArea& sum = plan.need[input];
      sum = unite(sum, clip((*node)->needs(i, need->second), input->whole));
    }
  }
  for (const Node* node : plan.order) {
    const auto need = plan.need.find(node);
    if (need == plan.need.end() || node == root.get() || node->sameAs() || !plan.toHold.count(node->key))
      continue;
    const auto found = held_.find(node->key);
    if (found != held_.end() && found->second.covers(need->second)) continue;
    Sheet all(need->second, node->channels);
    const std::vector<PixelArea> tiles = tilesOf(need->second);
    tbb::parallel_for(size_t{0}, tiles.size(), [&](size_t i) {
      Sheet piece = all.look(tiles[i]);
      Memo memo;
      fill(*node, piece, memo);
    });
    held_[node->key] = std::move(all);
  }
  const std::vector<PixelArea> tiles = tilesOf(plan.need[root.get()]);
  tbb::parallel_for(size_t{0}, tiles.size(), [&](size_t i) {
    Memo memo;
    const Sheet made = produced(*root, tiles[i], memo);
    take(made.covers(tiles[i]) && made.area != tiles[i] ? made.look(tiles[i]) : made);
  });
  last_ = std::move(now), root_ = root;
}

Sheet Evaluator::sheet(const NodePtr& root, const PixelArea& area) {
  Sheet all(clip(area, root->whole), root->channels);
  each(root, area, [&](const Sheet& piece) {
    Sheet to = all.look(clip(piece.area, all.area));
    for (int c = 0; c < to.channels; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        std::copy_n(piece.row(c, y) + (to.area.x0 - piece.area.x0), to.area.width(), to.row(c, y));
  });
  return all;
}

size_t Evaluator::bytes() const {
  size_t sum = 0;
  for (const auto& [key, sheet] : held_) sum += sheet.bytes();
  return sum;
}

}  // namespace dusk
