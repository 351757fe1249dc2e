#include "core/deliver/versions.h"

#include <OpenColorIO/OpenColorIO.h>
#include <OpenEXR/OpenEXRConfig.h>
#include <OpenImageIO/imageio.h>
#include <ceres/version.h>
#include <curl/curl.h>
#include <embree3/rtcore.h>
#include <lcms2.h>
#include <oneapi/tbb/version.h>
#include <opencv2/core/version.hpp>
extern "C" {
#include <libavcodec/avcodec.h>
}

#include "core/base/installed.h"

namespace dusk {
namespace {

/// Major, minor and patch of libraries that tell them as one number, each in so many parts of it.
std::string parted(unsigned number, unsigned base) {
  return std::to_string(number / (base * base)) + "." + std::to_string(number / base % base) + "." +
         std::to_string(number % base);
}

}  // namespace

std::vector<std::pair<std::string, std::string>> libraries() {
  return {{"Embree", RTC_VERSION_STRING},
          {"oneTBB", TBB_runtime_version()},
          {"OpenImageIO", parted(unsigned(OIIO::openimageio_version()), 100)},
          {"OpenEXR", OPENEXR_VERSION_STRING},
          {"OpenColorIO", OCIO_NAMESPACE::GetVersion()},
          {"Little CMS", std::to_string(cmsGetEncodedCMMversion() / 1000) + "." +
                             std::to_string(cmsGetEncodedCMMversion() % 1000 / 10)},
          {"Ceres Solver", CERES_VERSION_STRING},
          {"OpenCV", CV_VERSION},
          {"FFmpeg's libavcodec", parted(avcodec_version(), 256)},
          {"libcurl", curl_version_info(CURLVERSION_NOW)->version}};
}

std::string versions() {
  std::string text = programTitle();
  for (const auto& [name, version] : libraries()) text += "\n  " + name + " " + version;
  return text;
}

}  // namespace dusk
