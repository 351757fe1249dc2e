#include "core/product/read_stated_unit.h"

#include <assimp/scene.h>
#include <zip.h>

#include <algorithm>
#include <cmath>
#include <memory>
#include <regex>

#include "core/base/words.h"

namespace dusk {
namespace {

struct Unit {
  double metres;
  const char* in3mf;
  const char *fbxSays, *threeMfSays;
};
constexpr Unit units[] = {{1e-6, "micron", marked("FBX says micron"), marked("3MF says micron")},
                          {0.001, "millimeter", marked("FBX says millimetre"), marked("3MF says millimetre")},
                          {0.01, "centimeter", marked("FBX says centimetre"), marked("3MF says centimetre")},
                          {1, "meter", marked("FBX says metre"), marked("3MF says metre")},
                          {0.0254, "inch", marked("FBX says inch"), marked("3MF says inch")},
                          {0.3048, "foot", marked("FBX says foot"), marked("3MF says foot")}};

/// The beginning of the first model in the package.
std::string beginOfModel(const std::filesystem::path& file) {
  int trouble = 0;
  const std::unique_ptr<zip_t, int (*)(zip_t*)> archive(zip_open(file.c_str(), ZIP_RDONLY, &trouble),
                                                        zip_close);
  if (!archive) return {};
  const zip_int64_t entries = zip_get_num_entries(archive.get(), 0);
  for (zip_int64_t i = 0; i < std::min<zip_int64_t>(entries, 10'000); ++i) {
    const char* name = zip_get_name(archive.get(), zip_uint64_t(i), 0);
    if (!name || !std::string_view(name).ends_with(".model")) continue;
    const std::unique_ptr<zip_file_t, int (*)(zip_file_t*)> in(
        zip_fopen_index(archive.get(), zip_uint64_t(i), 0), zip_fclose);
    if (!in) continue;
    std::string text(4096, '\0');
    text.resize(size_t(std::max<zip_int64_t>(0, zip_fread(in.get(), text.data(), text.size()))));
    return text;
  }
  return {};
}

}  // namespace

std::optional<StatedUnit> unitOfFbx(const aiScene& scene) {
  float centimetres = 0;
  if (!scene.mMetaData || !scene.mMetaData->Get("UnitScaleFactor", centimetres) ||
      !(centimetres > 1e-6f && centimetres < 1e6f))
    return {};
  const double metres = double(centimetres) / 100;
  for (const Unit& unit : units)
    if (std::abs(metres / unit.metres - 1) < 1e-4) return StatedUnit{unit.metres, unit.fbxSays};
  return StatedUnit{metres, marked("FBX says its unit")};
}

UpAxis upOfFbx(const aiScene& scene) {
  int32_t axis = int32_t(UpAxis::y);
  if (scene.mMetaData) scene.mMetaData->Get("UpAxis", axis);
  return axis < 0 || axis > 2 ? UpAxis::y : UpAxis(axis);
}

std::optional<StatedUnit> unitOf3mf(const std::filesystem::path& file) {
  static const std::regex pattern("<(?:\\w+:)?model\\s[^>]*?\\bunit\\s*=\\s*[\"'](\\w+)[\"']");
  const std::string text = beginOfModel(file);
  std::smatch said;
  if (!std::regex_search(text, said, pattern)) return {};
  for (const Unit& unit : units)
    if (said[1].str() == unit.in3mf) return StatedUnit{unit.metres, unit.threeMfSays};
  return {};
}

}  // namespace dusk
