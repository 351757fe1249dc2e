#include "core/blend/cut_out.h"

#include "core/blend/combine.h"

namespace dusk {

namespace {
/// Loops that were drawn otherwise since, and bands of a large picture that are done, are not needed again.
void trim(AssetCache<CutOutPicture>& cache) {
  constexpr size_t most = size_t{256} << 20;
  while (cache.bytes() > most && cache.oldestUse()) cache.dropOldest();
}
}  // namespace

Result<std::shared_ptr<const CutOutPicture>> CutOutStore::inFrame(const Shot& shot, const CutOut& what,
                                                                  const BlendFrame& frame) {
  const auto made = assets_.cutOut(shot, what);
  if (!made) return made.error();
  trim(framed_);
  const std::string key = NodeKey("cut-out").with(made->get()).with(frame.whole).with(frame.width).text();
  return framed_.get(key, [&]() -> Result<std::shared_ptr<const CutOutPicture>> {
    const auto plate = assets_.plate(shot);
    if (!plate || ((*plate)->width == frame.width && (*plate)->height == frame.height))
      return plate ? made : Result<std::shared_ptr<const CutOutPicture>>(plate.error());
    // Made smaller or larger as the plate is, so that a pixel of both shows the same.
    Picture all((*plate)->width, (*plate)->height, {"R", "G", "B", "A"});
    const CutOutPicture& own = **made;
    for (int y = 0; y < own.light.height; ++y)
      std::copy_n(own.light.at(0, y), own.light.width * 4, all.at(own.area.x0, y + own.area.y0));
    return std::make_shared<const CutOutPicture>(CutOutPicture{
        resizedArea(all, frame.width, frame.height, frame.whole), frame.whole, own.scale, own.from});
  });
}

namespace {

/// Nothing outside of a smaller picture's area.
class Placed : public Node {
 public:
  Placed(std::shared_ptr<const CutOutPicture> made, const PixelArea& whole)
      : Node(whole, 4, {}, NodeKey("placed").with(made.get()).with(whole)), made_(std::move(made)) {}
  void make(std::span<const Sheet>, Sheet& to) const override {
    const PixelArea& a = made_->area;
    for (int c = 0; c < 4; ++c)
      for (int y = to.area.y0; y < to.area.y1; ++y)
        for (int x = to.area.x0; x < to.area.x1; ++x)
          to.row(c, y)[x - to.area.x0] =
              x >= a.x0 && x < a.x1 && y >= a.y0 && y < a.y1 ? made_->light.at(x - a.x0, y - a.y0)[c] : 0.0f;
  }

 private:
  std::shared_ptr<const CutOutPicture> made_;
};

}  // namespace

NodePtr cutOutNode(std::shared_ptr<const CutOutPicture> made, const CutOut& what, const BlendFrame& frame) {
  const NodePtr thing = held(std::make_shared<Placed>(std::move(made), frame.whole));
  if (what.standsAtM <= 0 || !frame.depth) return thing;
  const float at = float(what.standsAtM);
  return combined({thing, frame.depth}, 4, NodeKey("stands at").with(at),
                  [at](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < 4; ++c)
                      for (int i = 0; i < count; ++i)
                        out[c][i] = in[1][0][i] > 0 && in[1][0][i] < at ? 0.0f : in[0][c][i];
                  });
}

}  // namespace dusk
