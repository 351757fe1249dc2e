#pragma once
#include <atomic>
#include <chrono>

namespace dusk {

/// Progress of, and the wish to end, one long piece of work. Every member may be called from any thread.
class Progress {
 public:
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }

  /// The clock of `secondsLeft` starts now: the work waited until here.
  void begin() { begun_.store(std::chrono::steady_clock::now(), std::memory_order_relaxed); }

  /// `fraction` in [0, 1], of all the work or of the part of it that was said last.
  void report(double fraction) {
    const double from = from_.load(std::memory_order_relaxed), to = to_.load(std::memory_order_relaxed);
    fraction_.store(from + (to - from) * fraction, std::memory_order_relaxed);
  }
  /// What is reported from now on is of the part [from, to] of all the work.
  void reportWithin(double from, double to) {
    from_.store(from, std::memory_order_relaxed), to_.store(to, std::memory_order_relaxed);
  }
  /// The part that reports are of.
  struct Part {
    double from = 0, to = 1;
    /// A part of this part.
    Part within(double first, double end) const {
      return {from + (to - from) * first, from + (to - from) * end};
    }
  };
  Part part() const { return {from_.load(std::memory_order_relaxed), to_.load(std::memory_order_relaxed)}; }
  void reportWithin(const Part& part) { reportWithin(part.from, part.to); }
  double fraction() const { return fraction_.load(std::memory_order_relaxed); }

  /// Seconds left at the speed so far; negative while nothing is known.
  double secondsLeft() const {
    const double part = fraction();
    if (part <= 0.0) return -1.0;
    const std::chrono::duration<double> spent =
        std::chrono::steady_clock::now() - begun_.load(std::memory_order_relaxed);
    return spent.count() * (1.0 - part) / part;
  }

 private:
  std::atomic<bool> cancelled_{false};
  std::atomic<double> fraction_{0.0}, from_{0.0}, to_{1.0};
  std::atomic<std::chrono::steady_clock::time_point> begun_{std::chrono::steady_clock::now()};
};

}  // namespace dusk
