#pragma once
#include <QString>
#include <memory>
#include <span>
#include <string_view>

#include "app/document/station.h"
#include "app/stations/status.h"
#include "core/base/words.h"

namespace dusk {

class Desk;
class PictureView;
class Tool;
class Workbench;

/// One station of the work. The table of these drives bar, stack, tools, menu, keys and help: a station is a
/// folder here, a line there, and its place in `Station`.
struct StationInfo {
  Station station;
  const char* name;
  const char* purpose;  ///< ends a sentence: "Plate: choose the photograph"
  StationStatus (*status)(const StatusInput&);
  Desk* (*makeDesk)(Workbench&);
  std::unique_ptr<Tool> (*makeTool)(PictureView&, Workbench&);
};
std::span<const StationInfo> stations();
const StationInfo& infoOf(Station station);
/// The one that a finding names, in English; nullptr when there is none of that name.
const StationInfo* stationNamed(std::string_view name);
/// As it is called in the language in use.
inline const char* stationName(Station station) { return words(infoOf(station).name); }

}  // namespace dusk
