#pragma once
#include <cstdint>
#include <filesystem>
#include <memory>

#include "core/base/result.h"

namespace dusk {

/// An ICC profile of a screen: sRGB codes become the codes by which that screen shows the same colours, by
/// relative colorimetric intent with black point compensation. Immutable; safe to use from many threads.
class ScreenProfile {
 public:
  /// Errors: no file, larger than 16 MB, no profile, or not of an RGB screen.
  static Result<std::shared_ptr<const ScreenProfile>> read(const std::filesystem::path& file);
  /// In place, rows of `width` pixels of blue, green, red and a fourth byte that stays, `stride` bytes apart.
  void apply(uint8_t* bgrx, int width, int height, size_t stride) const;

  ~ScreenProfile();
  ScreenProfile(const ScreenProfile&) = delete;
  ScreenProfile& operator=(const ScreenProfile&) = delete;

 private:
  ScreenProfile() = default;
  void* transform_ = nullptr;
};

}  // namespace dusk
