#include "app/preview/quick_blend.h"

#include "app/preview/beside.h"
#include "core/blend/changed_codes.h"
#include "core/trace/resized_passes.h"

namespace dusk {
namespace {

/// What a hand does not feel: two pictures of a screen.
constexpr double felt = 0.033;
/// Smaller pictures are there soon on any machine, and show what their pixels are made of.
constexpr size_t fewPixels = 600'000;
/// How many are there in time, whatever is pulled at.
constexpr double soon = 270'000;

template <typename T>
bool isSame(const std::weak_ptr<T>& a, const std::shared_ptr<T>& b) {
  return !a.owner_before(b) && !b.owner_before(a);
}

}  // namespace

QuickBlend::Of::Of(const BlendInput& input)
    : passes(input.passes), plate(input.plate), area(input.area), wholeWidth(input.wholeWidth) {}

bool QuickBlend::Of::is(const BlendInput& input) const {
  return isSame(passes, input.passes) && isSame(plate, input.plate) && area == input.area &&
         wholeWidth == input.wholeWidth;
}

void QuickBlend::fine(const QImage& picture, double seconds, const Shot& shot, const BlendInput& input) {
  const size_t pixels = size_t(picture.width()) * size_t(picture.height());
  dearest_ = pixels < fewPixels ? 1 : std::clamp(int(std::ceil(std::sqrt(double(pixels) / soon))), 2, 4);
  step_ = seconds < felt ? 1 : int(dearest_);
  const std::lock_guard lock(fineMutex_);
  fine_ = dearest_ > 1 ? std::make_shared<const Fine>(Fine{picture, shot, Of(input)}) : nullptr;
}

BlendInput QuickBlend::smaller(const BlendInput& input, int step) {
  const auto less = [step](int size) { return std::max(1, (size + step - 1) / step); };
  const int width = less(input.area.width()), height = less(input.area.height());
  if (smallerBy_ != step || !of_.is(input)) {
    of_ = Of(input), smallerBy_ = step, beforeOf_.reset();
    passes_ = std::make_shared<Passes>(resized(*input.passes, width, height));
    plate_ = input.plate ? std::make_shared<Picture>(resized(*input.plate, width, height)) : nullptr;
  }
  BlendInput small = input;
  small.passes = passes_, small.plate = plate_, small.shownPlate = nullptr;
  small.wholeWidth = less(input.wholeWidth), small.wholeHeight = less(input.wholeHeight);
  const int x0 = input.area.x0 / step, y0 = input.area.y0 / step;
  small.area = {x0, y0, x0 + width, y0 + height};
  return small;
}

QImage QuickBlend::before(const BlendInput& input, const ColourView& view, int step) {
  std::shared_ptr<const Fine> now;
  {
    const std::lock_guard lock(fineMutex_);
    now = fine_;
  }
  if (!now || !now->of.is(input)) return {};
  const BlendInput small = smaller(input, step);
  if (beforeOf_ != now)
    before_ = shownImage(stacks_.stackOf(now->shot, small), view, evaluator_), beforeOf_ = now;
  return before_;
}

std::optional<QImage> QuickBlend::image(const Shot& shot, const BlendInput& input, const ColourView& view,
                                        int step, const std::function<bool()>& outdated) {
  const std::lock_guard lock(mutex_);
  if (outdated()) return {};
  const QImage was = before(input, view, step),
               now = shownImage(stacks_.stackOf(shot, smaller(input, step)), view, evaluator_);
  // The fine one lacks what it would be made of by now: until the hand rests, it is not in time.
  step_ = step;
  if (!was.isNull()) {
    QImage changed(beforeOf_->picture.size(), QImage::Format_RGB32);
    changedCodes(codeView(beforeOf_->picture), codeView(was), codeView(now),
                 reinterpret_cast<uint32_t*>(changed.bits()), size_t(changed.bytesPerLine()) / 4);
    return changed;
  }
  return now.scaled(input.area.width(), input.area.height(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
      .convertToFormat(QImage::Format_RGB32);
}

}  // namespace dusk
