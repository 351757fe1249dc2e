#include "core/deliver/cryptomatte.h"
#include "core/base/json_text.h"

#include <bit>
#include <cstring>
#include <nlohmann/json.hpp>

namespace dusk {
namespace {

std::string hex(uint32_t v) {
  char text[9];
  std::snprintf(text, sizeof text, "%08x", v);
  return text;
}

/// Names come from files of any age; a manifest is UTF-8. What is none becomes the replacement character, so
/// that the name that is hashed is the one that is written.
std::string asUtf8(const std::string& name) { return jsonFrom(jsonText(name)).get<std::string>(); }

}  // namespace

uint32_t murmur3(const std::string& text) {
  const auto mixed = [](uint32_t k) { return std::rotl(k * 0xcc9e2d51u, 15) * 0x1b873593u; };
  uint32_t h = 0;
  size_t i = 0;
  for (; i + 4 <= text.size(); i += 4) {
    uint32_t k;
    std::memcpy(&k, text.data() + i, 4);
    h = std::rotl(h ^ mixed(k), 13) * 5 + 0xe6546b64u;
  }
  uint32_t tail = 0;
  for (size_t k = text.size(); k > i; --k) tail = tail << 8 | uint8_t(text[k - 1]);
  if (i < text.size()) h ^= mixed(tail);
  h ^= uint32_t(text.size());
  h = (h ^ h >> 16) * 0x85ebca6bu;
  h = (h ^ h >> 13) * 0xc2b2ae35u;
  return h ^ h >> 16;
}

float cryptomatteId(const std::string& name) {
  uint32_t h = murmur3(name);
  const uint32_t exponent = h >> 23 & 255;
  if (exponent == 0 || exponent == 255) h ^= 1u << 23;
  return std::bit_cast<float>(h);
}

Cryptomatte cryptomatte(const std::string& layer, const Passes& passes,
                        const std::vector<std::string>& nameOf) {
  constexpr int ranks = Covers::most;
  Cryptomatte out{layer, {}, {}};
  for (int k = 0; k < ranks / 2; ++k)
    out.ranks.emplace_back(passes.width(), passes.height(), std::vector<std::string>{"R", "G", "B", "A"});
  std::vector<float> idOf;
  nlohmann::json manifest = nlohmann::json::object();
  for (const std::string& raw : nameOf) {
    const std::string name = asUtf8(raw);
    idOf.push_back(cryptomatteId(name));
    manifest[name] = hex(std::bit_cast<uint32_t>(idOf.back()));
  }
  for (size_t i = 0; i < passes.covers.size(); ++i) {
    std::array<std::pair<float, float>, ranks> joined{};
    int count = 0;
    for (const Covers::Cover& cover : passes.covers[i].list) {
      if (cover.id == 0 || cover.id > idOf.size()) continue;
      const float id = idOf[cover.id - 1];
      int k = 0;
      while (k < count && joined[size_t(k)].first != id) ++k;
      if (k == count) joined[size_t(count++)] = {id, 0.0f};
      joined[size_t(k)].second += cover.share;
    }
    std::sort(joined.begin(), joined.begin() + count,
              [](const auto& a, const auto& b) { return a.second > b.second; });
    for (int k = 0; k < count; ++k) {
      float* to = &out.ranks[size_t(k / 2)].pixels[i * 4 + size_t(k % 2) * 2];
      to[0] = joined[size_t(k)].first, to[1] = joined[size_t(k)].second;
    }
  }
  const std::string key = "cryptomatte/" + hex(murmur3(layer)).substr(0, 7) + "/";
  out.metadata = {{key + "name", layer},
                  {key + "hash", "MurmurHash3_32"},
                  {key + "conversion", "uint32_to_float32"},
                  {key + "manifest", jsonText(manifest)}};
  return out;
}

}  // namespace dusk
