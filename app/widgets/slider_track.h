#pragma once
#include <optional>

namespace dusk {

/// Which value is where on a slider. Sliders are short, and most of what one wants lies near what is usual:
/// where that is well within the range, they go finely there, by the square of how far they are pulled.
struct SliderTrack {
  static constexpr int end = 1000;  ///< places are 0 to this
  double low, high;
  std::optional<double> usual{};

  double valueAt(int place) const;
  int placeOf(double value) const;

 private:
  /// The place of what is usual; nothing: even all along.
  std::optional<double> middle() const;
};

}  // namespace dusk
