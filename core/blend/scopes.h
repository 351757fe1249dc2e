#pragma once
#include <array>
#include <cstdint>
#include <optional>

#include "core/picture/picture.h"
#include "core/project/project.h"
#include "core/trace/passes.h"

/// How the tones of a finished picture lie, the product's beside the photo's.
namespace dusk {

/// 8-bit codes of a picture, a pixel a word: 0xffRRGGBB.
struct CodeView {
  int width = 0, height = 0;
  const uint32_t* pixels = nullptr;
  size_t stride = 0;  ///< pixels from a row to the next
  uint32_t at(int x, int y) const { return pixels[size_t(y) * stride + size_t(x)]; }
};

/// The tones of some of a picture's pixels.
struct Tones {
  static constexpr int across = 128, levels = 128;  ///< of the waveform
  static constexpr int side = 97,
                       reach = 60;  ///< of the colour circle: cells, and CIELAB's a* and b* at its rim
  size_t pixels = 0;
  std::array<std::array<float, 256>, 4> histogram{};  ///< [R, G, B, brightness][code] shares of the pixels
  std::vector<float> waveform{};                      ///< [level from the foot][column of the picture] shares
  std::vector<float> circle{};                        ///< [b* from the foot][a*] shares
  double dark = 0, middle = 0, light = 0;  ///< codes below which 1, 50 and 99 % of the brightness lies
  double a = 0, b = 0;                     ///< the mean colour, CIELAB
};

struct Scopes {
  Tones product, photo;
  /// The photo's pixels are of ground as far away as the product; otherwise of all of the photo.
  bool sameDepth = false;
  double fromM = 0, toM = 0;  ///< along the optical axis
};

/// The scopes of a picture that shows `area` of one of `width` x `height` pixels: where the product covers
/// it, and where the photo is as it was. Some ten thousand pixels of each are looked at.
Scopes scopesOf(const CodeView& codes, const Passes& passes, const Shot& shot, int width, int height,
                const PixelArea& area);

/// Why a pixel cannot show more.
enum class CodeEnd : unsigned char {
  none,
  burnt,
  black,
  beyond
};  ///< beyond: one channel ends, others do not

/// [pixel] where codes end that are not the photo's own: on the product, and where it changes the photo.
std::vector<CodeEnd> codeEnds(const CodeView& codes, const Passes& passes);

}  // namespace dusk
