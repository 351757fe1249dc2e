#pragma once
#include <span>

#include "core/base/result.h"
#include "core/product/model.h"

namespace dusk {

/// One measure that a piece is made by.
struct PieceMeasure {
  const char *name, *title;
  double usual, low, high;
  /// "m" (shown in the person's unit), "°", "" for a count or a share.
  const char* unit = "m";
};

namespace set {

/// A piece's measures, all of them, within their ranges.
class Measures {
 public:
  Measures(std::span<const PieceMeasure> measures, const Piece& piece);
  double operator[](const char* name) const;
  int count(const char* name) const { return int(std::lround((*this)[name])); }
  int seed() const { return seed_; }

 private:
  std::map<std::string, double> values_;
  int seed_;
};

}  // namespace set

/// A kind of piece: what it is made by, and how.
struct PieceKind {
  const char *name, *title, *family;
  std::vector<PieceMeasure> measures;
  /// Parts of the surface library that suit it: by the names of its parts, preset ids without "preset-".
  std::vector<std::pair<const char*, const char*>> dress;
  void (*make)(Model& to, const set::Measures& measures);
};

/// All there are, family after family.
const std::vector<PieceKind>& pieceKinds();
const PieceKind* pieceKindNamed(const std::string& name);

/// The piece as a model in metres, Z up, standing on its lowest point, its parts named and plainly coloured.
/// The same measures and seed make the same triangles. Error: no such kind.
Result<Model> makePiece(const Piece& piece);
/// The paths and names of its parts alone, soon.
std::vector<std::pair<std::string, std::string>> partsOf(const Piece& piece);

}  // namespace dusk
