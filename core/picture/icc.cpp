#include "core/picture/icc.h"

#include "core/base/words.h"

#include <lcms2.h>

#include <cstdlib>

namespace dusk {
namespace {

using Profile = std::unique_ptr<void, cmsBool (*)(cmsHPROFILE)>;
using Transform = std::unique_ptr<void, void (*)(cmsHTRANSFORM)>;

Transform makeTransform(cmsHPROFILE from, cmsHPROFILE to, cmsUInt32Number format) {
  return {cmsCreateTransform(from, format, to, format, INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE),
          cmsDeleteTransform};
}

bool agree(cmsHPROFILE profile, cmsHPROFILE srgb) {
  const Transform transform = makeTransform(profile, srgb, TYPE_RGB_8);
  if (!transform) return false;
  for (int r = 0; r < 256; r += 17)
    for (int g = 0; g < 256; g += 17)
      for (int b = 0; b < 256; b += 17) {
        const unsigned char in[3] = {(unsigned char)r, (unsigned char)g, (unsigned char)b};
        unsigned char out[3];
        cmsDoTransform(transform.get(), in, out, 1);
        for (int c = 0; c < 3; ++c)
          if (std::abs(in[c] - out[c]) > 1) return false;
      }
  return true;
}

std::vector<std::byte> bytesOf(const Profile& profile) {
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile.get(), nullptr, &size);
  std::vector<std::byte> bytes(size);
  cmsSaveProfileToMem(profile.get(), bytes.data(), &size);
  // The moment it was made (ISO 15076-1, 7.2.8) would make a file of each run another one.
  constexpr size_t dateAt = 24;
  constexpr unsigned char date[12] = {0x07, 0xea, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0};
  if (bytes.size() > dateAt + sizeof date)
    std::transform(date, date + sizeof date, bytes.begin() + dateAt,
                   [](unsigned char b) { return std::byte{b}; });
  return bytes;
}

}  // namespace

std::span<const std::byte> srgbProfile() {
  static const std::vector<std::byte> bytes = bytesOf(Profile(cmsCreate_sRGBProfile(), cmsCloseProfile));
  return bytes;
}

std::span<const std::byte> linearProfile() {
  static const std::vector<std::byte> bytes = [] {
    const cmsCIExyY d65{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.30, 0.60, 1}, {0.15, 0.06, 1}};
    cmsToneCurve* straight = cmsBuildGamma(nullptr, 1);
    cmsToneCurve* curves[3] = {straight, straight, straight};
    const Profile profile(cmsCreateRGBProfile(&d65, &primaries, curves), cmsCloseProfile);
    cmsFreeToneCurve(straight);
    return bytesOf(profile);
  }();
  return bytes;
}

Result<ProfileToSrgb> ProfileToSrgb::of(std::span<const std::byte> bytes) {
  const Profile profile(cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size())), cmsCloseProfile);
  if (!profile || cmsGetColorSpace(profile.get()) != cmsSigRgbData)
    return Error{words("The colour profile in this photo is damaged or not for RGB.")};
  char name[128] = "";
  cmsGetProfileInfoASCII(profile.get(), cmsInfoDescription, "en", "US", name, sizeof name);
  ProfileToSrgb out;
  out.name_ = name;
  const Profile srgb(cmsCreate_sRGBProfile(), cmsCloseProfile);
  if (agree(profile.get(), srgb.get())) return out;
  out.transform_ = makeTransform(profile.get(), srgb.get(), TYPE_RGB_FLT);
  if (!out.transform_) return Error{words("The colour profile in this photo cannot be used.")};
  return out;
}

void ProfileToSrgb::convert(float* rgb, size_t pixels) const {
  cmsDoTransform(transform_.get(), rgb, rgb, cmsUInt32Number(pixels));
}

Result<std::string> convertToSrgb(PackedPicture& picture, std::span<const std::byte> bytes) {
  const auto profile = ProfileToSrgb::of(bytes);
  if (!profile) return profile.error();
  if (!profile->isSrgb())
    picture = packed16(picture.width, picture.height, [&](int y, float* rgb) {
      picture.row(y, rgb);
      profile->convert(rgb, size_t(picture.width));
    });
  return profile->name();
}

}  // namespace dusk
