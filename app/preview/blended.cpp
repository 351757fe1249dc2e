#include "app/preview/blended.h"

namespace dusk {

Stack Blended::stackOf(const Shot& shot, const BlendInput& input) {
  if (assets_ != input.assets) {
    assets_ = input.assets;
    cutOuts_ = std::make_unique<CutOutStore>(*assets_);
  }
  BlendSources sources;
  sources.passes = input.passes, sources.plate = input.plate, sources.shownPlate = input.shownPlate;
  sources.width = input.wholeWidth, sources.height = input.wholeHeight, sources.area = input.area;
  sources.assets = assets_.get(), sources.cutOuts = cutOuts_.get();
  if (input.plate)
    if (const auto photo = assets_->photo(shot)) sources.plateWidth = (*photo)->picture.width;
  if (input.scene) tellOfScene(sources, *input.scene, shot);
  return buildStack(shot, sources);
}

std::optional<QImage> Blended::image(State state, const Shot& shot, const BlendInput& input,
                                     const ColourView& view, std::vector<std::string>& notes,
                                     const std::function<bool()>& outdated) {
  const std::lock_guard lock(mutex_);
  if (outdated()) return {};
  Stack stack = stackOf(shot, input);
  stack.shownPlate = nullptr;  // it is what the view makes of the plate: that need not be looked up
  notes.insert(notes.end(), stack.notes.begin(), stack.notes.end());
  QImage image(stack.light->whole.width(), stack.light->whole.height(), QImage::Format_RGB32);
  uchar* const bits = image.bits();  // asked for once: it may detach
  const auto stride = size_t(image.bytesPerLine());
  codes8Of(stack, view, evaluators_[size_t(state)], [&](int y, int x, int count, const uint8_t* rgb) {
    auto* line = reinterpret_cast<QRgb*>(bits + size_t(y) * stride) + x;
    for (int i = 0; i < count; ++i) line[i] = qRgb(rgb[i * 3], rgb[i * 3 + 1], rgb[i * 3 + 2]);
  });
  return image;
}

Picture Blended::codes(const Shot& shot, const BlendInput& input, const ColourView& view) {
  const std::lock_guard lock(mutex_);
  Evaluator once;
  return codesOf(stackOf(shot, input), view, once);
}

}  // namespace dusk
