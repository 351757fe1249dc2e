#pragma once
#include "core/assets/asset_store.h"
#include "core/blend/operation.h"

namespace dusk {

/// A thing of the photo with the rest of it taken away: light freed of its background, premultiplied by its
/// alpha (R, G, B, A), for an area of the photo.
struct CutOutPicture {
  Picture light;
  PixelArea area;
};

inline size_t bytesOf(const CutOutPicture& c) { return c.light.pixels.size() * sizeof(float); }

/// Finds the thing inside a loop of a picture in scene-linear light: first roughly (Rother, Kolmogorov &
/// Blake 2004, "GrabCut: Interactive Foreground Extraction using Iterated Graph Cuts"), then its alpha along
/// the border (see matte.h), then its own colours there. `scale`: pixels of the picture to one of what the
/// cut-out's points are in. Errors: the loop has no inside, or nothing is found in it.
Result<std::shared_ptr<const CutOutPicture>> cutOut(const CutOut& what, const Picture& photo, double scale);

/// Cut-outs of shots' photos, each found once. Safe to use from several threads.
class CutOutStore {
 public:
  explicit CutOutStore(AssetStore& assets) : assets_(assets) {}
  /// In the photo as the place is lit by it (see AssetStore::plate).
  Result<std::shared_ptr<const CutOutPicture>> find(const Shot& shot, const CutOut& what);
  /// The same at the size and of the area of a frame.
  Result<std::shared_ptr<const CutOutPicture>> inFrame(const Shot& shot, const CutOut& what,
                                                       const BlendFrame& frame);

 private:
  AssetStore& assets_;
  std::string keyOf(const Photo& photo, const CutOut& what) const;
  AssetCache<CutOutPicture> made_, framed_;
};

/// A cut-out that was made for the frame, 4 channels premultiplied; where the product is nearer than it
/// stands, it is not there.
NodePtr cutOutNode(std::shared_ptr<const CutOutPicture> made, const CutOut& what, const BlendFrame& frame);

}  // namespace dusk
