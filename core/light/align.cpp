#include "core/light/align.h"

#include <tbb/parallel_for.h>

#include "core/base/median.h"
#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int channels = 5;  ///< log luminance fine, middle and blurred; red and blue against green

using Feature = std::array<float, channels>;

float logOf(float v) { return std::log2(std::max(v, 0.0f) + 0.002f); }

/// Log light of a picture in five channels, the coarser ones taken from smaller copies.
class Features {
 public:
  Features(const Picture& fine, const std::array<Picture, 2>& coarser) {
    fields_[0] = logs(fine), fields_[1] = logs(coarser[0]), fields_[2] = logs(coarser[1]);
  }
  /// At (u, v), shares of width and height; `around`: the left edge joins the right one.
  Feature at(double u, double v, bool around) const {
    const Rgb f = sampled(fields_[0], u, v, around), m = sampled(fields_[1], u, v, around),
              b = sampled(fields_[2], u, v, around);
    return {f.y, m.y, b.y, m.x - m.y, m.z - m.y};
  }

 private:
  static Picture logs(const Picture& p) {
    Picture out = p;
    for (float& v : out.pixels) v = logOf(v);
    return out;
  }
  static Rgb sampled(const Picture& p, double u, double v, bool around) {
    const double x = u * p.width - 0.5, y = std::clamp(v * p.height - 0.5, 0.0, p.height - 1.0);
    const int x0 = int(std::floor(x)), y0 = int(y), y1 = std::min(y0 + 1, p.height - 1);
    const float tx = float(x - x0), ty = float(y - y0);
    const auto column = [&](int i) {
      return around ? (i % p.width + p.width) % p.width : std::clamp(i, 0, p.width - 1);
    };
    const int a = column(x0), b = column(x0 + 1);
    return (p.rgbAt(a, y0) * (1 - tx) + p.rgbAt(b, y0) * tx) * (1 - ty) +
           (p.rgbAt(a, y1) * (1 - tx) + p.rgbAt(b, y1) * tx) * ty;
  }
  std::array<Picture, 3> fields_;
};

/// One spot of the photo: a place on the ground, or a direction far away.
struct Spot {
  Feature photo;
  Rgb light;
  bool onGround;
  Vec3d at;
  double offAxis2;  ///< share of the half diagonal, squared
};

/// Which way a spot lies from where the panorama was taken (at turn 0, not mirrored), and how much it tells.
struct Sight {
  double u, v, weight;
};
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

/// Weighted correlation, channel by channel; those in which either is even say nothing.
class Correlation {
 public:
  void add(const Feature& a, const Feature& b, double w) {
    weight_ += w;
    for (size_t c = 0; c < channels; ++c) {
      const double x = a[c], y = b[c];
      s_[c][0] += w * x, s_[c][1] += w * y, s_[c][2] += w * x * x, s_[c][3] += w * y * y,
          s_[c][4] += w * x * y;
    }
  }
  double value() const {
    constexpr double importance[channels] = {1, 1, 1, 0.7, 0.7};
    double sum = 0, all = 0;
    for (size_t c = 0; c < channels; ++c) {
      const double mx = s_[c][0] / weight_, my = s_[c][1] / weight_;
      const double vx = s_[c][2] / weight_ - mx * mx, vy = s_[c][3] / weight_ - my * my,
                   xy = s_[c][4] / weight_ - mx * my;
      all += importance[c];
      if (vx > 1e-5 && vy > 1e-5) sum += importance[c] * xy / std::sqrt(vx * vy);
    }
    return sum / all;
  }

 private:
  double weight_ = 0, s_[channels][5] = {};
};

/// Where a spot lies in the panorama's own picture when that is turned by so many turns of the circle.
double columnAt(const Sight& sight, double turn, bool mirrored) {
  const double u = sight.u - turn;  // clockwise, as u grows
  return mirrored ? 1 - u : u;
}

/// Gain and white at the turn that was found.
void matchLight(Alignment::Peak& found, const std::vector<Spot>& spots, const Panorama& panorama) {
  struct Ratio {
    double ev[3], offAxis2;
  };
  std::vector<Ratio> ratios;
  const Picture& from = panorama.picture();
  for (const Spot& s : spots) {
    const Sight sight = sightOf(s, found.captureM);
    const double u = columnAt(sight, found.turnDegrees / 360, found.mirrored);
    const double x = (u - std::floor(u)) * from.width;
    const Rgb light = panorama.radiance(panoramaDirection({float(x / from.width), float(sight.v)}));
    Ratio r{{0, 0, 0}, s.offAxis2};
    bool fits = true;
    for (int c = 0; c < 3; ++c) {
      // Clipped and black places say nothing of the exposure.
      fits &= s.light[c] > 0.004f && s.light[c] < 0.9f && light[c] > 0;
      r.ev[c] = fits ? std::log2(double(s.light[c]) / double(light[c])) : 0;
    }
    if (fits) ratios.push_back(r);
  }
  if (ratios.size() < 30) return;
  // Lenses darken their corners: how much, from the medians near the axis and away from it.
  std::vector<double> near, far, nearAt, farAt;
  for (const Ratio& r : ratios) {
    (r.offAxis2 < 0.2 ? near : far).push_back(r.ev[1]);
    (r.offAxis2 < 0.2 ? nearAt : farAt).push_back(r.offAxis2);
  }
  double slope = 0;
  if (near.size() > 30 && far.size() > 30)
    slope = std::clamp((medianInPlace(far) - medianInPlace(near)) /
                           std::max(0.1, medianInPlace(farAt) - medianInPlace(nearAt)),
                       -1.0, 0.0);
  double ev[3];
  for (int c = 0; c < 3; ++c) {
    std::vector<double> at;
    for (const Ratio& r : ratios) at.push_back(r.ev[c] - slope * r.offAxis2);
    ev[c] = medianInPlace(at);
  }
  found.gainEv = ev[1];
  for (int c = 0; c < 3; ++c) found.white[c] = std::exp2(ev[c] - ev[1]);
}

/// Agreement of the photo with the panorama, from any place and at any turn.
class Agreement {
 public:
  Agreement(std::vector<Spot> spots, const Panorama& panorama)
      : spots_(std::move(spots)), features_(featuresOf(panorama)), table_(size_t(tableWidth * tableHeight)) {
    for (int y = 0; y < tableHeight; ++y)
      for (int x = 0; x < tableWidth; ++x)
        table_[size_t(y * tableWidth + x)] =
            features_.at((x + 0.5) / tableWidth, (y + 0.5) / tableHeight, true);
  }
  const std::vector<Spot>& spots() const { return spots_; }

  /// Every `step`-th spot seen from a place.
  std::vector<std::pair<const Spot*, Sight>> sights(const Vec3d& capture, size_t step) const {
    std::vector<std::pair<const Spot*, Sight>> all;
    for (size_t i = step / 2; i < spots_.size(); i += step)
      all.emplace_back(&spots_[i], sightOf(spots_[i], capture));
    return all;
  }
  double score(const std::vector<std::pair<const Spot*, Sight>>& sights, double turn, bool mirrored) const {
    Correlation sum;
    for (const auto& [spot, sight] : sights)
      sum.add(spot->photo, features_.at(columnAt(sight, turn, mirrored), sight.v, true), sight.weight);
    return sum.value();
  }
  /// The same, looked up to a degree and a half: good enough to tell where to look.
  double roughScore(const std::vector<std::pair<const Spot*, Sight>>& sights, double turn,
                    bool mirrored) const {
    Correlation sum;
    for (const auto& [spot, sight] : sights) {
      const double u = columnAt(sight, turn, mirrored);
      const int x = std::min(tableWidth - 1, int((u - std::floor(u)) * tableWidth)),
                y = std::clamp(int(sight.v * tableHeight), 0, tableHeight - 1);
      sum.add(spot->photo, table_[size_t(y * tableWidth + x)], sight.weight);
    }
    return sum.value();
  }
  double score(const Alignment::Peak& p, size_t step) const {
    return score(sights(p.captureM, step), p.turnDegrees / 360, p.mirrored);
  }

 private:
  static Features featuresOf(const Panorama& panorama) {
    const int w = std::min(720, std::max(64, panorama.picture().width));
    const Picture fine = resized(panorama.picture(), w, w / 2);
    return {fine, {resized(fine, 240, 120), resized(fine, 72, 36)}};
  }
  static constexpr int tableWidth = 240, tableHeight = 120;
  std::vector<Spot> spots_;
  Features features_;
  std::vector<Feature> table_;
};

/// The best turns of one place, at least ten degrees apart.
void addPeaks(const Agreement& agreement, const Vec3d& capture, size_t step, int count,
              std::vector<Alignment::Peak>& to, std::vector<float>* curves) {
  const auto sights = agreement.sights(capture, step);
  for (const bool mirrored : {false, true}) {
    std::vector<float> curve(static_cast<size_t>(count));
    for (int i = 0; i < count; ++i)
      curve[size_t(i)] = float(curves ? agreement.score(sights, double(i) / count - 0.5, mirrored)
                                      : agreement.roughScore(sights, double(i) / count - 0.5, mirrored));
    for (int i = 0; i < count; ++i) {
      const float here = curve[size_t(i)];
      if (here > curve[size_t((i + 1) % count)] && here >= curve[size_t((i + count - 1) % count)])
        to.push_back({(double(i) / count - 0.5) * 360, mirrored, double(here), 0, {1, 1, 1}, capture});
    }
    if (curves) curves[mirrored] = std::move(curve);
  }
}

bool better(const Alignment::Peak& a, const Alignment::Peak& b) { return a.score > b.score; }

/// Best first; of those that turn alike, the best alone.
std::vector<Alignment::Peak> distinct(std::vector<Alignment::Peak> peaks, size_t most) {
  std::sort(peaks.begin(), peaks.end(), better);
  std::vector<Alignment::Peak> kept;
  for (const Alignment::Peak& p : peaks) {
    const bool fresh = std::none_of(kept.begin(), kept.end(), [&](const Alignment::Peak& k) {
      return k.mirrored == p.mirrored && std::abs(wrapDegrees(k.turnDegrees - p.turnDegrees)) < 10;
    });
    if (fresh && kept.size() < most) kept.push_back(p);
  }
  return kept;
}

/// Climbs in turn and, where that is not known, in place.
void climb(const Agreement& agreement, Alignment::Peak& p, bool placeToo, double scale, size_t step,
           const Progress& progress) {
  double steps[4] = {1.5, 0.2 * scale, 0.2 * scale, 0.15 * scale};
  p.score = agreement.score(p, step);
  const auto tryOut = [&](int axis, double by) {
    Alignment::Peak next = p;
    if (axis == 0)
      next.turnDegrees += by;
    else
      next.captureM[axis - 1] += by;
    if (next.captureM.z < 0.15 || next.captureM.z > 3.5) return false;
    next.score = agreement.score(next, step);
    if (next.score <= p.score) return false;
    p = next;
    return true;
  };
  while (steps[0] > 0.02 && !progress.cancelled()) {
    bool moved = false;
    for (int axis = 0; axis < (placeToo ? 4 : 1); ++axis)
      if (tryOut(axis, steps[axis]) || tryOut(axis, -steps[axis])) moved = true;
    if (!moved)
      for (double& s : steps) s /= 2;
  }
  p.turnDegrees = wrapDegrees(p.turnDegrees);
}

}  // namespace

CaptureGuess captureGuess(const Shot& shot) {
  CaptureGuess guess;
  guess.knownM = shot.surroundings.captureM;
  if (!shot.placements.empty()) guess.aroundM = {shot.placements[0].xM, shot.placements[0].yM, 0};
  guess.reachM = std::clamp(0.7 * (shot.vantage.camera.position - guess.aroundM).length(), 0.3, 5.0);
  return guess;
}

Result<Alignment> align(const Picture& plate, const Camera& camera, const Panorama& panorama,
                        const CaptureGuess& capture, const Progress& progress) {
  if (camera.width <= 0 || camera.focalPx <= 0 || plate.empty())
    return Error{"The vantage must be solved first: the panorama is compared with the photo through it."};
  const Agreement agreement(spotsOf(plate, camera), panorama);
  std::vector<Vec3d> places;
  if (capture.knownM) {
    places.push_back(*capture.knownM);
  } else {
    for (const double height : {0.5, 0.9, 1.4, 1.9})
      for (int i = -2; i <= 2; ++i)
        for (int k = -2; k <= 2; ++k)
          places.push_back(capture.aroundM + Vec3d(i, k, 0) * (capture.reachM / 2) + Vec3d(0, 0, height));
  }
  // A rough look at every turn from every place, then the best more closely.
  std::vector<std::vector<Alignment::Peak>> rough(places.size());
  tbb::parallel_for(size_t{0}, places.size(), [&](size_t i) {
    if (!progress.cancelled())
      addPeaks(agreement, places[i], capture.knownM ? 3 : 16, 120, rough[i], nullptr);
  });
  std::vector<Alignment::Peak> all;
  for (const auto& some : rough) all.insert(all.end(), some.begin(), some.end());
  all = distinct(std::move(all), 14);
  // Ever fewer, ever more closely.
  const auto climbAll = [&](double scale, size_t step) {
    tbb::parallel_for(size_t{0}, all.size(),
                      [&](size_t i) { climb(agreement, all[i], !capture.knownM, scale, step, progress); });
  };
  climbAll(std::max(0.2, capture.reachM), 5);
  all = distinct(std::move(all), 6);
  climbAll(0.1 * capture.reachM, 2);
  for (size_t i = 0; i < std::min<size_t>(2, all.size()); ++i)
    climb(agreement, all[i], !capture.knownM, 0.1 * capture.reachM, 1, progress);
  Alignment found;
  found.peaks = distinct(std::move(all), 6);
  if (progress.cancelled()) return cancelledError();
  if (found.peaks.empty())
    return Error{"The photo is too even to compare with the panorama: turn it by hand."};
  std::vector<Alignment::Peak> unused;
  std::vector<float> curves[2];
  addPeaks(agreement, found.best().captureM, 3, 360, unused, curves);
  found.curve = std::move(curves[0]), found.mirror = std::move(curves[1]);
  const double best = found.best().score;
  found.ambiguous = best < 0.35 || (found.peaks.size() > 1 && best - found.peaks[1].score < 0.04);
  for (Alignment::Peak& p : found.peaks) matchLight(p, agreement.spots(), panorama);
  return found;
}

}  // namespace dusk
