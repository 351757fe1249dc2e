#include "app/stations/stations.h"

#include "app/stations/parts.h"
#include "app/widgets/desk.h"

namespace dusk {
namespace {

const StationInfo table[] = {
    {Station::plate, "Plate", "choose the photograph", plateStatus, makePlateDesk, makePlateTool},
    {Station::vantage, "Vantage", "find the camera that took it", vantageStatus, makeVantageDesk,
     makeVantageTool},
    {Station::product, "Product", "bring the product in and stand it on the ground", productStatus,
     makeProductDesk, makeProductTool},
    {Station::surface, "Surface", "dress the parts in surfaces", surfaceStatus, makeSurfaceDesk,
     makeSurfaceTool},
    {Station::light, "Light", "light it as the place was lit", lightStatus, makeLightDesk, makeLightTool},
    {Station::contact, "Contact", "let it touch the ground", contactStatus, makeContactDesk, makeContactTool},
    {Station::render, "Render", "trace it: samples and passes", renderStatus, makeRenderDesk, makeRenderTool},
    {Station::blend, "Blend", "blend product and photo", blendStatus, makeBlendDesk, makeBlendTool},
    {Station::deliver, "Hand over", "write the files", deliverStatus, makeDeliverDesk, makeDeliverTool},
};
static_assert(std::size(table) == stationCount);

}  // namespace

std::span<const StationInfo> stations() { return table; }

const StationInfo& infoOf(Station station) { return table[size_t(station)]; }

}  // namespace dusk
