#include "app/stations/parts.h"
#include "app/views/picture_view.h"

namespace dusk {
namespace {

class PartTool : public Tool {
 public:
  using Tool::Tool;
  bool press(const Vec2d& at, Qt::KeyboardModifiers) override {
    const auto pick = view_.pick(at);
    session_.selectPart(pick.part, pick.placement);
    return false;
  }
};

}  // namespace

std::unique_ptr<Tool> makePartTool(PictureView& view, Workbench&) { return std::make_unique<PartTool>(view); }

}  // namespace dusk
