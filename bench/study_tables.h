#pragma once
#include "demo/insertion.h"

namespace dusk::bench {

/// Made-up tables in a room with two windows, unlike the demo's places: three tops that mirror what stands
/// about, with a crate right behind the product, and one of paper with a jar of water, photographed with the
/// aperture wide open. The panorama is taken a hand above the table. `demo`: the folder whose
/// products stand there; `scratch`: where the panorama goes.
struct StudyTable {
  enum class Top { lacquer, varnish, wetStone, paper };
  Top top = Top::lacquer;
  bool cratesTold = false;  ///< the crates are known as stand-ins
  bool jar = false;         ///< of glass, in little depth of field; else the gauges
};
std::string nameOf(const StudyTable& table);
Result<demo::TruthSet> studyTable(const StudyTable& table, const std::filesystem::path& demo,
                                  const std::filesystem::path& scratch);

}  // namespace dusk::bench
