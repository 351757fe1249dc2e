#include "core/picture/screen_profile.h"

#include "core/base/words.h"

#include <lcms2.h>
#include <tbb/parallel_for.h>

namespace dusk {
namespace {

using Profile = std::unique_ptr<void, cmsBool (*)(cmsHPROFILE)>;

}  // namespace

Result<std::shared_ptr<const ScreenProfile>> ScreenProfile::read(const std::filesystem::path& file) {
  const auto refused = [&](const std::string& why) {
    return Error{words("The screen profile ") + file.string() + words(" cannot be used: ") + why,
                 ErrorKind::unreadable};
  };
  std::error_code code;
  const auto size = std::filesystem::file_size(file, code);
  if (code) return refused(code.message() + ".");
  if (size > (uintmax_t{16} << 20)) return refused(words("it is larger than 16 MB."));
  const Profile profile(cmsOpenProfileFromFile(file.c_str(), "r"), cmsCloseProfile);
  if (!profile) return refused(words("it is no ICC profile."));
  if (cmsGetColorSpace(profile.get()) != cmsSigRgbData ||
      cmsGetDeviceClass(profile.get()) != cmsSigDisplayClass)
    return refused(words("it is not of an RGB screen."));
  const Profile srgb(cmsCreate_sRGBProfile(), cmsCloseProfile);
  std::shared_ptr<ScreenProfile> made(new ScreenProfile);
  made->transform_ =
      cmsCreateTransform(srgb.get(), TYPE_BGRA_8, profile.get(), TYPE_BGRA_8, INTENT_RELATIVE_COLORIMETRIC,
                         cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_COPY_ALPHA);
  if (!made->transform_) return refused(words("it lacks what turns colours into it."));
  return std::shared_ptr<const ScreenProfile>(std::move(made));
}

ScreenProfile::~ScreenProfile() {
  if (transform_) cmsDeleteTransform(transform_);
}

void ScreenProfile::apply(uint8_t* bgrx, int width, int height, size_t stride) const {
  tbb::parallel_for(tbb::blocked_range<int>(0, height, 16), [&](const tbb::blocked_range<int>& rows) {
    for (int y = rows.begin(); y < rows.end(); ++y)
      cmsDoTransform(transform_, bgrx + size_t(y) * stride, bgrx + size_t(y) * stride,
                     cmsUInt32Number(width));
  });
}

}  // namespace dusk
