#include "core/picture/formats.h"

#include <OpenImageIO/imageio.h>

#include <algorithm>

namespace dusk {
namespace {

/// Those of `wanted` that the library was built to read.
std::vector<std::string> readable(const std::vector<std::string>& wanted) {
  // "tiff:tif,tiff,tx;jpeg:jpg,..."
  std::string all = OIIO::get_string_attribute("extension_list");
  std::replace_if(
      all.begin(), all.end(), [](char c) { return c == ':' || c == ';'; }, ',');
  all = "," + all + ",";
  std::vector<std::string> endings;
  for (const std::string& ending : wanted)
    if (all.find("," + ending + ",") != std::string::npos) endings.push_back("." + ending);
  return endings;
}

bool endsWithOne(const std::filesystem::path& file, const std::vector<std::string>& endings) {
  std::string ending = file.extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(),
                 [](unsigned char c) { return std::tolower(c); });
  return std::find(endings.begin(), endings.end(), ending) != endings.end();
}

}  // namespace

const std::vector<std::string>& photoEndings() {
  static const auto all =
      readable({"jpg", "jpeg", "png", "tif", "tiff", "exr", "webp", "heic", "heif", "avif",
                "dng", "nef",  "cr2", "cr3", "arw",  "raf", "orf",  "rw2",  "pef",  "srw"});
  return all;
}

const std::vector<std::string>& lightEndings() {
  static const auto all = readable({"exr", "hdr", "tif", "tiff", "jpg", "jpeg", "png", "webp"});
  return all;
}

bool isPhotoFile(const std::filesystem::path& file) { return endsWithOne(file, photoEndings()); }
bool isLightFile(const std::filesystem::path& file) { return endsWithOne(file, lightEndings()); }

}  // namespace dusk
