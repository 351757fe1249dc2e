#include "core/light/agreement.h"

#include "core/base/biweight.h"
#include "core/base/median.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

float logOf(float v) { return std::log2(std::max(v, 0.0f) + 0.002f); }

/// Weighted correlation, channel by channel; those in which either is even say nothing.
class Correlation {
 public:
  void add(const Feature& a, const Feature& b, double w) {
    weight_ += w;
    for (size_t c = 0; c < agreementChannels; ++c) {
      const double x = a[c], y = b[c];
      s_[c][0] += w * x, s_[c][1] += w * y, s_[c][2] += w * x * x, s_[c][3] += w * y * y,
          s_[c][4] += w * x * y;
    }
  }
  double value() const {
    constexpr double importance[agreementChannels] = {1, 1, 1, 0.7, 0.7};
    double sum = 0, all = 0;
    for (size_t c = 0; c < agreementChannels; ++c) {
      const double mx = s_[c][0] / weight_, my = s_[c][1] / weight_;
      const double vx = s_[c][2] / weight_ - mx * mx, vy = s_[c][3] / weight_ - my * my,
                   xy = s_[c][4] / weight_ - mx * my;
      all += importance[c];
      if (vx > 1e-5 && vy > 1e-5) sum += importance[c] * xy / std::sqrt(vx * vy);
    }
    return sum / all;
  }

 private:
  double weight_ = 0, s_[agreementChannels][5] = {};
};

/// Where a spot lies in the panorama's own picture when that is turned by so many turns of the circle.
double columnAt(const Sight& sight, double turn, bool mirrored) {
  const double u = sight.u - turn;  // clockwise, as u grows
  return mirrored ? 1 - u : u;
}

}  // namespace

Features::Features(const Picture& fine, const std::array<Picture, 2>& coarser) {
  const auto green = [](const Picture& p) {
    Field<1> field{p.width, p.height, {}};
    for (size_t i = 1; i < p.pixels.size(); i += 3) field.values.push_back({logOf(p.pixels[i])});
    return field;
  };
  fine_ = green(fine), blurred_ = green(coarser[1]);
  const Picture& m = coarser[0];
  middle_.width = m.width, middle_.height = m.height;
  for (size_t i = 0; i + 2 < m.pixels.size(); i += 3) {
    const float g = logOf(m.pixels[i + 1]);
    middle_.values.push_back({g, logOf(m.pixels[i]) - g, logOf(m.pixels[i + 2]) - g});
  }
}

Feature Features::at(double u, double v, bool around) const {
  if (around) u -= std::floor(u);
  const auto m = middle_.at(u, v, around);
  return {fine_.at(u, v, around)[0], m[0], blurred_.at(u, v, around)[0], m[1], m[2]};
}

/// Bilinear; `u` within 0 and 1.
template <size_t N>
std::array<float, N> Features::Field<N>::at(double u, double v, bool around) const {
  const double x = u * width - 0.5, y = std::clamp(v * height - 0.5, 0.0, height - 1.0);
  const int x0 = int(x + 1) - 1, y0 = int(y), y1 = std::min(y0 + 1, height - 1);
  const float tx = float(x - x0), ty = float(y - y0);
  const int a = x0 >= 0 ? x0 : around ? width - 1 : 0, b = x0 + 1 < width ? x0 + 1 : around ? 0 : width - 1;
  const auto* upper = &values[size_t(y0) * size_t(width)];
  const auto* lower = &values[size_t(y1) * size_t(width)];
  std::array<float, N> out;
  for (size_t c = 0; c < N; ++c)
    out[c] = (upper[a][c] * (1 - tx) + upper[b][c] * tx) * (1 - ty) +
             (lower[a][c] * (1 - tx) + lower[b][c] * tx) * ty;
  return out;
}

Sight sightOf(const Spot& spot, const Vec3d& capture) {
  Vec3d d = spot.at;
  double weight = 0.5;  // it may be nearer than it is taken to be
  if (spot.onGround) {
    d -= capture;
    // Ground close under the panorama's tripod moves much with every millimetre: it tells little.
    weight = std::clamp(std::hypot(d.x, d.y) / 2, 0.1, 1.0);
    d.normalize();
  }
  const Vec2f uv = panoramaUv(toFloat(d));
  return {double(uv.x), double(uv.y), weight};
}

std::vector<Spot> spotsOf(const Picture& plate, const Camera& camera) {
  // Degrees a pixel, so that both pictures are blurred alike.
  const double degreesAcross = 2 * degrees(std::atan(camera.width / 2.0 / camera.focalPx));
  const auto at = [&](double pixelDegrees) {
    const int w = std::clamp(int(degreesAcross / pixelDegrees), 4, plate.width);
    return resized(plate, w, std::max(3, w * plate.height / plate.width));
  };
  const Picture fine = at(0.5);
  const Features features(fine, {at(1.5), at(5)});
  std::vector<Spot> spots;
  const int across = 110, down = std::max(8, across * camera.height / std::max(1, camera.width));
  for (int j = 0; j < down; ++j)
    for (int i = 0; i < across; ++i) {
      const double u = (i + 0.5) / across, v = (j + 0.5) / down;
      const Vec2d pixel(u * camera.width, v * camera.height);
      const auto ground = levelPoint(camera, pixel);
      const double r2 = (std::pow(pixel.x - camera.cx, 2) + std::pow(pixel.y - camera.cy, 2)) * 4 /
                        (double(camera.width) * camera.width + double(camera.height) * camera.height);
      const Rgb light = fine.rgbAt(std::min(fine.width - 1, int(u * fine.width)),
                                   std::min(fine.height - 1, int(v * fine.height)));
      spots.push_back({features.at(u, v, false), light, ground.has_value(),
                       ground ? *ground : rayThrough(camera, pixel), r2});
    }
  return spots;
}

namespace {

Features featuresOf(const Panorama& panorama) {
  const int w = std::min(720, std::max(64, panorama.picture().width));
  const Picture fine = resized(panorama.picture(), w, w / 2);
  return {fine, {resized(fine, 240, 120), resized(fine, 72, 36)}};
}

}  // namespace

Agreement::Agreement(std::vector<Spot> spots, const Panorama& panorama)
    : spots_(std::move(spots)), features_(featuresOf(panorama)), table_(size_t(tableWidth * tableHeight)) {
  for (int y = 0; y < tableHeight; ++y)
    for (int x = 0; x < tableWidth; ++x)
      table_[size_t(y * tableWidth + x)] =
          features_.at((x + 0.5) / tableWidth, (y + 0.5) / tableHeight, true);
}

Agreement::Sights Agreement::sights(const Vec3d& capture, size_t step) const {
  Sights all;
  for (size_t i = step / 2; i < spots_.size(); i += step)
    all.emplace_back(&spots_[i], sightOf(spots_[i], capture));
  return all;
}

double Agreement::score(const Sights& sights, double turn, bool mirrored) const {
  Correlation sum;
  for (const auto& [spot, sight] : sights)
    sum.add(spot->photo, features_.at(columnAt(sight, turn, mirrored), sight.v, true), sight.weight);
  return sum.value();
}

double Agreement::roughScore(const Sights& sights, double turn, bool mirrored) const {
  Correlation sum;
  for (const auto& [spot, sight] : sights) {
    const double u = columnAt(sight, turn, mirrored);
    const int x = std::min(tableWidth - 1, int((u - std::floor(u)) * tableWidth)),
              y = std::clamp(int(sight.v * tableHeight), 0, tableHeight - 1);
    sum.add(spot->photo, table_[size_t(y * tableWidth + x)], sight.weight);
  }
  return sum.value();
}

LightMatch::LightMatch(const Picture& plate, const Camera& camera, const Panorama& panorama)
    : camera_(camera), panorama_(panorama), panoramaBlurred_(resized(panorama.picture(), 720, 360)) {
  const int w = std::clamp(int(degrees(2 * std::atan(camera.width / 2.0 / camera.focalPx)) / 0.5), 16,
                           std::max(16, plate.width));
  plateBlurred_ = resized(plate, w, std::max(8, w * plate.height / plate.width));
}

/// Photo over panorama; nothing of what is clipped or black, which says nothing of the exposure.
std::optional<LightMatch::Ratio> LightMatch::ratioOf(const Rgb& photo, const Rgb& panorama, double offAxis2) {
  Ratio r{{0, 0, 0}, offAxis2};
  for (int c = 0; c < 3; ++c) {
    if (photo[c] <= 0.004f || photo[c] >= 0.9f || panorama[c] <= 0) return {};
    r.ev[c] = std::log2(double(photo[c]) / double(panorama[c]));
  }
  return r;
}

std::vector<LightMatch::Ratio> LightMatch::ratiosOfSpots(const Alignment::Peak& found,
                                                         const std::vector<Spot>& spots) const {
  std::vector<Ratio> ratios;
  for (const Spot& s : spots) {
    const Sight sight = sightOf(s, found.captureM);
    const double u = columnAt(sight, found.turnDegrees / 360, found.mirrored);
    const Rgb light = panorama_.radiance(panoramaDirection({float(u - std::floor(u)), float(sight.v)}));
    if (const auto r = ratioOf(s.light, light, s.offAxis2)) ratios.push_back(*r);
  }
  return ratios;
}

std::vector<LightMatch::Ratio> LightMatch::ratiosOfSame(bool mirrored,
                                                        const std::vector<Landmark>& same) const {
  std::vector<Ratio> ratios;
  for (const Landmark& l : same) {
    const auto pixel = projected(camera_, camera_.position + l.photo);
    if (!pixel) continue;
    const Vec2f uv =
        panoramaUv(toFloat(Vec3d(mirrored ? -l.panorama.x : l.panorama.x, l.panorama.y, l.panorama.z)));
    const Rgb mine = sampleBilinear(plateBlurred_, float(pixel->x / camera_.width * plateBlurred_.width),
                                    float(pixel->y / camera_.height * plateBlurred_.height)),
              other = sampleBilinear(panoramaBlurred_, (uv.x - std::floor(uv.x)) * 720, uv.y * 360);
    const double r2 = (std::pow(pixel->x - camera_.cx, 2) + std::pow(pixel->y - camera_.cy, 2)) * 4 /
                      (double(camera_.width) * camera_.width + double(camera_.height) * camera_.height);
    if (const auto r = ratioOf(mine, other, r2)) ratios.push_back(*r);
  }
  return ratios;
}

/// Lenses darken their corners: by so many EV over the half diagonal squared.
double LightMatch::fallOff(const std::vector<Ratio>& ratios) {
  std::vector<double> near, far, nearAt, farAt;
  for (const Ratio& r : ratios) {
    (r.offAxis2 < 0.2 ? near : far).push_back(r.ev[1]);
    (r.offAxis2 < 0.2 ? nearAt : farAt).push_back(r.offAxis2);
  }
  if (near.size() <= 30 || far.size() <= 30) return 0;
  return std::clamp((medianInPlace(far) - medianInPlace(near)) /
                        std::max(0.1, medianInPlace(farAt) - medianInPlace(nearAt)),
                    -1.0, 0.0);
}

/// The same of some dozens: the median of the slopes between any two of them (Sen 1968, "Estimates of the
/// Regression Coefficient Based on Kendall's Tau").
double LightMatch::fallOffOfFew(const std::vector<Ratio>& ratios) {
  std::vector<double> slopes;
  for (size_t i = 0; i < ratios.size(); ++i)
    for (size_t j = 0; j < i; ++j)
      if (const double apart = ratios[i].offAxis2 - ratios[j].offAxis2; std::abs(apart) > 0.15)
        slopes.push_back((ratios[i].ev[1] - ratios[j].ev[1]) / apart);
  if (slopes.size() < 60) return 0;
  return std::clamp(medianInPlace(slopes), -1.0, 0.0);
}

namespace {

/// Where most values lie: from the median to the middle of those about it, however many lie elsewhere on one
/// side.
double centreOf(std::vector<double> values) {
  double centre = medianInPlace(values);
  constexpr double reach = 0.4;  // EV
  for (int round = 0; round < 20; ++round) centre = biweightMean(values, centre, reach);
  return centre;
}

}  // namespace

std::array<double, 3> LightMatch::centresOf(const std::vector<Ratio>& ratios, double slope) {
  std::array<double, 3> ev;
  for (size_t c = 0; c < 3; ++c) {
    std::vector<double> at;
    for (const Ratio& r : ratios) at.push_back(r.ev[c] - slope * r.offAxis2);
    ev[c] = centreOf(std::move(at));
  }
  return ev;
}

void LightMatch::apply(Alignment::Peak& found, const std::vector<Spot>& spots,
                       const std::vector<Landmark>& same) const {
  std::vector<Ratio> ratios = ratiosOfSpots(found, spots);
  const std::vector<Ratio> sure = ratiosOfSame(found.mirrored, same);
  std::array<double, 3> ev{};
  // Spots are many, but not all of them show the same thing in both; things that surely are the same tell
  // which to believe.
  constexpr size_t few = 8, many = 20;
  if (sure.size() >= few) {
    std::vector<double> at;
    for (const Ratio& r : sure) at.push_back(r.ev[1]);
    const double about = medianInPlace(at);
    std::erase_if(ratios, [&](const Ratio& r) { return std::abs(r.ev[1] - about) > 0.6; });
  }
  const bool bySpots = ratios.size() >= (sure.size() >= many ? 200 : 20);
  if (bySpots) ev = centresOf(ratios, fallOff(ratios));
  // They are spots and corners seen from nearer or farther: where they are many, the truth lies between.
  if (sure.size() >= many || (!bySpots && sure.size() >= few)) {
    const std::array<double, 3> bySame = centresOf(sure, fallOffOfFew(sure));
    for (size_t c = 0; c < 3; ++c) ev[c] = bySpots ? (ev[c] + bySame[c]) / 2 : bySame[c];
  } else if (!bySpots) {
    return;
  }
  found.gainEv = ev[1];
  for (int c = 0; c < 3; ++c) found.white[c] = std::exp2(ev[size_t(c)] - ev[1]);
}

}  // namespace dusk
