#include "core/project/history.h"

#include <algorithm>

namespace dusk {
namespace {

/// What a tree node of a map or set takes besides its value.
constexpr size_t node = 48;

size_t heap(const std::string& s) { return s.capacity() > 15 ? s.capacity() : 0; }
size_t heap(const AssetRef& ref) { return heap(ref.path) + heap(ref.hash); }
size_t heap(const std::set<std::string>& all) {
  size_t sum = 0;
  for (const std::string& s : all) sum += node + sizeof s + heap(s);
  return sum;
}
size_t heap(const std::map<std::string, std::string>& all) {
  size_t sum = 0;
  for (const auto& [key, value] : all) sum += node + 2 * sizeof key + heap(key) + heap(value);
  return sum;
}
template <typename T>
size_t heap(const std::vector<T>& all) {
  return all.capacity() * sizeof(T);
}
size_t heap(const Evidence& e) {
  size_t sum = heap(e.strokes) + heap(e.pins) + heap(e.lengths) + heap(e.levelLine);
  for (const Stroke& s : e.strokes) sum += heap(s.points) + heap(s.drawn);
  return sum;
}

size_t bytesOf(const Product& p) {
  return sizeof p + heap(p.name) + heap(p.model) + heap(p.surfaceOfPart) + heap(p.hiddenParts) +
         heap(p.names) + heap(p.groupOfPart) + p.moves.size() * (node + sizeof(PartMove) + 64) +
         heap(p.decals) + p.piece.measures.size() * (node + 48) +
         p.roles.size() * (node + sizeof(PartRole) + 64);
}
size_t bytesOf(const Surface& s) {
  size_t sum = sizeof s + heap(s.name);
  for (const auto& [value, feeds] : s.feeds) sum += node + heap(feeds);
  for (const Coat& coat : s.coats) sum += bytesOf(coat.surface) + heap(coat.mask) + sizeof(Coat);
  return sum;
}
size_t bytesOf(const Rig& r) { return sizeof r + heap(r.lamps) + heap(r.surroundings.panorama); }
size_t heap(const std::vector<Mask>& masks) {
  size_t sum = masks.capacity() * sizeof(Mask);
  for (const Mask& m : masks) sum += heap(m.points) + heap(m.parts);
  return sum;
}
size_t heap(const BlendRow& row) {
  size_t sum = heap(row.masks);
  for (const Correction& c : row.corrections)
    sum += sizeof c + c.values.size() * (node + 40) + heap(c.curve) + heap(c.file) + heap(c.masks);
  return sum;
}
size_t heap(const BlendSettings& b) {
  size_t sum = b.mix.size() * (node + sizeof(LightMix) + 32) + heap(b.grain.sigma) +
               heap(b.grain.correlation) + heap(b.blocks.brightness) + heap(b.blocks.colour) +
               heap(b.config.file);
  for (const auto& [name, row] : b.rows) sum += node + sizeof row + heap(name) + heap(row);
  for (const ExtraLayer& l : b.layers) sum += sizeof l + heap(l.file) + heap(l.row);
  for (const CutOut& c : b.cutOuts) {
    sum += sizeof c + heap(c.loop);
    for (const auto* lines : {&c.keeps, &c.leaves})
      for (const auto& line : *lines) sum += heap(line);
  }
  return sum;
}
size_t heap(const std::vector<CleanUp>& all) {
  size_t sum = 0;
  for (const CleanUp& c : all) sum += sizeof c + heap(c.name) + heap(c.loop);
  return sum;
}
size_t bytesOf(const Shot& s) {
  size_t sum = sizeof s + heap(s.plate) + heap(s.cleanUps) + heap(s.evidence) + heap(s.keptVantages) +
               s.cameras.size() * sizeof(KeptCamera) + heap(s.levels) + heap(s.placements) +
               heap(s.surroundings.panorama) + heap(s.lamps) + heap(s.heightReferences) + heap(s.standIns) +
               heap(s.deliverables) + heap(s.render.extraPasses) + heap(s.blend) + heap(s.frames) +
               heap(s.choice) + heap(s.handOver.title) + heap(s.handOver.creator) + heap(s.handOver.rights);
  for (const BlendSnapshot& k : s.snapshots) sum += sizeof k + heap(k.blend);
  for (const MotionTrack& t : s.motion.tracks) {
    sum += sizeof t + t.at.size();
    for (const MotionKey& k : t.keys) sum += sizeof k + k.to.size();
  }
  for (const KeptVantage& k : s.keptVantages) sum += heap(k.evidence);
  for (const Lamp& l : s.lamps) sum += heap(l.leavesOut) + heap(l.picture);
  return sum;
}

size_t bytesOf(const std::vector<VariantAxis>& axes) {
  size_t sum = 0;
  for (const VariantAxis& axis : axes)
    for (const VariantOption& option : axis.options) {
      sum += sizeof option + heap(option.name) + heap(option.changes);
      for (const VariantChange& change : option.changes) sum += heap(change.at) + heap(change.to);
    }
  return sum;
}

/// Each value as a shared piece: the one of `like` at its place, or anywhere there, where that is equal.
template <typename T>
std::vector<std::shared_ptr<const T>> sharedPieces(const std::vector<T>& values,
                                                   const std::vector<std::shared_ptr<const T>>* like) {
  std::vector<std::shared_ptr<const T>> pieces;
  pieces.reserve(values.size());
  for (size_t i = 0; i < values.size(); ++i) {
    if (like && i < like->size() && *(*like)[i] == values[i]) {
      pieces.push_back((*like)[i]);
      continue;
    }
    std::shared_ptr<const T> same;
    if (like)
      for (const auto& piece : *like)
        if (piece->id == values[i].id && *piece == values[i]) same = piece;
    pieces.push_back(same ? same : std::make_shared<const T>(values[i]));
  }
  return pieces;
}

template <typename T>
std::vector<T> values(const std::vector<std::shared_ptr<const T>>& pieces) {
  std::vector<T> all;
  all.reserve(pieces.size());
  for (const auto& piece : pieces) all.push_back(*piece);
  return all;
}

template <typename T>
size_t bytesBeside(const std::vector<std::shared_ptr<const T>>& pieces,
                   const std::vector<std::shared_ptr<const T>>* before) {
  size_t sum = pieces.size() * sizeof pieces[0];
  for (const auto& piece : pieces)
    if (!before || std::find(before->begin(), before->end(), piece) == before->end()) sum += bytesOf(*piece);
  return sum;
}

}  // namespace

History::Pieces History::taken(const Project& p, const Pieces* like) {
  std::pair variants(p.axes, p.excluded);
  const bool same = like && *like->variants == variants;
  return {p.name,
          sharedPieces(p.products, like ? &like->products : nullptr),
          sharedPieces(p.surfaces, like ? &like->surfaces : nullptr),
          sharedPieces(p.rigs, like ? &like->rigs : nullptr),
          sharedPieces(p.shots, like ? &like->shots : nullptr),
          same ? like->variants : std::make_shared<const decltype(variants)>(std::move(variants))};
}

Project History::assembled(const Pieces& p) {
  Project whole;
  whole.name = p.name;
  whole.products = values(p.products), whole.surfaces = values(p.surfaces), whole.rigs = values(p.rigs);
  whole.shots = values(p.shots), whole.axes = p.variants->first, whole.excluded = p.variants->second;
  return whole;
}

size_t History::bytesBeside(const Pieces& p, const Pieces* before) {
  return sizeof p + dusk::bytesBeside(p.products, before ? &before->products : nullptr) +
         dusk::bytesBeside(p.surfaces, before ? &before->surfaces : nullptr) +
         dusk::bytesBeside(p.rigs, before ? &before->rigs : nullptr) +
         dusk::bytesBeside(p.shots, before ? &before->shots : nullptr) +
         (before && before->variants == p.variants ? 0 : bytesOf(p.variants->first));
}

void History::measure(size_t step) {
  steps_[step].ownBytes = bytesBeside(steps_[step].pieces, step > 0 ? &steps_[step - 1].pieces : nullptr);
}

History::History(Project start, size_t limitBytes)
    : limit_(limitBytes), now_(std::make_shared<const Project>(std::move(start))), saved_(*now_) {
  steps_.push_back({taken(*now_, nullptr), {}, 0, 0});
  measure(0);
}

void History::become(Project project) {
  before_[nextBefore_++ % before_.size()] = std::move(now_);
  now_ = std::make_shared<const Project>(std::move(project));
}

void History::push(Project next, std::string what, int gesture) {
  if (next == now()) return;
  const bool joins = gesture != 0 && at_ > 0 && steps_[at_].gesture == gesture;
  steps_.resize(at_ + 1);
  become(std::move(next));
  if (!joins) {
    steps_.push_back({taken(now(), &steps_[at_].pieces), std::move(what), gesture, 0});
    measure(++at_);
    return forgetOldest();
  }
  // A drag that ends where it began is no step.
  if (now() == assembled(steps_[at_ - 1].pieces)) {
    steps_.pop_back();
    --at_;
    return;
  }
  steps_[at_].pieces = taken(now(), &steps_[at_ - 1].pieces);
  measure(at_);
}

void History::revert(int gesture) {
  if (gesture == 0 || at_ == 0 || steps_[at_].gesture != gesture) return;
  steps_.resize(at_);
  become(assembled(steps_[--at_].pieces));
}

void History::undo() {
  if (canUndo()) become(assembled(steps_[--at_].pieces));
}

void History::redo() {
  if (canRedo()) become(assembled(steps_[++at_].pieces));
}

void History::rewrite(const std::function<void(Project&)>& change) {
  for (size_t i = 0; i < steps_.size(); ++i) {
    Project project = assembled(steps_[i].pieces);
    change(project);
    steps_[i].pieces = taken(project, i > 0 ? &steps_[i - 1].pieces : nullptr);
    measure(i);
  }
  become(assembled(steps_[at_].pieces));
  change(saved_);
}

size_t History::bytes() const {
  size_t sum = 0;
  for (const Step& step : steps_) sum += step.ownBytes + sizeof step + heap(step.what);
  return sum;
}

void History::forgetOldest() {
  size_t sum = bytes();
  while (sum > limit_ && at_ > 0) {
    sum -= steps_.front().ownBytes + steps_[1].ownBytes + sizeof(Step);
    steps_.pop_front();
    --at_;
    measure(0);
    sum += steps_.front().ownBytes;
  }
}

}  // namespace dusk
