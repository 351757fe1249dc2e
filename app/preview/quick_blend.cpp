#include "app/preview/quick_blend.h"

#include "core/trace/resized_passes.h"

namespace dusk {
namespace {

/// What a hand does not feel: two pictures of a screen.
constexpr double felt = 0.033;
/// Smaller pictures are there soon on any machine, and show what their pixels are made of.
constexpr size_t fewPixels = 600'000;
/// How many are there in time, whatever is pulled at.
constexpr double soon = 270'000;

}  // namespace

void QuickBlend::took(double seconds, size_t pixels) {
  dearest_ = pixels < fewPixels ? 1 : std::clamp(int(std::ceil(std::sqrt(pixels / soon))), 2, 4);
  step_ = seconds < felt ? 1 : int(dearest_);
}

const BlendInput& QuickBlend::smaller(const BlendInput& input, int step) {
  if (smallerBy_ == step && of_.passes == input.passes && of_.plate == input.plate &&
      of_.area == input.area && of_.scene == input.scene && of_.wholeWidth == input.wholeWidth)
    return small_;
  of_ = small_ = input, smallerBy_ = step;
  const auto less = [step](int size) { return std::max(1, (size + step - 1) / step); };
  const int width = less(input.area.width()), height = less(input.area.height());
  Passes seen = *input.passes;  // without what no blend looks at
  seen.albedo = seen.normal = seen.position = seen.occlusion = {};
  small_.passes = std::make_shared<Passes>(resized(seen, width, height));
  if (input.plate) small_.plate = std::make_shared<Picture>(resized(*input.plate, width, height));
  small_.shownPlate = nullptr;
  small_.wholeWidth = less(input.wholeWidth), small_.wholeHeight = less(input.wholeHeight);
  small_.area = {input.area.x0 / step, input.area.y0 / step, input.area.x0 / step + width,
                 input.area.y0 / step + height};
  return small_;
}

std::optional<QImage> QuickBlend::image(const Shot& shot, const BlendInput& input, const ColourView& view,
                                        int step, const std::function<bool()>& outdated) {
  const std::lock_guard lock(mutex_);
  if (outdated()) return {};
  const BlendInput& small = smaller(input, step);
  const QImage image = shownImage(stacks_.stackOf(shot, small), view, evaluator_);
  // The fine one lacks what it would be made of by now: until the hand rests, it is not in time.
  step_ = step;
  return image
      .scaled(input.area.width(), input.area.height(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
      .convertToFormat(QImage::Format_RGB32);
}

}  // namespace dusk
