#pragma once
#include <memory>
#include <span>
#include <string>

#include "core/base/result.h"
#include "core/picture/packed.h"

namespace dusk {

/// How the code values (0..1) of an embedded profile become those of sRGB, by relative colorimetric intent.
class ProfileToSrgb {
 public:
  /// Error: the profile is damaged or not for RGB.
  static Result<ProfileToSrgb> of(std::span<const std::byte> profile);
  const std::string& name() const { return name_; }
  /// Whether it *is* sRGB: no 8-bit code moves by more than one.
  bool isSrgb() const { return !transform_; }
  /// R, G, B of so many pixels, in place; what sRGB cannot show lies outside 0..1. From any thread. Requires
  /// that it is not sRGB.
  void convert(float* rgb, size_t pixels) const;

 private:
  std::string name_;
  std::shared_ptr<void> transform_;
};

/// Converts `picture` (code values 0..1 in the embedded profile) to sRGB code values in 16 bits, by relative
/// colorimetric intent. A profile that *is* sRGB (no 8-bit code moves by more than one)
/// leaves every pixel untouched, so that such a photo comes out bit for bit. Returns the profile's name.
/// Error: the profile is damaged or not for RGB.
Result<std::string> convertToSrgb(PackedPicture& picture, std::span<const std::byte> profile);

/// Profiles to be embedded, the same bytes at every call: sRGB, or its primaries with light as it is.
std::span<const std::byte> srgbProfile();
std::span<const std::byte> linearProfile();

}  // namespace dusk
