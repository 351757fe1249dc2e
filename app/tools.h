#pragma once
#include "app/picture_view.h"

namespace dusk {

/// The tool of a station.
std::unique_ptr<Tool> makeTool(Station station, PictureView& view);

std::unique_ptr<Tool> makeVantageTool(PictureView& view);
std::unique_ptr<Tool> makeProductTool(PictureView& view);
std::unique_ptr<Tool> makeContactTool(PictureView& view);
std::unique_ptr<Tool> makeLightTool(PictureView& view);
std::unique_ptr<Tool> makeBlendTool(PictureView& view);
std::unique_ptr<Tool> makeRenderTool(PictureView& view);

/// Colour and dash of a run: never colour alone.
struct RunLook {
  QColor colour;
  Qt::PenStyle dash;
  const char* name;
};
RunLook runLook(Run run);

}  // namespace dusk
