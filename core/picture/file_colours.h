#pragma once
#include <Imath/ImathMatrix.h>
#include <OpenImageIO/imageio.h>

#include <optional>

#include "core/picture/icc.h"

namespace dusk {

/// The ICC profile in a file of code values; empty where it has none.
std::span<const std::byte> embeddedProfile(const OIIO::ImageSpec& spec);

/// What colours a picture file is in, where they are not ours: code values by an embedded ICC profile, light
/// by primaries and white of its own (OpenEXR's "chromaticities").
class FileColours {
 public:
  /// A profile that cannot be used counts as none.
  explicit FileColours(const OIIO::ImageSpec& spec);
  bool areOurs() const { return !profile_ && !matrix_; }
  /// Makes R, G, B of so many pixels ours, in place: code values of sRGB, or light of Rec. 709.
  void toOurs(float* rgb, size_t pixels) const;

 private:
  std::optional<ProfileToSrgb> profile_;
  std::optional<Imath::M44f> matrix_;
};

}  // namespace dusk
