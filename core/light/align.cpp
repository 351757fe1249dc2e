#include "core/light/align.h"

#include <tbb/parallel_for.h>

#include "core/vantage/camera.h"

namespace dusk {
namespace {

constexpr int channels = 5;  ///< log luminance fine, middle and blurred; red and blue against green
constexpr int turns = 1440;  ///< a quarter of a degree each: also the width of the compared panorama

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

/// One spot of the photo and which way it lies from where the panorama was taken.
struct Spot {
  Feature photo;
  Rgb light;
  double u, v, weight, offAxis2;  ///< u at turn 0, not mirrored; share of the half diagonal, squared
};

std::vector<Spot> spotsOf(const Picture& plate, const Camera& camera, const Vec3d& capture) {
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
      Vec3d d = rayThrough(camera, pixel);
      double weight = 1;
      if (const auto ground = levelPoint(camera, pixel)) {
        d = *ground - capture;
        // Ground close under the panorama's tripod moves much with every millimetre: it tells little.
        const double away = std::hypot(d.x, d.y);
        weight = std::clamp(away / 4, 0.05, 1.0);
        d.normalize();
      }
      const Vec2f uv = panoramaUv(toFloat(d));
      const double r2 = (std::pow(pixel.x - camera.cx, 2) + std::pow(pixel.y - camera.cy, 2)) * 4 /
                        (double(camera.width) * camera.width + double(camera.height) * camera.height);
      const Rgb light = fine.rgbAt(std::min(fine.width - 1, int(u * fine.width)),
                                   std::min(fine.height - 1, int(v * fine.height)));
      spots.push_back({features.at(u, v, false), light, double(uv.x), double(uv.y), weight, r2});
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
double columnAt(const Spot& spot, double turn, bool mirrored) {
  const double u = spot.u - turn;  // clockwise, as u grows
  return mirrored ? 1 - u : u;
}

double medianOf(std::vector<double>& values) {
  const auto middle = values.begin() + long(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

/// Gain and white at the turn that was found.
void matchLight(Alignment::Peak& found, const std::vector<Spot>& spots, const Panorama& panorama) {
  struct Ratio {
    double ev[3], offAxis2;
  };
  std::vector<Ratio> ratios;
  const Picture& from = panorama.picture();
  for (const Spot& s : spots) {
    const double u = columnAt(s, found.turnDegrees / 360, found.mirrored);
    const double x = (u - std::floor(u)) * from.width;
    const Rgb light = panorama.radiance(panoramaDirection({float(x / from.width), float(s.v)}));
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
    slope = std::clamp((medianOf(far) - medianOf(near)) / std::max(0.1, medianOf(farAt) - medianOf(nearAt)),
                       -1.0, 0.0);
  double ev[3];
  for (int c = 0; c < 3; ++c) {
    std::vector<double> at;
    for (const Ratio& r : ratios) at.push_back(r.ev[c] - slope * r.offAxis2);
    ev[c] = medianOf(at);
  }
  found.gainEv = ev[1];
  for (int c = 0; c < 3; ++c) found.white[c] = std::exp2(ev[c] - ev[1]);
}

}  // namespace

Result<Alignment> align(const Picture& plate, const Camera& camera, const Panorama& panorama,
                        const Vec3d& captureM, const Progress& progress) {
  if (camera.width <= 0 || camera.focalPx <= 0 || plate.empty())
    return Error{"The vantage must be solved first: the panorama is compared with the photo through it."};
  const std::vector<Spot> spots = spotsOf(plate, camera, captureM);
  const auto at = [&](int w) { return resized(panorama.picture(), w, w / 2); };
  const Picture fine = at(std::min(720, std::max(64, panorama.picture().width)));
  const Features features(fine, {resized(fine, 240, 120), resized(fine, 72, 36)});

  Alignment found;
  found.curve.resize(turns), found.mirror.resize(turns);
  const auto score = [&](double turn, bool mirrored, int step) {
    Correlation sum;
    for (size_t i = 0; i < spots.size(); i += size_t(step))
      sum.add(spots[i].photo, features.at(columnAt(spots[i], turn, mirrored), spots[i].v, true),
              spots[i].weight);
    return sum.value();
  };
  // All turns of a degree first, then the finer ones.
  tbb::parallel_for(0, turns / 4, [&](int i) {
    for (int k = 0; k < 2 && !progress.cancelled(); ++k) {
      auto& to = k ? found.mirror : found.curve;
      const float s = float(score(double(i * 4) / turns - 0.5, k == 1, 3));
      for (int n = 0; n < 4; ++n) to[size_t(i * 4 + n)] = s;
    }
  });
  if (progress.cancelled()) return cancelledError();
  std::vector<Alignment::Peak> all;
  for (const bool mirrored : {false, true}) {
    const auto& curve = mirrored ? found.mirror : found.curve;
    for (int i = 0; i < turns; i += 4) {
      const float here = curve[size_t(i)];
      if (here > curve[size_t((i + 4) % turns)] && here >= curve[size_t((i + turns - 4) % turns)])
        all.push_back({(double(i) / turns - 0.5) * 360, mirrored, double(here)});
    }
  }
  std::sort(all.begin(), all.end(), [](const auto& a, const auto& b) { return a.score > b.score; });
  for (const Alignment::Peak& p : all) {
    bool apart = found.peaks.size() < 6;
    for (const Alignment::Peak& kept : found.peaks)
      apart &= kept.mirrored != p.mirrored || std::abs(wrapDegrees(kept.turnDegrees - p.turnDegrees)) >= 10;
    if (apart) found.peaks.push_back(p);
  }
  if (found.peaks.empty())
    return Error{"The photo is too even to compare with the panorama: turn it by hand."};
  // Each peak exactly, with every spot: halving steps.
  for (Alignment::Peak& p : found.peaks) {
    double turn = p.turnDegrees / 360;
    double best = score(turn, p.mirrored, 1);
    for (double step = 0.75 / 360; step > 0.02 / 360; step /= 2)
      for (const double side : {-1.0, 1.0})
        for (;;) {
          if (progress.cancelled()) return cancelledError();
          const double next = score(turn + side * step, p.mirrored, 1);
          if (next <= best) break;
          best = next, turn += side * step;
        }
    p.turnDegrees = wrapDegrees(turn * 360), p.score = best;
  }
  std::sort(found.peaks.begin(), found.peaks.end(),
            [](const auto& a, const auto& b) { return a.score > b.score; });
  const double best = found.best().score;
  found.ambiguous = best < 0.35 || (found.peaks.size() > 1 && best - found.peaks[1].score < 0.06);
  for (Alignment::Peak& p : found.peaks) matchLight(p, spots, panorama);
  return found;
}

}  // namespace dusk
