#include "core/deliver/pace.h"

#include <algorithm>

namespace dusk {

Pace::Pace(std::vector<BandWork> bands, double perPixel, double last, double known, double seconds,
           double before)
    : bands_(std::move(bands)),
      pixelInSamples_(perPixel),
      last_(last),
      sampled_(known),
      sampledSeconds_(seconds),
      told_(before) {}

double Pace::perSample() const {
  return sampled_ > 0 && sampledSeconds_ > 0 ? sampledSeconds_ / sampled_ : 1;
}

double Pace::perPixel() const {
  return pixels_ > 0 && pixelSeconds_ > 0 ? pixelSeconds_ / pixels_ : pixelInSamples_ * perSample();
}

/// Seconds that a band and all after it take.
double Pace::left(size_t band) const {
  double sum = last_ * perSample();
  for (size_t i = band; i < bands_.size(); ++i)
    sum += bands_[i].samples * perSample() + bands_[i].pixels * perPixel();
  return sum;
}

void Pace::measure(double now) {
  const double took = now - since_;
  since_ = now;
  if (phase_ == Phase::tracing) sampled_ += bands_[band_].samples, sampledSeconds_ += took;
  if (phase_ == Phase::finishing) pixels_ += bands_[band_].pixels, pixelSeconds_ += took;
}

/// A part of what is not yet told as done: it never goes back, however wrong the first guess was.
Progress::Part Pace::next(double takes, double left) {
  const double from = told_;
  told_ += (1 - told_) * std::clamp(takes / std::max(left, 1e-12), 0.0, 1.0);
  return {from, told_};
}

Progress::Part Pace::trace(size_t band, double now) {
  measure(now);
  phase_ = Phase::tracing, band_ = band;
  return next(bands_[band].samples * perSample(), left(band));
}

Progress::Part Pace::finish(size_t band, double now) {
  measure(now);
  phase_ = Phase::finishing, band_ = band;
  const double takes = bands_[band].pixels * perPixel();
  return next(takes, takes + left(band + 1));
}

Progress::Part Pace::end(double now) {
  measure(now);
  phase_ = Phase::none;
  return next(1, 1);
}

}  // namespace dusk
