#pragma once
#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/project/asset_ref.h"
#include "core/project/decal.h"

namespace dusk {

enum class UpAxis { x, y, z };

/// How a part or group is moved within its product, in the model's own unit and axes: a turn about an axis
/// through the pivot (a hinge), then a shift.
struct PartMove {
  Vec3d pivot{0, 0, 0}, axis{0, 0, 1}, shift{0, 0, 0};
  double turnDegrees = 0;
  bool operator==(const PartMove&) const = default;
};

/// What a part does in the picture beside looking like its surface.
struct PartRole {
  bool seen = true;      ///< by the camera
  bool mirrored = true;  ///< in mirrors and through glass
  bool shadow = true;    ///< keeps light from others
  bool lit = true;       ///< gets light that others send back, not that of lights alone
  bool alpha = true;     ///< counts in the picture's alpha
  double bounce = 1;     ///< of its colour that it throws on the place; 1 as physics has it
  /// It stands for what the photo shows there: it catches, blocks and reflects for that, and never shows.
  bool catcher = false;
  bool operator==(const PartRole&) const = default;
};

/// How the cast shows a product's parts.
enum class Grouping { node, material, each };

/// A piece of a set, in place of a model file: made by code from its measures.
struct Piece {
  std::string kind;                          ///< a name of `pieceKinds`; empty: the product is a model file's
  std::map<std::string, double> measures{};  ///< by name; metres, degrees, shares or counts; others as usual
  int seed = 1;                              ///< of what is a little off in it
  bool operator==(const Piece&) const = default;
};

/// A model and how it is dressed; shared by all shots of a campaign.
struct Product {
  Product();
  Product(std::string id, std::string name, AssetRef model);
  Product(const Product&);
  Product(Product&&) noexcept;
  Product& operator=(const Product&);
  Product& operator=(Product&&) noexcept;
  ~Product();
  std::string id, name;
  AssetRef model;
  double metresPerUnit = 0.001;  ///< of the file's own unit
  UpAxis up = UpAxis::z;         ///< which of the file's axes points up
  std::map<std::string, std::string>
      surfaceOfPart{};                         ///< part path -> surface id; others show their own colour
  std::set<std::string> hiddenParts{};         ///< paths of parts that are left out
  std::map<std::string, PartMove> moves{};     ///< by path of a part or group
  std::map<std::string, std::string> names{};  ///< part path -> the name it is shown by
  std::map<std::string, std::string> groupOfPart{};  ///< part path -> a group of the person's own
  Grouping grouping = Grouping::node;
  std::optional<double> chordMm{};  ///< how far facets may be off the CAD surface; else by the picture
  std::vector<Decal> decals{};      ///< printed on it, the last on top
  std::map<std::string, PartRole> roles{};  ///< by path of a part or group; others do all
  std::optional<double> creaseDegrees{};    ///< edges sharper than this stay sharp; else as the file says
  Piece piece{};
  bool operator==(const Product&) const;
};

/// Where a product stands: the spot of its middle on the ground, its turn about the upright, and how high it
/// is lifted. The lean comes before the turn: a rotation about the level axis (leanX, leanY), as long as its
/// angle.
struct Placement {
  std::string id, productId;
  double xM = 0, yM = 0, liftM = 0, turnDegrees = 0;
  double leanXDegrees = 0, leanYDegrees = 0;
  std::string levelId{};     ///< the level plane or stand-in it stands on; empty: the ground
  bool cutAtGround = false;  ///< what is below that plane is left out
  bool operator==(const Placement&) const = default;
};

}  // namespace dusk
