#include "app/tools.h"

#include <QtWidgets>

#include "app/look.h"

namespace dusk {
namespace {

/// Picks parts: at the stations where nothing is dragged.
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

RunLook runLook(Run run) {
  switch (run) {
    case Run::a:
      return {QColor("#f2a65a"), Qt::SolidLine, "run a"};
    case Run::b:
      return {QColor("#7cc4d1"), Qt::DashLine, "run b"};
    case Run::up:
      break;
  }
  return {QColor("#d7a8e6"), Qt::DashDotLine, "upright"};
}

std::unique_ptr<Tool> makeTool(Station station, PictureView& view) {
  switch (station) {
    case Station::vantage:
      return makeVantageTool(view);
    case Station::product:
      return makeProductTool(view);
    case Station::contact:
      return makeContactTool(view);
    case Station::light:
      return makeLightTool(view);
    case Station::blend:
      return makeBlendTool(view);
    case Station::render:
      return makeRenderTool(view);
    default:
      return std::make_unique<PartTool>(view);
  }
}

}  // namespace dusk
