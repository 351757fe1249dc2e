#include "core/deliver/band_blend.h"

namespace dusk {
namespace {

void appendRows(Picture& to, const Picture& more, int rowsBefore, int rows) {
  if (more.empty() && to.empty()) return;
  if (to.empty()) {
    // Gloss may begin in this band: above, it is nothing.
    to.width = more.width, to.channels = more.channels;
    to.pixels.assign(size_t(rowsBefore) * size_t(to.width) * to.channels.size(), 0.0f);
  }
  to.pixels.resize(size_t(rowsBefore) * size_t(to.width) * to.channels.size());
  to.pixels.insert(to.pixels.end(), more.pixels.begin(), more.pixels.end());
  to.height = rowsBefore + rows;
  to.pixels.resize(size_t(to.height) * size_t(to.width) * to.channels.size());
}

void dropRows(Picture& p, int rows) {
  if (p.empty()) return;
  p.pixels.erase(p.pixels.begin(),
                 p.pixels.begin() + long(size_t(rows) * size_t(p.width) * p.channels.size()));
  p.height -= rows;
}

/// What the blend looks at of passes that hold everything.
std::vector<Picture*> picturesOf(Passes& p) {
  std::vector<Picture*> all{&p.beauty, &p.alpha, &p.ratio, &p.reflection, &p.depth, &p.facing};
  for (GroupPasses& g : p.groups) {
    for (Picture& part : g.part) all.push_back(&part);
    for (Picture* one : {&g.with, &g.without, &g.mirror}) all.push_back(one);
  }
  return all;
}

}  // namespace

BandBlend::BandBlend(const Shot& shot, BlendSources common, std::shared_ptr<const ColourView> view,
                     std::vector<BlendLook> looks)
    : shot_(shot), common_(std::move(common)), view_(std::move(view)), looks_(std::move(looks)) {
  if (common_.area.height() <= 0) common_.area = {0, 0, common_.width, common_.height};
  first_ = end_ = finished_ = common_.area.y0;
}

FinishedRows BandBlend::rowsOf(const BlendLook& look, BlendSources sources, int from, int to) {
  FinishedRows rows;
  rows.area = {look.area.x0, std::max(from, look.area.y0), look.area.x1, std::min(to, look.area.y1)};
  if (rows.area.height() <= 0) {
    rows.area = {};
    return rows;
  }
  sources.crop = look.area;
  Stack stack = buildStack(shot_, sources);
  for (const std::string& note : stack.notes)
    if (std::find(notes_.begin(), notes_.end(), note) == notes_.end()) notes_.push_back(note);
  Evaluator evaluator;
  const bool apart = look.layered || look.staged;
  if (look.light || apart) rows.light = lightOf(stack, rows.area, evaluator);
  if (look.codes || apart) rows.codes = codesOf(stack, rows.area, *view_, evaluator);
  if (apart) {
    Stack cover;
    cover.light = stack.cover;
    rows.cover = stack.cover ? lightOf(cover, rows.area, evaluator)
                             : Picture::rgb(rows.area.width(), rows.area.height());
  }
  if (look.layered) {
    sources.withoutProduct = true;
    const Stack below = buildStack(shot_, sources);
    rows.belowLight = lightOf(below, rows.area, evaluator);
    rows.belowCodes = codesOf(below, rows.area, *view_, evaluator);
  }
  if (look.staged) {
    stageNames_.clear();
    for (const Stack::Stage& stage : stack.stages) {
      stageNames_.push_back(stage.name);
      stack.light = stage.light;
      rows.stages.push_back(codesOf(stack, rows.area, *view_, evaluator));
      rows.stageLight.push_back(lightOf(stack, rows.area, evaluator));
    }
  }
  return rows;
}

std::vector<FinishedRows> BandBlend::finish(const BlendSources& sources) {
  const Stack stack = buildStack(shot_, sources);
  const PixelArea& all = common_.area;
  const int have = sources.area.y1;
  const auto neededFor = [&](int row) { return neededOf(stack.light, {all.x0, row, all.x1, row + 1}, all); };
  // The last row of which nothing is missing.
  int to = have;
  while (to > finished_ && have < all.y1 && neededFor(to - 1).y1 > have) --to;
  std::vector<FinishedRows> rows;
  for (const BlendLook& look : looks_) rows.push_back(rowsOf(look, sources, finished_, to));
  finished_ = std::max(finished_, to);
  dropAbove(neededFor(std::min(to, all.y1 - 1)).y0);
  return rows;
}

std::vector<FinishedRows> BandBlend::add(std::shared_ptr<const Passes> passes, Picture plate,
                                         Picture shownPlate) {
  BlendSources sources = common_;
  if (passes->height() == common_.area.height()) {
    sources.passes = std::move(passes);
    if (!plate.empty()) sources.plate = std::make_shared<Picture>(std::move(plate));
    if (!shownPlate.empty()) sources.shownPlate = std::make_shared<Picture>(std::move(shownPlate));
    return finish(sources);
  }
  append(*passes, plate, shownPlate);
  const auto borrowed = [](const auto& value) {
    return std::shared_ptr<const std::decay_t<decltype(value)>>(std::shared_ptr<void>(), &value);
  };
  sources.area.y0 = first_, sources.area.y1 = end_;
  sources.passes = borrowed(kept_);
  if (!plate_.empty()) sources.plate = borrowed(plate_), sources.shownPlate = borrowed(shown_);
  return finish(sources);
}

void BandBlend::append(const Passes& passes, const Picture& plate, const Picture& shownPlate) {
  const int before = end_ - first_, rows = passes.height();
  if (kept_.groups.empty()) {
    kept_.groups.resize(passes.groups.size());
    for (size_t g = 0; g < passes.groups.size(); ++g) kept_.groups[g].name = passes.groups[g].name;
  }
  const std::vector<Picture*> to = picturesOf(kept_);
  const std::vector<Picture*> from = picturesOf(const_cast<Passes&>(passes));
  for (size_t i = 0; i < to.size(); ++i) appendRows(*to[i], *from[i], before, rows);
  appendRows(plate_, plate, before, rows), appendRows(shown_, shownPlate, before, rows);
  kept_.covers.insert(kept_.covers.end(), passes.covers.begin(), passes.covers.end());
  end_ += rows;
}

void BandBlend::dropAbove(int row) {
  const int rows = std::clamp(row - first_, 0, end_ - first_);
  if (rows == 0 || kept_.beauty.empty()) return;
  for (Picture* p : picturesOf(kept_)) dropRows(*p, rows);
  dropRows(plate_, rows), dropRows(shown_, rows);
  if (!kept_.covers.empty())
    kept_.covers.erase(kept_.covers.begin(), kept_.covers.begin() + long(rows) * common_.area.width());
  first_ += rows;
}

}  // namespace dusk
