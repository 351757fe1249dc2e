#include "core/light/sightings.h"

#include "core/base/normal_integral.h"

namespace dusk {
namespace {

/// The density of a normal distribution.
double normal(double off, double sigma) { return normalAt(off / sigma).density / sigma; }

double angleBetween(const Vec3d& a, const Vec3d& b) { return std::atan2(a.cross(b).length(), a.dot(b)); }

/// How much likelier a size that is so many octaves off what is expected is of the same thing than of any two
/// that look alike: in made-up places the one are off by a sixth of an octave, the others by one.
double sizesAgree(double octavesOff, double octaves, double sigma) {
  constexpr double own = 0.2, others = 1.1, lost = 0.05;
  return (1 - lost) * normal(octavesOff, std::hypot(own, sigma)) / normal(octaves, others) + lost;
}

/// The same of which way they point. What is built has uprights and levels: others differ by quarters.
double tiltsAgree(double off) {
  constexpr double own = 7.5 * pi / 180, others = 10 * pi / 180, built = 0.55, lost = 0.05,
                   any = 1 / (2 * pi);
  return ((1 - lost) * normal(off, own) + lost * any) /
         ((1 - built) * any + built * normal(std::remainder(off, pi / 2), others) / 4);
}

constexpr double anywhere = 1 / (4 * pi);  ///< density of bearings that may be any

/// How much likelier a bearing so far off a point is for what is seen there than for any.
double atPoint(double off, double sigma) {
  return off > 4 * sigma ? 0 : normal(off, sigma) * normal(0, sigma) / anywhere;
}

}  // namespace

Sightings::Sightings(std::vector<Landmark> landmarks, const Vec3d& eye, double usualM)
    : landmarks_(std::move(landmarks)), eye_(eye), usualM_(usualM) {
  for (const Landmark& l : landmarks_) upright_.push_back(tiltsAgree(l.tilt));
}

double Sightings::nearerThan(double distanceM) const {
  // Each octave as likely as the next, from two below what is usual to four above; few are nearer or farther.
  constexpr double near = 0.05, far = 0.15;
  const double octaves = std::log2(std::max(distanceM, 1e-6) / usualM_);
  if (octaves < -2) return near * std::max(0.0, 1 + (octaves + 2) / 2);
  if (octaves < 4) return near + (1 - near - far) * (octaves + 2) / 6;
  return 1 - far * std::max(0.0, 1 - (octaves - 4) / 4);
}

Sightings::Fit Sightings::fitOf(const Landmark& l, double cosine, double sine, const Vec3d& captureM) const {
  // The panorama's bearing in the world: turned clockwise.
  const Vec3d& p = l.panorama;
  const Vec3d q(cosine * p.x + sine * p.y, -sine * p.x + cosine * p.y, p.z), base = eye_ - captureM;
  Fit fit;
  if (l.groundM) fit.offGround = angleBetween(q, *l.groundM - captureM);
  fit.baseM = base.length();
  const Vec3d along = base / std::max(1e-9, fit.baseM), aside = l.photo - along * along.dot(l.photo);
  const double sineFar = aside.length();
  if (fit.baseM < 1e-4 || sineFar < 1e-3) {  // from the same place, or in line with both: no arc, but a point
    fit.offPlane = angleBetween(q, l.photo);
    return fit;
  }
  fit.offPlane = std::asin(std::clamp(along.cross(aside).dot(q) / sineFar, -1.0, 1.0));
  fit.there = std::atan2(aside.dot(q) / sineFar, along.dot(q));
  fit.far = std::atan2(sineFar, along.dot(l.photo));
  return fit;
}

double Sightings::onArc(size_t i, const Fit& fit, double sigma) const {
  const double octaves = landmarks_[i].octaves;
  if (fit.far == 0) return atPoint(fit.offPlane, sigma) * upright_[i] * sizesAgree(octaves, octaves, 0);
  if (std::abs(fit.offPlane) > 4 * sigma) return 0;
  const double reach = 1.5 * sigma, low = fit.there - reach, high = fit.there + reach;
  if (high <= 0 || low >= fit.far) return 0;
  // Eye, panorama and thing are a triangle: by the law of sines its angles tell how far off the thing is ...
  const auto nearer = [&](double there) {
    if (there <= 0) return 0.0;
    if (there >= fit.far) return 1.0;
    return nearerThan(fit.baseM * std::sin(there) / std::sin(fit.far - there));
  };
  const double along = (nearer(high) - nearer(low)) / (high - low);
  // ... and how much larger it is seen from the one place than from the other.
  constexpr double least = 0.02;
  const double there = std::clamp(fit.there, 0.0, fit.far), sineThere = std::max(least, std::sin(there)),
               expected = std::log2(std::max(least, std::sin(fit.far)) / sineThere),
               loose = std::abs(std::cos(there)) / sineThere * sigma / std::log(2.0);
  return normal(fit.offPlane, sigma) * along / anywhere * upright_[i] *
         sizesAgree(octaves - expected, octaves, loose);
}

double Sightings::alikeOnGround(const Landmark& l, const Vec3d& captureM) const {
  const Vec3d there = *l.groundM - captureM, here = *l.groundM - eye_;
  const double expected = std::log2(there.length() / here.length());
  // What lies on the ground turns with the way it is looked at, and is seen flat: its size tells less.
  const double turned = std::atan2(here.x, here.y) - std::atan2(there.x, there.y);
  constexpr double loose = 0.2;
  return tiltsAgree(std::remainder(l.tilt + turned, 2 * pi)) *
         sizesAgree(l.octaves - expected, l.octaves, loose);
}

double Sightings::ratio(size_t i, double cosine, double sine, const Vec3d& captureM,
                        std::span<const double> sigmas) const {
  const Landmark& l = landmarks_[i];
  const Fit fit = fitOf(l, cosine, sine, captureM);
  double arc = 0, ground = 0;
  for (const double sigma : sigmas) arc += onArc(i, fit, sigma) / double(sigmas.size());
  if (!l.groundM) return arc;
  for (const double sigma : sigmas) ground += atPoint(fit.offGround, sigma) / double(sigmas.size());
  if (ground > 0) ground *= alikeOnGround(l, captureM);
  constexpr double onGround = 0.4;
  return (1 - onGround) * arc + onGround * ground;
}

double Sightings::likelihood(double turn, const Vec3d& captureM, std::span<const double> sigmas) const {
  const double cosine = std::cos(turn), sine = std::sin(turn);
  double sum = 0;
  for (size_t i = 0; i < landmarks_.size(); ++i)
    sum += std::log(1 + landmarks_[i].same * (ratio(i, cosine, sine, captureM, sigmas) - 1));
  return sum;
}

double Sightings::likelihood(double turn, const Vec3d& captureM, double sigma) const {
  return likelihood(turn, captureM, std::span(&sigma, 1));
}

double Sightings::closely(double turn, const Vec3d& captureM) const {
  constexpr double sigmas[] = {bearingSigma, bearingSigma / 3, bearingSigma / 10};
  return likelihood(turn, captureM, sigmas);
}

std::vector<size_t> Sightings::fitting(double turn, const Vec3d& captureM) const {
  std::vector<size_t> all;
  for (size_t i = 0; i < landmarks_.size(); ++i)
    if (ratio(i, std::cos(turn), std::sin(turn), captureM, std::span(&bearingSigma, 1)) > 1) all.push_back(i);
  return all;
}

}  // namespace dusk
