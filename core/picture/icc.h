#pragma once
#include <span>

#include "core/base/result.h"
#include "core/picture/packed.h"

namespace dusk {

/// Converts `picture` (code values 0..1 in the embedded profile) to sRGB code values in 16 bits, by relative
/// colorimetric intent. A profile that *is* sRGB (no 8-bit code moves by more than one)
/// leaves every pixel untouched, so that such a photo comes out bit for bit. Returns the profile's name.
/// Error: the profile is damaged or not for RGB.
Result<std::string> convertToSrgb(PackedPicture& picture, std::span<const std::byte> profile);

/// Profiles to be embedded, the same bytes at every call: sRGB, or its primaries with light as it is.
std::span<const std::byte> srgbProfile();
std::span<const std::byte> linearProfile();

}  // namespace dusk
