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
  QString hint() const override {
    if (session_.station() != Station::surface) return {};
    const std::string& part = session_.selectedPart();
    return part.empty() ? "Click a part to see its surface, or drop a preset on it"
                        : QString::fromStdString(part.substr(part.rfind('/') + 1));
  }
};

}  // namespace

std::unique_ptr<Tool> makePartTool(PictureView& view, Workbench&) { return std::make_unique<PartTool>(view); }

}  // namespace dusk
