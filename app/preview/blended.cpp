#include "app/preview/blended.h"

#include <QElapsedTimer>

namespace dusk {

namespace {

/// What is not taken turns grey and dark, so that what is stands out in its own colours.
QImage greyedOut(QImage image, const Sheet& taken) {
  uchar* const bits = image.bits();
  for (int y = 0; y < image.height(); ++y) {
    auto* line = reinterpret_cast<QRgb*>(bits + size_t(y) * size_t(image.bytesPerLine()));
    const float* share = taken.row(0, taken.area.y0 + y);
    for (int x = 0; x < image.width(); ++x) {
      const QRgb c = line[x];
      const float t = std::clamp(share[x], 0.0f, 1.0f), grey = (1 - t) * (12 + 0.35f * float(qGray(c)));
      const auto mixed = [&](int code) { return int(t * float(code) + grey + 0.5f); };
      line[x] = qRgb(mixed(qRed(c)), mixed(qGreen(c)), mixed(qBlue(c)));
    }
  }
  return image;
}

}  // namespace

Stack StackMaker::stackOf(const Shot& shot, const BlendInput& input, const std::optional<ShownShare>& share) {
  if (assets_.lock() != input.assets) {
    assets_ = input.assets;
    cutOuts_ = std::make_unique<CutOutStore>(*input.assets);
  }
  BlendSources sources;
  sources.passes = input.passes, sources.plate = input.plate, sources.shownPlate = input.shownPlate;
  sources.width = input.wholeWidth, sources.height = input.wholeHeight, sources.area = input.area;
  sources.assets = input.assets.get(), sources.cutOuts = cutOuts_.get();
  if (input.plate)
    if (const auto photo = input.assets->photo(shot)) sources.plateWidth = (*photo)->picture.width;
  if (input.scene) tellOfScene(sources, *input.scene, shot);
  if (share && share->cutOut.empty())
    sources.masks = &masksAt(rowNamed(shot.blend, share->masks.row), share->masks.correction);
  if (share) sources.cutOut = share->cutOut;
  return buildStack(shot, sources);
}

QImage shownImage(Stack stack, const ColourView& view, Evaluator& evaluator) {
  stack.shownPlate = nullptr;  // it is what the view makes of the plate: that need not be looked up
  QImage image(stack.light->whole.width(), stack.light->whole.height(), QImage::Format_RGB32);
  uchar* const bits = image.bits();  // asked for once: it may detach
  const auto stride = size_t(image.bytesPerLine());
  codes8Of(stack, view, evaluator, [&](int y, int x, int count, const uint8_t* rgb) {
    auto* line = reinterpret_cast<QRgb*>(bits + size_t(y) * stride) + x;
    for (int i = 0; i < count; ++i) line[i] = qRgb(rgb[i * 3], rgb[i * 3 + 1], rgb[i * 3 + 2]);
  });
  return image;
}

std::optional<Blended::Image> Blended::image(State state, const Shot& shot, const BlendInput& input,
                                             const ColourView& view, const std::optional<ShownShare>& share,
                                             std::vector<std::string>& notes,
                                             const std::function<bool()>& outdated) {
  const std::lock_guard lock(mutex_);
  if (outdated()) return {};
  QElapsedTimer clock;
  clock.start();
  const Stack stack = stacks_.stackOf(shot, input, share);
  notes.insert(notes.end(), stack.notes.begin(), stack.notes.end());
  Image image{shownImage(stack, view, evaluators_[size_t(state)]), {}};
  if (stack.taken) image.plain = greyedOut(image.picture, shares_.sheet(stack.taken, stack.light->whole));
  image.seconds = double(clock.nsecsElapsed()) * 1e-9;
  return image;
}

Picture Blended::codes(const Shot& shot, const BlendInput& input, const ColourView& view) {
  const std::lock_guard lock(mutex_);
  Evaluator once;
  return codesOf(stacks_.stackOf(shot, input), view, once);
}

}  // namespace dusk
