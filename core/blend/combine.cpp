#include "core/blend/combine.h"

namespace dusk {
namespace {

class Combined : public Node {
 public:
  Combined(std::vector<NodePtr> inputs, int channels, NodeKey key, RowWork work)
      : Node(inputs.front()->whole, channels, inputs, std::move(key)), work_(std::move(work)) {}
  void make(std::span<const Sheet> from, Sheet& to) const override {
    std::vector<std::vector<const float*>> in(from.size());
    std::vector<float*> out(static_cast<size_t>(channels));
    for (size_t i = 0; i < from.size(); ++i) in[i].resize(size_t(from[i].channels));
    for (int y = to.area.y0; y < to.area.y1; ++y) {
      for (size_t i = 0; i < from.size(); ++i)
        for (int c = 0; c < from[i].channels; ++c)
          in[i][size_t(c)] = from[i].row(c, y) + (to.area.x0 - from[i].area.x0);
      for (int c = 0; c < channels; ++c) out[size_t(c)] = to.row(c, y);
      work_(in, out.data(), to.area.width(), to.area.x0, y);
    }
  }

 private:
  RowWork work_;
};

}  // namespace

NodePtr combined(std::vector<NodePtr> inputs, int channels, NodeKey key, RowWork work) {
  return std::make_shared<Combined>(std::move(inputs), channels, std::move(key), std::move(work));
}

}  // namespace dusk
