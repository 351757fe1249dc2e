#include "core/deliver/pass_view.h"

#include <tbb/parallel_for.h>

#include <bit>
#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/base/srgb.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// Code value of a share of light (IEC 61966-2-1).
float encoded(float v) { return srgbEncoded(std::clamp(v, 0.0f, 1.0f)); }

/// Lowest and highest value of each channel where there is something.
std::pair<Vec3f, Vec3f> reach(const Picture& p) {
  Vec3f low(1e30f), high(-1e30f);
  const size_t n = std::min<size_t>(p.channels.size(), 3);
  for (size_t i = 0; i < p.pixels.size(); i += p.channels.size()) {
    if (std::all_of(&p.pixels[i], &p.pixels[i] + n, [](float v) { return v == 0; })) continue;
    for (size_t c = 0; c < n; ++c)
      low[int(c)] = std::min(low[int(c)], p.pixels[i + c]),
      high[int(c)] = std::max(high[int(c)], p.pixels[i + c]);
  }
  return {low, high};
}

/// A colour that says nothing but "another one".
Rgb colourOf(uint32_t id) {
  id = (id ^ id >> 16) * 0x7feb352du, id = (id ^ id >> 15) * 0x846ca68bu;
  return Rgb(float(id & 255), float(id >> 8 & 255), float(id >> 16 & 255)) * (0.8f / 255) + Rgb(0.15f);
}

std::string nameOf(const NamedPass& pass, float id) {
  char hex[9];
  std::snprintf(hex, sizeof hex, "%08x", std::bit_cast<uint32_t>(id));
  for (const auto& [key, value] : pass.metadata)
    if (key.ends_with("/manifest")) {
      const auto manifest = jsonFrom(value);
      for (const auto& [name, code] : manifest.items())
        if (code == hex) return name;
    }
  return hex;
}

}  // namespace

Picture shownPass(const NamedPass& pass, const ColourView& view) {
  const Picture& from = pass.picture;
  const size_t n = from.channels.size();
  Picture out = Picture::rgb(from.width, from.height);
  const auto [low, high] = pass.kind == PassKind::metres || pass.kind == PassKind::place
                               ? reach(from)
                               : std::pair(Vec3f(0), Vec3f(1));
  tbb::parallel_for(0, from.height, [&](int y) {
    for (int x = 0; x < from.width; ++x) {
      const float* p = from.at(x, y);
      Rgb c = n >= 3 ? Rgb(p[0], p[1], p[2]) : Rgb(p[0]);
      switch (pass.kind) {
        case PassKind::light:
          break;
        case PassKind::ratio:
        case PassKind::share:
          for (int k = 0; k < 3; ++k) c[k] = encoded(c[k]);
          break;
        case PassKind::direction:
          if (c.length2() > 0) c = c * 0.5f + Rgb(0.5f);
          break;
        case PassKind::metres:
        case PassKind::place:
          if (c.length2() > 0)
            for (int k = 0; k < 3; ++k) {
              const float t =
                  (c[k] - low[n >= 3 ? k : 0]) / std::max(1e-9f, high[n >= 3 ? k : 0] - low[n >= 3 ? k : 0]);
              c[k] = n >= 3 ? 0.1f + 0.85f * t : 0.95f - 0.8f * t;
            }
          break;
        case PassKind::identity:
          c = colourOf(std::bit_cast<uint32_t>(p[0])) * p[1] + colourOf(std::bit_cast<uint32_t>(p[2])) * p[3];
          break;
      }
      std::copy_n(&c.x, 3, out.at(x, y));
    }
    if (pass.kind == PassKind::light) view.toDisplay(out.at(0, y), size_t(from.width));
  });
  return out;
}

std::string readOut(const NamedPass& pass, int x, int y) {
  const Picture& p = pass.picture;
  if (x < 0 || y < 0 || x >= p.width || y >= p.height) return {};
  const float* v = p.at(x, y);
  std::string text;
  char one[64];
  if (pass.kind == PassKind::identity) {
    for (int k = 0; k < 4; k += 2) {
      if (v[k + 1] <= 0) continue;
      std::snprintf(one, sizeof one, " %.0f %%", double(v[k + 1]) * 100);
      text += (text.empty() ? "" : ",  ") + nameOf(pass, v[k]) + one;
    }
    return text.empty() ? "nothing" : text;
  }
  for (size_t c = 0; c < p.channels.size(); ++c) {
    const std::string& channel = p.channels[c];
    std::snprintf(one, sizeof one, "%s%s %.4g", c ? "  " : "", channel.substr(channel.rfind('.') + 1).c_str(),
                  double(v[c]));
    text += one;
  }
  return withDecimalMark(text) + (pass.needsFullFloat() ? " m" : "");
}

}  // namespace dusk
