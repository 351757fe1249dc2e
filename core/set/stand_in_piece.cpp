#include "core/set/stand_in_piece.h"

#include <algorithm>

#include "core/product/set/piece_kinds.h"
#include "core/set/furnish.h"

namespace dusk {
namespace {

constexpr double sharpEdgeM = 0.0005, sheetM = 0.005;

}  // namespace

Piece pieceLike(const StandIn& s) {
  Piece piece;
  const auto measure = [&](const char* name, double metres) { piece.measures[name] = metres; };
  switch (s.kind) {
    case StandInKind::box:
      piece.kind = "plinth-square";
      measure("depth", s.sizeM.y), measure("height", s.sizeM.z), measure("edge", sharpEdgeM);
      break;
    case StandInKind::cylinder:
      piece.kind = "plinth-round";
      measure("height", s.sizeM.z), measure("edge", sharpEdgeM);
      break;
    case StandInKind::ball:
      piece.kind = "ball";
      break;
    case StandInKind::sheet:
      piece.kind = "slab";
      measure("depth", s.sizeM.y), measure("height", sheetM), measure("rough", 0);
      measure("edge", sharpEdgeM);
      break;
  }
  measure("width", s.sizeM.x);
  const PieceKind& kind = *pieceKindNamed(piece.kind);
  for (const PieceMeasure& m : kind.measures)
    if (const auto at = piece.measures.find(m.name); at != piece.measures.end())
      at->second = std::clamp(at->second, m.low, m.high);
  return piece;
}

std::string renderStandIn(Project& project, size_t index, const std::string& standInId) {
  StandIn* s = byId(project.shots[index].standIns, standInId);
  if (!s) return {};
  const StandIn was = *s;
  s->on = false;
  const Piece piece = pieceLike(was);
  const std::string id = addPiece(project, index, piece.kind, was.positionM.x, was.positionM.y);
  project.products.back().piece = piece, project.products.back().name = was.name;
  Placement& placement = project.shots[index].placements.back();
  placement.turnDegrees = was.turnDegrees, placement.liftM = was.positionM.z;
  if (was.kind != StandInKind::sheet) return id;
  // Its upper side is where the sheet is.
  const double lean = radians(was.leanDegrees), turn = radians(was.turnDegrees);
  const Vec3d normal(std::sin(turn) * std::sin(lean), -std::cos(turn) * std::sin(lean), std::cos(lean)),
      middle = was.positionM - normal * (sheetM / 2);
  placement.xM = middle.x, placement.yM = middle.y, placement.leanXDegrees = was.leanDegrees;
  placement.liftM = middle.z - std::abs(std::sin(lean)) * piece.measures.at("depth") / 2 -
                    std::abs(std::cos(lean)) * sheetM / 2;
  return id;
}

}  // namespace dusk
