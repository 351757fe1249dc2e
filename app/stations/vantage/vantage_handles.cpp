#include "app/stations/vantage/vantage_handles.h"

namespace dusk {

std::vector<Handle> handlesOf(const Evidence& e) {
  std::vector<Handle> all;
  for (size_t i = 0; i < e.strokes.size(); ++i) {
    const size_t n = e.strokes[i].points.size();
    for (size_t k = 0; k < n; ++k)
      if (e.strokes[i].drawn.empty() || k == 0 || k + 1 == n) all.push_back({Handle::stroke, i, k});
  }
  if (e.footprint)
    for (size_t k = 0; k < 4; ++k) all.push_back({Handle::corner, 0, k});
  for (size_t i = 0; i < e.pins.size(); ++i) all.push_back({Handle::pin, i, 0});
  for (size_t i = 0; i < e.lengths.size(); ++i)
    for (size_t k = 0; k < 2; ++k) all.push_back({Handle::length, i, k});
  for (size_t k = 0; k < e.levelLine.size(); ++k) all.push_back({Handle::horizon, 0, k});
  if (e.origin) all.push_back({Handle::origin, 0, 0});
  return all;
}

Vec2d* handleValue(Evidence& e, const Handle& h) {
  switch (h.kind) {
    case Handle::stroke:
      return h.item < e.strokes.size() && h.point < e.strokes[h.item].points.size()
                 ? &e.strokes[h.item].points[h.point]
                 : nullptr;
    case Handle::corner:
      return e.footprint ? &e.footprint->corners[h.point] : nullptr;
    case Handle::pin:
      return h.item < e.pins.size() ? &e.pins[h.item].at : nullptr;
    case Handle::length:
      if (h.item >= e.lengths.size()) return nullptr;
      return h.point ? &e.lengths[h.item].to : &e.lengths[h.item].from;
    case Handle::horizon:
      return h.point < e.levelLine.size() ? &e.levelLine[h.point] : nullptr;
    case Handle::origin:
      return e.origin ? &*e.origin : nullptr;
    case Handle::box:
    case Handle::none:
      break;
  }
  return nullptr;
}

}  // namespace dusk
