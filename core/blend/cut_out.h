#pragma once
#include "core/assets/asset_store.h"
#include "core/blend/operation.h"

namespace dusk {

/// Cut-outs at the size and of the area of frames, each made once. Safe to use from several threads.
class CutOutStore {
 public:
  explicit CutOutStore(AssetStore& assets) : assets_(assets) {}
  Result<std::shared_ptr<const CutOutPicture>> inFrame(const Shot& shot, const CutOut& what,
                                                       const BlendFrame& frame);

 private:
  AssetStore& assets_;
  AssetCache<CutOutPicture> framed_;
};

/// A cut-out that was made for the frame, 4 channels premultiplied; where the product is nearer than it
/// stands, it is not there.
NodePtr cutOutNode(std::shared_ptr<const CutOutPicture> made, const CutOut& what, const BlendFrame& frame);

}  // namespace dusk
