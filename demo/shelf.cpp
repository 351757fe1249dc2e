#include "demo/shelf.h"

#include <functional>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/srgb.h"
#include "core/outside/http.h"
#include "core/picture/write.h"
#include "core/surface/material_file.h"
#include "demo/noise.h"
#include "demo/sky.h"

namespace dusk::demo {
namespace {
namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* author = "Gentle Dusk's demo";

/// What the index says of files that lie below the shelf's folder.
Result<json> listed(const fs::path& shelf, const std::vector<fs::path>& files) {
  json list = json::array();
  for (const fs::path& file : files) {
    const auto hash = sha256Of(file);
    if (!hash) return hash.error();
    list.push_back({{"path", fs::relative(file, shelf).generic_string()},
                    {"bytes", fs::file_size(file)},
                    {"sha256", *hash}});
  }
  return list;
}

Picture shown(const Picture& light, float gain) {
  Picture codes = light;
  for (float& v : codes.pixels) v = srgbEncoded(std::clamp(v * gain, 0.0f, 1.0f));
  return codes;
}

struct Sky {
  const char *id, *title, *about;
  double azimuth, elevation;
};

Result<json> skyEntry(const fs::path& shelf, const Sky& sky, int width) {
  const double a = radians(sky.azimuth), e = radians(sky.elevation);
  const Vec3f sun(float(std::sin(a) * std::cos(e)), float(std::cos(a) * std::cos(e)), float(std::sin(e)));
  const Picture whole = eveningSky(width, sun), small = resized(whole, 128, 64);
  const fs::path folder = shelf / sky.id, file = folder / (std::string(sky.id) + ".exr"),
                 preview = folder / "small.exr", thumbnail = folder / "small.png";
  fs::create_directories(folder);
  for (const Outcome& written :
       {writeExr(file, {{"panorama", &whole, false}}), writeExr(preview, {{"panorama", &small, false}}),
        writePng8(thumbnail, shown(small, 1.5f))})
    if (!written) return written.error();
  const auto all = listed(shelf, {file}), few = listed(shelf, {preview}), one = listed(shelf, {thumbnail});
  for (const auto* each : {&all, &few, &one})
    if (!*each) return each->error();
  return json{{"id", sky.id},           {"kind", "panorama"},     {"title", sky.title},
              {"author", author},       {"licence", "CC0-1.0"},   {"about", sky.about},
              {"tags", {"sky", "sea"}}, {"thumbnail", (*one)[0]}, {"preview", *few},
              {"files", *all}};
}

/// Colour and roughness over a square that repeats.
struct Cloth {
  const char *id, *title, *about;
  double sizeMm;
  std::function<std::pair<Rgb, float>(float u, float v)> at;
};

/// Noise that repeats after 1, of features of 1/`size`.
float around(float u, float v, float size) {
  const float a = u * 2 * pif, b = v * 2 * pif, r = size / (2 * pif);
  return layeredNoise({std::cos(a) * r + 3 * std::cos(b) * r, std::sin(a) * r, std::sin(b) * r}, 4);
}

Outcome writeCloth(const fs::path& folder, const Cloth& cloth, int side) {
  Picture colour = Picture::rgb(side, side), rough = Picture::rgb(side, side);
  for (int y = 0; y < side; ++y)
    for (int x = 0; x < side; ++x) {
      const auto [c, r] = cloth.at((x + 0.5f) / side, (y + 0.5f) / side);
      for (int k = 0; k < 3; ++k) colour.at(x, y)[k] = srgbEncoded(c[k]), rough.at(x, y)[k] = r;
    }
  Surface surface;
  surface.name = cloth.title;
  const auto feed = [&](const char* picture, PictureChannel channel) {
    Feed f;
    f.kind = FeedKind::picture, f.picture.path = picture, f.channel = channel;
    f.mapping.kind = MappingKind::coordinates, f.mapping.sizeMm = {cloth.sizeMm, cloth.sizeMm};
    return std::vector<Feed>{f};
  };
  surface.feeds[SurfaceValue::baseColour] = feed("colour.png", PictureChannel::colour);
  surface.feeds[SurfaceValue::roughness] = feed("roughness.png", PictureChannel::red);
  MaterialNotes notes;
  fs::create_directories(folder);
  for (const Outcome& written :
       {writePng8(folder / "colour.png", colour), writePng8(folder / "roughness.png", rough),
        writeFileAtomically(folder / "surface.mtlx", materialFileOf({surface}, notes))})
    if (!written) return written;
  return done();
}

Result<json> clothEntry(const fs::path& shelf, const Cloth& cloth) {
  const fs::path folder = shelf / cloth.id, small = folder / "small";
  for (const Outcome& written : {writeCloth(folder, cloth, 512), writeCloth(small, cloth, 96)})
    if (!written) return written.error();
  const auto in = [&](const fs::path& where) {
    return listed(shelf, {where / "surface.mtlx", where / "colour.png", where / "roughness.png"});
  };
  const auto all = in(folder), few = in(small), one = listed(shelf, {small / "colour.png"});
  for (const auto* each : {&all, &few, &one})
    if (!*each) return each->error();
  return json{
      {"id", cloth.id},       {"kind", "surface"},    {"title", cloth.title},     {"author", author},
      {"licence", "CC0-1.0"}, {"about", cloth.about}, {"tags", {"made by code"}}, {"thumbnail", (*one)[0]},
      {"preview", *few},      {"files", *all}};
}

std::vector<Cloth> cloths() {
  const auto stoneware = [](float u, float v) {
    const float n = around(u, v, 9), speck = smoothStep(0.22f, 0.3f, around(v, u, 60));
    return std::pair(Rgb(0.52f, 0.49f, 0.42f) * (1 + 0.25f * n) * (1 - 0.8f * speck), 0.35f + 0.2f * speck);
  };
  const auto sail = [](float u, float v) {
    const float threads = 48, a = std::sin(u * threads * 2 * pif), b = std::sin(v * threads * 2 * pif),
                over = std::sin((u + v) * threads * pif) > 0 ? a : b;
    return std::pair(Rgb(0.68f, 0.63f, 0.53f) * (0.85f + 0.12f * over + 0.1f * around(u, v, 6)), 0.85f);
  };
  const auto planks = [](float u, float v) {
    const float across = u * 4 - std::floor(u * 4),
                gap = smoothStep(0.03f, 0.0f, std::min(across, 1 - across)), grain = around(u * 4, v, 5);
    return std::pair(Rgb(0.055f, 0.043f, 0.036f) * (1 + 0.8f * grain) * (1 - 0.85f * gap),
                     0.45f + 0.25f * gap);
  };
  return {
      {"speckled-stoneware", "Speckled stoneware", "Salt-fired, 120 mm before it repeats", 120, stoneware},
      {"sail-canvas", "Sail canvas", "Plain weave, 60 mm before it repeats", 60, sail},
      {"tarred-planks", "Tarred planks", "Four boards of 90 mm", 360, planks}};
}

}  // namespace

Outcome writeShelf(const fs::path& folder, int width) {
  json entries = json::array();
  for (const Sky& sky :
       {Sky{"low-over-water", "Low over water", "The sun a hand above the horizon, to the left", -60, 9},
        Sky{"late-morning", "Late morning", "High on the right, thin cloud", 55, 46},
        Sky{"behind-the-shore", "Behind the shore", "Light from the back", 170, 18}}) {
    const auto entry = skyEntry(folder, sky, width);
    if (!entry) return entry.error();
    entries.push_back(*entry);
  }
  for (const Cloth& cloth : cloths()) {
    const auto entry = clothEntry(folder, cloth);
    if (!entry) return entry.error();
    entries.push_back(*entry);
  }
  const json index = {{"shelf", 1}, {"title", "Brackwater shelf"}, {"entries", entries}};
  return writeFileAtomically(folder / "index.json", jsonText(index, 1));
}

}  // namespace dusk::demo
