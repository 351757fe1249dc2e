#pragma once
#include "core/product/set/piece_kinds.h"
#include "core/product/set/shapes.h"

namespace dusk::set {

/// What a piece's part is made of until it is dressed.
enum class Stuff { plaster, wood, stone, metal, cloth, paper, glass, leaf, rope };

/// Adds a part by its name.
void add(Model& to, const char* name, Stuff stuff, const Shape& shape, double creaseDegrees = 35);

const std::vector<PieceKind>& plinthKinds();
const std::vector<PieceKind>& roomKinds();
const std::vector<PieceKind>& throwingKinds();
const std::vector<PieceKind>& furnitureKinds();
const std::vector<PieceKind>& looseKinds();

}  // namespace dusk::set
