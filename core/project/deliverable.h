#pragma once
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/picture/exr_compression.h"

namespace dusk {

enum class DeliverableKind {
  png,
  exr,
  jpeg,
  tiff,
  webp,
  avif,
  openRaster,
  proofPage,
  proofPdf,
  mp4,
  webm,
  gif,
  webpLoop,
  gltfScene
};

/// Whether the plate is part of a picture, or what the product brings lies on nothing: itself and its shadow,
/// with colours as they are (straight) or times their alpha (premultiplied).
enum class DeliveredAlpha { none, straight, premultiplied };

/// A crop of the picture that is delivered, at a size of its own; its ratio is that of the size.
struct PictureFrame {
  std::string id, name;
  Vec2d centre{0.5, 0.5};               ///< shares of the picture; about the product: from where that stands
  double width = 1;                     ///< share of the picture's width
  int widthPx = 1080, heightPx = 1080;  ///< of the file
  double dpi = 0;             ///< pixels to the inch of a print; 0: the size is told in pixels alone
  bool aboutProduct = false;  ///< goes with the first product placed
  bool operator==(const PictureFrame&) const = default;
};

/// One file that is asked for.
struct Deliverable {
  DeliverableKind kind = DeliverableKind::png;
  std::string fileName;  ///< without folder; {words} in braces stand for what is known when it is written
  bool on = true;
  std::string frameId{};  ///< empty: the whole picture
  int bits = 8;           ///< of a channel: 8, 16, or 32 for scene light in floats
  DeliveredAlpha alpha = DeliveredAlpha::none;
  double quality = 92;  ///< of kinds that lose some, up to 100
  int mostKb = 0;       ///< of a JPEG: the quality is lowered until it is no larger; 0: as large as it comes
  ExrCompression compression = ExrCompression::zip;
  bool onePart = false;               ///< of an EXR: its passes as layers of one part
  std::vector<std::string> passes{};  ///< of an EXR, by name; empty: all there are
  bool operator==(const Deliverable&) const = default;
};

/// What is said of the picture in its files, and by which its names are made.
struct HandOver {
  std::string title, creator, rights;
  bool keepsExif = true;  ///< what the photo's camera wrote goes along
  int version = 1;
  bool operator==(const HandOver&) const = default;
};

}  // namespace dusk
