#pragma once
#include <memory>

/// Each station's desk and tool, made in its folder.
namespace dusk {

class Desk;
class PictureView;
class Tool;
class Workbench;

Desk* makePlateDesk(Workbench& bench);
Desk* makeVantageDesk(Workbench& bench);
Desk* makeProductDesk(Workbench& bench);
Desk* makeSurfaceDesk(Workbench& bench);
Desk* makeLightDesk(Workbench& bench);
Desk* makeContactDesk(Workbench& bench);
Desk* makeRenderDesk(Workbench& bench);
Desk* makeBlendDesk(Workbench& bench);
Desk* makeDeliverDesk(Workbench& bench);

/// Picks parts, and where there is no photo takes the camera in hand.
std::unique_ptr<Tool> makePlateTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeVantageTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeProductTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeSurfaceTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeContactTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeLightTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeBlendTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeRenderTool(PictureView& view, Workbench& bench);
std::unique_ptr<Tool> makeDeliverTool(PictureView& view, Workbench& bench);
/// Picks parts: where nothing is dragged.
std::unique_ptr<Tool> makePartTool(PictureView& view, Workbench& bench);

}  // namespace dusk
