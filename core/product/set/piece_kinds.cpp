#include "core/product/set/piece_kinds.h"

#include <mutex>

#include "core/base/words.h"
#include "core/product/hull.h"
#include "core/product/set/piece_parts.h"

namespace dusk {
namespace set {
namespace {

/// Whether parts are only named: to make their meshes is most of the work.
thread_local bool namesOnly = false;

const FileMaterial& materialOf(Stuff stuff) {
  static const std::vector<FileMaterial> all = [] {
    const auto plain = [](const char* name, Vec3f colour, float roughness, float metalness = 0) {
      FileMaterial m;
      m.name = name, m.hasColour = true, m.colour = colour, m.roughness = roughness, m.metalness = metalness;
      return m;
    };
    FileMaterial glass = plain("Glass", {0.97f, 0.98f, 0.975f}, 0.02f);
    glass.transmission = 1, glass.ior = 1.52f, glass.thinWalled = true;
    return std::vector{plain("Plaster", {0.72f, 0.69f, 0.64f}, 0.9f),
                       plain("Wood", {0.42f, 0.27f, 0.15f}, 0.6f),
                       plain("Stone", {0.38f, 0.37f, 0.35f}, 0.8f),
                       plain("Metal", {0.55f, 0.54f, 0.52f}, 0.35f, 1),
                       plain("Cloth", {0.6f, 0.56f, 0.48f}, 0.95f),
                       plain("Paper", {0.78f, 0.77f, 0.75f}, 0.9f),
                       glass,
                       plain("Leaf", {0.06f, 0.14f, 0.03f}, 0.5f),
                       plain("Rope", {0.48f, 0.36f, 0.2f}, 0.95f)};
  }();
  return all[size_t(stuff)];
}

}  // namespace

void add(Model& to, const char* name, Stuff stuff, const Shape& shape, double creaseDegrees) {
  if (shape.corners().empty()) return;
  const FileMaterial& wanted = materialOf(stuff);
  int material = -1;
  for (size_t i = 0; i < to.materials.size(); ++i)
    if (to.materials[i].name == wanted.name) material = int(i);
  if (material < 0) material = int(to.materials.size()), to.materials.push_back(wanted);
  int same = 1;
  for (const Part& p : to.parts) same += p.name == name;
  Part part;
  part.name = name;
  part.path = same == 1 ? name : name + (" " + std::to_string(same));
  part.material = material;
  to.add(std::move(part), namesOnly ? Mesh{} : shape.mesh(creaseDegrees));
}

Measures::Measures(std::span<const PieceMeasure> measures, const Piece& piece) : seed_(piece.seed) {
  for (const PieceMeasure& m : measures) {
    const auto given = piece.measures.find(m.name);
    values_[m.name] = given == piece.measures.end() ? m.usual : std::clamp(given->second, m.low, m.high);
  }
}

double Measures::operator[](const char* name) const {
  const auto at = values_.find(name);
  return at == values_.end() ? 0 : at->second;
}

}  // namespace set

const std::vector<PieceKind>& pieceKinds() {
  static const std::vector<PieceKind> all = [] {
    std::vector<PieceKind> kinds;
    for (const auto* some : {&set::plinthKinds(), &set::roomKinds(), &set::throwingKinds(),
                             &set::furnitureKinds(), &set::looseKinds()})
      kinds.insert(kinds.end(), some->begin(), some->end());
    return kinds;
  }();
  return all;
}

const PieceKind* pieceKindNamed(const std::string& name) {
  for (const PieceKind& kind : pieceKinds())
    if (name == kind.name) return &kind;
  return nullptr;
}

Result<Model> makePiece(const Piece& piece) {
  const PieceKind* kind = pieceKindNamed(piece.kind);
  if (!kind)
    return Error{marked("There is no piece called \"") + piece.kind + "\"; a newer Gentle Dusk may know it.",
                 ErrorKind::unreadable};
  Model model;
  model.metresPerUnit = 1, model.unitReason = "made in metres";
  kind->make(model, set::Measures(kind->measures, piece));
  model.rest = restOf(model);
  return model;
}

namespace {

std::vector<std::pair<std::string, std::string>> namedParts(const Piece& piece) {
  const PieceKind* kind = pieceKindNamed(piece.kind);
  if (!kind) return {};
  Model model;
  set::namesOnly = true;
  kind->make(model, set::Measures(kind->measures, piece));
  set::namesOnly = false;
  std::vector<std::pair<std::string, std::string>> all;
  for (const Part& part : model.parts) all.emplace_back(part.path, part.name);
  return all;
}

}  // namespace

std::vector<std::pair<std::string, std::string>> partsOf(const Piece& piece) {
  // A slider of a set asks for the same ones again and again.
  static std::mutex mutex;
  static std::vector<std::pair<Piece, std::vector<std::pair<std::string, std::string>>>> known;
  constexpr size_t most = 256;
  const std::lock_guard lock(mutex);
  for (const auto& [of, parts] : known)
    if (of == piece) return parts;
  if (known.size() >= most) known.erase(known.begin(), known.begin() + most / 2);
  return known.emplace_back(piece, namedParts(piece)).second;
}

}  // namespace dusk
