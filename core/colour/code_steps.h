#pragma once
#include <cstdint>
#include <functional>
#include <vector>

namespace dusk {

/// The nearest of 256 codes for a value of 0 to 1.
uint8_t nearestCode(float value);

/// The lights at which a rising curve goes on to the next of 256 codes: finding a code by them is exact, and
/// many times quicker than working the curve out.
class CodeSteps {
 public:
  CodeSteps() = default;
  /// `curve` turns `count` colours (interleaved, all channels alike) into display values, in place.
  explicit CodeSteps(const std::function<void(float* rgb, size_t count)>& curve);
  bool known() const { return !from_.empty(); }
  /// Codes of a row, `step` bytes apart.
  void find(const float* light, int count, uint8_t* codes, int step) const;

 private:
  std::function<void(float*, size_t)> curve_;
  std::vector<float> from_;     ///< [code]: the smallest light that has it; one more at the end
  std::vector<uint8_t> first_;  ///< [bucket of floats]: the code of its smallest
};

}  // namespace dusk
