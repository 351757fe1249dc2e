#pragma once
#include <chrono>
#include <vector>

#include "core/base/progress.h"

namespace dusk {

inline double secondsSince(std::chrono::steady_clock::time_point begun) {
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
}

/// What a band of a delivery asks for.
struct BandWork {
  double samples = 0;  ///< to trace
  double pixels = 0;   ///< to take the noise from, blend and write
};

/// How much of a delivery is done: what its bands will take, by what those before them took. Tracing and all
/// that comes after it go on at speeds of their own, which differ from machine to machine, from scene to
/// scene and with what is written. Times are seconds from any moment on.
class Pace {
 public:
  /// `perPixel`: what a pixel takes after it is traced, as long as none is done, in samples; `last`: what
  /// comes after all bands, in samples, too. Before them, `known` samples took `seconds`, and `before` of all
  /// was said to be done.
  Pace(std::vector<BandWork> bands, double perPixel, double last, double known, double seconds,
       double before);
  /// The part of the delivery that begins now: tracing a band, what comes after that, what comes after all.
  Progress::Part trace(size_t band, double now);
  Progress::Part finish(size_t band, double now);
  Progress::Part end(double now);

 private:
  enum class Phase { none, tracing, finishing };
  void measure(double now);
  Progress::Part next(double takes, double left);
  double perSample() const;
  double perPixel() const;
  double left(size_t band) const;

  std::vector<BandWork> bands_;
  double pixelInSamples_, last_;
  double sampled_, sampledSeconds_, pixels_ = 0, pixelSeconds_ = 0;
  double told_;  ///< of all
  Phase phase_ = Phase::none;
  size_t band_ = 0;
  double since_ = 0;
};

}  // namespace dusk
