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

bool isOfSame(const BlendInput& a, const BlendInput& b) {
  return a.passes == b.passes && a.plate == b.plate && a.scene == b.scene && a.area == b.area &&
         a.wholeWidth == b.wholeWidth;
}

}  // namespace

void QuickBlend::fine(const QImage& picture, double seconds, const Shot& shot, const BlendInput& input) {
  const size_t pixels = size_t(picture.width()) * size_t(picture.height());
  dearest_ = pixels < fewPixels ? 1 : std::clamp(int(std::ceil(std::sqrt(double(pixels) / soon))), 2, 4);
  step_ = seconds < felt ? 1 : int(dearest_);
  const std::lock_guard lock(fineMutex_);
  fine_ = dearest_ > 1 ? std::make_shared<const Fine>(Fine{picture, shot, input}) : nullptr;
}

const BlendInput& QuickBlend::smaller(const BlendInput& input, int step) {
  if (smallerBy_ == step && isOfSame(of_, input)) return small_;
  of_ = small_ = input, smallerBy_ = step, beforeOf_.reset();
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

const QImage& QuickBlend::before(const BlendInput& input, const ColourView& view, int step) {
  static const QImage none;
  std::shared_ptr<const Fine> now;
  {
    const std::lock_guard lock(fineMutex_);
    now = fine_;
  }
  if (!now || !isOfSame(now->input, input)) return none;
  const BlendInput& small = smaller(input, step);
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
