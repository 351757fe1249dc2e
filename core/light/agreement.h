#pragma once
#include "core/light/align.h"
#include "core/light/landmarks.h"

/// How a photo and a panorama agree by their light, spot by spot.
namespace dusk {

inline constexpr int agreementChannels =
    5;  ///< log luminance fine, middle and blurred; red and blue against green
using Feature = std::array<float, agreementChannels>;

/// One spot of the photo: a place on the ground, or a direction far away.
struct Spot {
  Feature photo;
  Rgb light;
  bool onGround;
  Vec3d at;
  double offAxis2;  ///< share of the half diagonal, squared
};
/// `plate`: scene-linear.
std::vector<Spot> spotsOf(const Picture& plate, const Camera& camera);

/// Which way a spot lies from where the panorama was taken (at turn 0, not mirrored), and how much it tells.
struct Sight {
  double u, v, weight;
};
Sight sightOf(const Spot& spot, const Vec3d& capture);

/// Log light of a picture in five agreementChannels, the coarser ones taken from smaller copies.
class Features {
 public:
  Features(const Picture& fine, const std::array<Picture, 2>& coarser);
  /// At (u, v), shares of width and height; `around`: the left edge joins the right one.
  Feature at(double u, double v, bool around) const;

 private:
  /// Some values a pixel, row by row from the top.
  template <size_t N>
  struct Field {
    int width = 0, height = 0;
    std::vector<std::array<float, N>> values;
    std::array<float, N> at(double u, double v, bool around) const;
  };
  Field<1> fine_, blurred_;
  Field<3> middle_;  ///< green, and red and blue over it
};

/// Agreement of the photo with the panorama, from any place and at any turn: the normalised cross-correlation
/// of every channel (Lewis 1995, "Fast Normalized Cross-Correlation").
class Agreement {
 public:
  Agreement(std::vector<Spot> spots, const Panorama& panorama);
  const std::vector<Spot>& spots() const { return spots_; }

  /// Every `step`-th spot seen from a place.
  using Sights = std::vector<std::pair<const Spot*, Sight>>;
  Sights sights(const Vec3d& capture, size_t step) const;
  /// `turn` as a share of the whole circle.
  double score(const Sights& sights, double turn, bool mirrored) const;
  /// The same, looked up to a degree and a half: good enough to tell where to look.
  double roughScore(const Sights& sights, double turn, bool mirrored) const;
  double score(const Alignment::Peak& p, size_t step) const {
    return score(sights(p.captureM, step), p.turnDegrees / 360, p.mirrored);
  }

 private:
  static constexpr int tableWidth = 240, tableHeight = 120;
  std::vector<Spot> spots_;
  Features features_;
  std::vector<Feature> table_;
};

/// Finds gain and white of a panorama against a photo, for one way that it may stand after another.
class LightMatch {
 public:
  LightMatch(const Picture& plate, const Camera& camera, const Panorama& panorama);
  /// Where it is turned and taken as `found` says: from all spots, and from things that are known to be the
  /// same in both (`same`), where there are enough.
  void apply(Alignment::Peak& found, const std::vector<Spot>& spots, const std::vector<Landmark>& same) const;

 private:
  struct Ratio {
    double ev[3], offAxis2;
  };
  static std::optional<Ratio> ratioOf(const Rgb& photo, const Rgb& panorama, double offAxis2);
  std::vector<Ratio> ratiosOfSpots(const Alignment::Peak& found, const std::vector<Spot>& spots) const;
  std::vector<Ratio> ratiosOfSame(bool mirrored, const std::vector<Landmark>& same) const;
  static double fallOff(const std::vector<Ratio>& ratios);
  static double fallOffOfFew(const std::vector<Ratio>& ratios);
  /// In EV, of each channel, on the axis.
  static std::array<double, 3> centresOf(const std::vector<Ratio>& ratios, double slope);

  Camera camera_;
  const Panorama& panorama_;
  Picture plateBlurred_, panoramaBlurred_;  ///< over half a degree: neither is the same to the pixel
};

}  // namespace dusk
