#include "app/stations/stations.h"

#include "app/stations/parts.h"
#include "app/widgets/desk.h"
#include "core/base/words.h"

namespace dusk {
namespace {

const StationInfo table[] = {
    {Station::plate, marked("Plate"), marked("choose the photograph"), plateStatus, makePlateDesk,
     makePlateTool},
    {Station::vantage, marked("Vantage"), marked("find the camera that took it"), vantageStatus,
     makeVantageDesk, makeVantageTool},
    {Station::product, marked("Product"), marked("bring the product in and stand it on the ground"),
     productStatus, makeProductDesk, makeProductTool},
    {Station::surface, marked("Surface"), marked("dress the parts in surfaces"), surfaceStatus,
     makeSurfaceDesk, makeSurfaceTool},
    {Station::light, marked("Light"), marked("light it as the place was lit"), lightStatus, makeLightDesk,
     makeLightTool},
    {Station::contact, marked("Contact"), marked("let it touch the ground"), contactStatus, makeContactDesk,
     makeContactTool},
    {Station::render, marked("Render"), marked("trace it: samples and passes"), renderStatus, makeRenderDesk,
     makeRenderTool},
    {Station::blend, marked("Blend"), marked("blend product and photo"), blendStatus, makeBlendDesk,
     makeBlendTool},
    {Station::deliver, marked("Hand over"), marked("write the files"), deliverStatus, makeDeliverDesk,
     makeDeliverTool},
};
static_assert(std::size(table) == stationCount);

}  // namespace

std::span<const StationInfo> stations() { return table; }

const StationInfo& infoOf(Station station) { return table[size_t(station)]; }
const StationInfo* stationNamed(std::string_view name) {
  for (const StationInfo& info : table)
    if (name == info.name) return &info;
  return nullptr;
}

}  // namespace dusk
