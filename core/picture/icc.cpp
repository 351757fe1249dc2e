#include "core/picture/icc.h"

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

bool isSrgb(cmsHPROFILE profile, cmsHPROFILE srgb) {
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

}  // namespace

Result<std::string> convertToSrgb(PackedPicture& picture, std::span<const std::byte> bytes) {
  const Profile profile(cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size())), cmsCloseProfile);
  if (!profile || cmsGetColorSpace(profile.get()) != cmsSigRgbData)
    return Error{"The colour profile in this photo is damaged or not for RGB."};
  char name[128] = "";
  cmsGetProfileInfoASCII(profile.get(), cmsInfoDescription, "en", "US", name, sizeof name);
  const Profile srgb(cmsCreate_sRGBProfile(), cmsCloseProfile);
  if (isSrgb(profile.get(), srgb.get())) return std::string(name);
  const Transform transform = makeTransform(profile.get(), srgb.get(), TYPE_RGB_FLT);
  if (!transform) return Error{"The colour profile in this photo cannot be used."};
  picture = packed16(picture.width, picture.height, [&](int y, float* rgb) {
    picture.row(y, rgb);
    cmsDoTransform(transform.get(), rgb, rgb, cmsUInt32Number(picture.width));
  });
  return std::string(name);
}

}  // namespace dusk
