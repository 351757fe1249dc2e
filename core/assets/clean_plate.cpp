#include "core/assets/clean_plate.h"

#include <cmath>
#include <cstring>
#include <limits>
#include <sstream>

#include "core/base/cache_folder.h"
#include "core/base/files.h"
#include "core/base/segment.h"
#include "core/base/words.h"
#include "core/picture/fill.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// Raise it when spots come out otherwise.
constexpr int generation = 2;
/// How much of the photo round a spot may be taken, in sizes of the spot, and at least in pixels.
constexpr double roundShare = 1.5, roundLeast = 160;

/// Light in floats is compared and joined as the eye sees steps of it.
float coded(float v) { return v > 0 ? std::pow(v, 1 / 2.2f) : 0; }
float uncoded(float v) { return v > 0 ? std::pow(v, 2.2f) : 0; }

/// Whether a point lies in a loop or within a margin of it.
bool takes(const std::vector<Vec2d>& loop, double margin, const Vec2d& p) {
  bool inside = false;
  for (size_t i = 0, j = loop.size() - 1; i < loop.size(); j = i++) {
    const Vec2d &a = loop[i], &b = loop[j];
    if (margin > 0 && distanceToSegment(p, a, b) <= margin) return true;
    if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

PixelArea widened(const PixelArea& a, int by, int width, int height) {
  return {std::max(0, a.x0 - by), std::max(0, a.y0 - by), std::min(width, a.x1 + by),
          std::min(height, a.y1 + by)};
}

/// [pixel of the area] as FillHow's.
std::vector<float> sizesIn(const PixelArea& area, const Vec3d& horizon) {
  if (horizon == Vec3d(0)) return {};
  std::vector<float> sizes(size_t(area.width()) * area.height(), std::numeric_limits<float>::quiet_NaN());
  for (int y = area.y0; y < area.y1; ++y)
    for (int x = area.x0; x < area.x1; ++x)
      if (const double below = horizon.x * (x + 0.5) + horizon.y * (y + 0.5) + horizon.z; below > 1)
        sizes[size_t(y - area.y0) * area.width() + size_t(x - area.x0)] = float(std::log(below));
  return sizes;
}

fs::path fileOf(const std::string& name) { return cacheFolder() / "clean-plates" / (name + ".spot"); }

}  // namespace

FilledSpot spotOf(const CleanUp& of, int width, int height) {
  FilledSpot spot;
  if (of.loop.size() < 3) return spot;
  Vec2d low = of.loop[0], high = low;
  for (const Vec2d& p : of.loop)
    low = {std::min(low.x, p.x), std::min(low.y, p.y)}, high = {std::max(high.x, p.x), std::max(high.y, p.y)};
  const auto pixel = [&](double v, int most) { return int(std::clamp(v, 0.0, double(most))); };
  const double m = std::max(0.0, of.marginPx);
  spot.area = {pixel(std::floor(low.x - m), width), pixel(std::floor(low.y - m), height),
               pixel(std::ceil(high.x + m), width), pixel(std::ceil(high.y + m), height)};
  if (spot.area.width() <= 0 || spot.area.height() <= 0) return {};
  const size_t n = size_t(spot.area.width()) * spot.area.height();
  spot.filled.assign(n, 0), spot.rgb.assign(n * 3, 0);
  for (int y = spot.area.y0; y < spot.area.y1; ++y)
    for (int x = spot.area.x0; x < spot.area.x1; ++x)
      spot.filled[size_t(y - spot.area.y0) * spot.area.width() + size_t(x - spot.area.x0)] =
          takes(of.loop, m, {x + 0.5, y + 0.5});
  return spot;
}

Result<FilledSpot> fillSpot(const PackedPicture& photo, const CleanUp& of, Progress& progress) {
  FilledSpot spot = spotOf(of, photo.width, photo.height);
  if (spot.filled.empty())
    return Error{"\"" + of.name + words("\" lies outside of the photo: loop it again.")};
  const int by = int(std::max(roundLeast, roundShare * std::max(spot.area.width(), spot.area.height())));
  PixelArea round = widened(spot.area, by, photo.width, photo.height);
  FillHow how;
  how.seed = of.choice;
  if (of.from) {
    how.from = Shift{int(std::lround(of.from->x)), int(std::lround(of.from->y))};
    round = widened(spot.area, by + std::max(std::abs(how.from->x), std::abs(how.from->y)), photo.width,
                    photo.height);
  }
  how.size = sizesIn(round, of.horizon);
  Picture codes = photo.area(round);
  if (photo.isFloat())
    for (float& v : codes.pixels) v = coded(v);
  std::vector<unsigned char> hole(size_t(codes.width) * codes.height, 0);
  const int dx = spot.area.x0 - round.x0, dy = spot.area.y0 - round.y0;
  const auto inRound = [&](int x, int y) { return size_t(y + dy) * codes.width + size_t(x + dx); };
  for (int y = 0; y < spot.area.height(); ++y)
    for (int x = 0; x < spot.area.width(); ++x)
      hole[inRound(x, y)] = spot.filled[size_t(y) * spot.area.width() + x];
  auto whole = filled(std::move(codes), hole, how, progress);
  if (!whole) return whole.error();
  for (int y = 0; y < spot.area.height(); ++y)
    for (int x = 0; x < spot.area.width(); ++x)
      for (size_t c = 0; c < 3; ++c) {
        const float v = whole->pixels[inRound(x, y) * 3 + c];
        spot.rgb[(size_t(y) * spot.area.width() + x) * 3 + c] =
            photo.isFloat() ? uncoded(v) : std::clamp(v, 0.0f, 1.0f);
      }
  return spot;
}

void putIn(PackedPicture& photo, const FilledSpot& spot) {
  std::visit(
      [&](auto& values) {
        using Value = typename std::decay_t<decltype(values)>::value_type;
        for (size_t i = 0; i < spot.filled.size(); ++i) {
          if (!spot.filled[i]) continue;
          const int x = spot.area.x0 + int(i % size_t(spot.area.width())),
                    y = spot.area.y0 + int(i / size_t(spot.area.width()));
          if (x < 0 || y < 0 || x >= photo.width || y >= photo.height) continue;
          for (size_t c = 0; c < 3; ++c) {
            Value& to = values[(size_t(y) * photo.width + x) * 3 + c];
            if constexpr (std::is_same_v<Value, float>)
              to = spot.rgb[i * 3 + c];
            else
              to = Value(std::lround(spot.rgb[i * 3 + c] * float(std::numeric_limits<Value>::max())));
          }
        }
      },
      photo.values);
}

std::string keyOf(const CleanUp& of) {
  std::ostringstream key;
  key.precision(17);
  key << generation << '|' << of.marginPx << '|' << of.choice << '|' << of.horizon;
  if (of.from) key << "|from" << *of.from;
  for (const Vec2d& p : of.loop) key << '|' << p.x << ',' << p.y;
  return key.str();
}

std::optional<FilledSpot> keptSpot(const std::string& name) {
  const auto bytes = readFile(fileOf(name), size_t{1} << 30);
  if (!bytes) return {};
  FilledSpot spot;
  const size_t head = sizeof spot.area;
  if (bytes->size() < head) return {};
  std::memcpy(&spot.area, bytes->data(), head);
  constexpr int most = 100'000;
  const PixelArea& a = spot.area;
  if (a.x0 < 0 || a.y0 < 0 || a.x1 > most || a.y1 > most || a.width() <= 0 || a.height() <= 0) return {};
  const size_t n = size_t(a.width()) * size_t(a.height());
  if (bytes->size() != head + n + n * 3 * sizeof(float)) return {};
  spot.filled.resize(n), spot.rgb.resize(n * 3);
  std::memcpy(spot.filled.data(), bytes->data() + head, n);
  std::memcpy(spot.rgb.data(), bytes->data() + head + n, n * 3 * sizeof(float));
  return spot;
}

void keepSpot(const std::string& name, const FilledSpot& spot) {
  std::error_code ignored;
  fs::create_directories(fileOf(name).parent_path(), ignored);
  std::string bytes(reinterpret_cast<const char*>(&spot.area), sizeof spot.area);
  bytes.append(reinterpret_cast<const char*>(spot.filled.data()), spot.filled.size());
  bytes.append(reinterpret_cast<const char*>(spot.rgb.data()), spot.rgb.size() * sizeof(float));
  // What cannot be kept is made again.
  (void)writeFileAtomically(fileOf(name), bytes);
}

}  // namespace dusk
