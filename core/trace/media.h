#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "core/surface/parameters.h"

namespace dusk {

/// A body that light can be in: a glass, what is in it, a bubble in that.
struct Medium {
  uint64_t part = 0;  ///< whose body it is
  float ior = 1, abbe = 0, forward = 0;
  int priority = 0;
  Rgb absorption{0, 0, 0}, scattering{0, 0, 0};  ///< per metre
  bool scatters() const { return maxComponent(scattering) > 0; }
  Rgb extinction() const { return absorption + scattering; }
  /// Index of refraction at a wavelength in nm (0: in the middle), by Cauchy's law through the Fraunhofer
  /// lines that the Abbe number is defined by.
  float iorAt(float nm) const {
    if (nm <= 0 || abbe <= 0) return ior;
    return std::max(1.0f, ior + (ior - 1) / abbe * (523655.0f / (nm * nm) - 1.5168f));
  }
};

inline Rgb exponential(const Rgb& c) { return {std::exp(c.x), std::exp(c.y), std::exp(c.z)}; }

/// The bodies a path is in. Where several overlap, the one of the highest priority is there, and among equals
/// the one entered last (Schmidt & Budge 2002, "Simple Nested Dielectrics in Ray Traced Images").
class Media {
 public:
  Media() = default;
  Media(const Media& other) : count_(other.count_) {
    std::copy_n(other.list_.begin(), count_, list_.begin());
  }
  Media& operator=(const Media& other) {
    count_ = other.count_;
    std::copy_n(other.list_.begin(), count_, list_.begin());
    return *this;
  }

  /// The one that is there; nullptr in the air.
  const Medium* now() const { return nowWithout(none); }
  bool holds(uint64_t part) const {
    return std::any_of(list_.begin(), list_.begin() + count_,
                       [&](const Medium& m) { return m.part == part; });
  }
  /// Deeper than so many, the outermost is forgotten.
  void enter(const Medium& body) {
    leave(body.part);
    if (count_ == int(list_.size())) std::copy(list_.begin() + 1, list_.end(), list_.begin()), --count_;
    list_[size_t(count_++)] = body;
  }
  void leave(uint64_t part) {
    const auto end = std::remove_if(list_.begin(), list_.begin() + count_,
                                    [&](const Medium& m) { return m.part == part; });
    count_ = int(end - list_.begin());
  }

  /// What light meets at the skin of a body: nothing, where another body goes on through it.
  struct Boundary {
    bool real = true;
    float eta = 1;  ///< index on this side over index beyond
  };
  Boundary meets(const Medium& body, bool entering, float nm = 0) const {
    const Medium* here = now();
    if (entering)
      return {!here || here->priority <= body.priority, (here ? here->iorAt(nm) : 1.0f) / body.iorAt(nm)};
    const Medium* beyond = nowWithout(body.part);
    return {!here || here->part == body.part, body.iorAt(nm) / (beyond ? beyond->iorAt(nm) : 1.0f)};
  }
  /// Light that goes `distance` on without meeting anything (Beer and Lambert).
  Rgb transmittance(float distance) const {
    const Medium* here = now();
    return here ? exponential(here->extinction() * -distance) : Rgb(1);
  }

 private:
  static constexpr uint64_t none = ~uint64_t(0);
  const Medium* nowWithout(uint64_t part) const {
    const Medium* best = nullptr;
    for (int i = 0; i < count_; ++i) {
      const Medium& m = list_[size_t(i)];
      if (m.part != part && (!best || m.priority >= best->priority)) best = &m;
    }
    return best;
  }
  std::array<Medium, 6> list_;
  int count_ = 0;
};

}  // namespace dusk
