#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/picture/photo.h"

namespace dusk {

/// How photos fare that enter by a view's inverse and leave by the view.
struct RoundTrip {
  bool undone = true;     ///< the view can be gone back; else photos enter by the sRGB curve
  double worstCodes = 0;  ///< the farthest that a code of 255 comes out from where it went in
  double share = 0;       ///< of all colours of 8 bits that come out as others, 0 to 1
};

/// A view: how scene-linear Rec.709 becomes sRGB display code values, and its exact inverse, by which the
/// plate enters. Immutable; safe to use from many threads at once.
class ColourView {
 public:
  /// `name` is one of `names()`. Error: unknown name, or OpenColorIO refuses our configuration.
  static Result<std::shared_ptr<const ColourView>> make(const std::string& name);
  /// The views we ship, the default first: "plain sRGB", "soft shoulder", "ACES".
  static std::vector<std::string> names();

  /// In place, three channels interleaved, `count` pixels.
  void toDisplay(float* rgb, size_t count) const;
  void toScene(float* rgb, size_t count) const;
  /// What toScene makes of code / (levels - 1), to the bit, where it treats each channel for itself and all
  /// alike; else empty. `levels`: 256 or 65536.
  const std::vector<float>& sceneTable(int levels) const;
  /// What toDisplay gives as the nearest of 256 code values, to the bit, quickly: R, G, B in planes to
  /// interleaved codes.
  void toCodes8(const float* r, const float* g, const float* b, int count, uint8_t* rgb) const;

  /// Whether its codes are those of an sRGB screen, by what the display is called; else files of it carry no
  /// colour profile.
  bool isSrgb() const;
  /// Found from colours all through the cube, once.
  const RoundTrip& roundTrip() const;

  /// What OpenColorIO made of it (see ocio_view.h).
  struct Processors;
  explicit ColourView(std::unique_ptr<Processors> processors);
  ~ColourView();
  ColourView(const ColourView&) = delete;
  ColourView& operator=(const ColourView&) = delete;

 private:
  std::unique_ptr<Processors> processors_;
};

/// The photograph in scene-linear light: `view` undone, unless the file was scene-linear already.
Picture sceneLinear(const Photo& photo, const ColourView& view);
/// That area of it at another size: of `resized(sceneLinear(photo, view), width, height)`, to the bit,
/// without the rest being made.
Picture sceneLinearArea(const Photo& photo, const ColourView& view, int width, int height,
                        const PixelArea& area);
/// Scene-linear to 0..1 code values under `view`; needs three channels.
Picture displayed(const Picture& linear, const ColourView& view);

/// Multiplier per channel that renders a light of `kelvin` (1667 to 25000), adapted to Rec.709, luminance 1.
/// Kim et al. 2002, "Design of advanced color temperature control system for HDTV applications": cubic fit of
/// the Planckian locus; 6504 K is close to, not exactly, white (the locus passes beside D65).
Rgb kelvinColour(double kelvin);

}  // namespace dusk
