#pragma once
#include "demo/insertion.h"

namespace dusk::bench {

/// Made-up tables that mirror what stands about, unlike the demo's places: a room with two windows and a
/// crate right behind the product, its panorama taken a hand above the table. `demo`: the folder whose
/// products stand there; `scratch`: where the panorama goes.
struct GlossyTable {
  enum class Top { lacquer, varnish, wetStone };
  Top top = Top::lacquer;
  bool cratesTold = false;  ///< the crates are known as stand-ins
};
std::string nameOf(const GlossyTable& table);
Result<demo::TruthSet> glossyTable(const GlossyTable& table, const std::filesystem::path& demo,
                                   const std::filesystem::path& scratch);

}  // namespace dusk::bench
