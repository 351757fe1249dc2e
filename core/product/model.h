#pragma once
#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "core/base/maths.h"
#include "core/project/project.h"

namespace dusk {

/// Triangles in the file's own unit. One normal per vertex (unit length); texture coordinates empty or one
/// per vertex.
struct Mesh {
  std::vector<Vec3f> positions, normals;
  std::vector<Vec2f> uvs;
  std::vector<Vec3f> colours;     ///< scene-linear Rec.709; empty or one per vertex
  std::vector<uint32_t> indices;  ///< three per triangle, counter-clockwise from outside
  size_t triangles() const { return indices.size() / 3; }
};

struct Box {
  Vec3d low{1e300, 1e300, 1e300}, high{-1e300, -1e300, -1e300};
  bool empty() const { return low.x > high.x; }
  Vec3d size() const { return empty() ? Vec3d(0, 0, 0) : high - low; }
  Vec3d middle() const { return empty() ? Vec3d(0, 0, 0) : (low + high) * 0.5; }
  void add(const Vec3d& p) {
    for (int i = 0; i < 3; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  }
};

/// A picture that came with a material: 8-bit RGBA, rows from the top.
struct FileTexture {
  std::string name;
  int width = 0, height = 0;
  std::vector<uint8_t> rgba;
};

/// A material as the file states it, in the terms of glTF 2.0. Texture indices into Model::textures, -1:
/// none.
struct FileMaterial {
  std::string name;
  bool hasColour = false;
  bool vertexColours = false;                         ///< times those of the mesh's vertices
  Vec3f colour{0.6f, 0.6f, 0.6f}, emission{0, 0, 0};  ///< scene-linear Rec.709
  float metalness = 0, roughness = 0.45f, ior = 1.5f, transmission = 0, clearcoat = 0,
        clearcoatRoughness = 0.05f;
  float specular = 1, anisotropy = 0, anisotropyTurn = 0, abbe = 0;
  Vec3f sheenColour{0, 0, 0}, absorptionColour{1, 1, 1};
  float sheenRoughness = 0;
  float absorptionDepthM = 0;  ///< of the volume; 0: clear
  bool thinWalled = false;
  float film = 0, filmIor = 1.3f;             ///< share of the base that has a thin film
  float filmThinNm = 100, filmThickNm = 400;  ///< where its texture is 0 and 1; without one, thick
  int colourTexture = -1;                     ///< sRGB; times `colour`
  int metalRoughTexture = -1;  ///< roughness in green, metalness in blue; times the plain values
  int normalTexture = -1;      ///< tangent space
  float normalStrength = 1;    ///< how much of that
  int emissionTexture = -1, sheenColourTexture = -1;     ///< sRGB
  int clearcoatTexture = -1;                             ///< in red
  int clearcoatRoughnessTexture = -1;                    ///< in green
  int clearcoatNormalTexture = -1;                       ///< tangent space
  int transmissionTexture = -1;                          ///< in red
  int sheenRoughnessTexture = -1, specularTexture = -1;  ///< in alpha
  int filmTexture = -1;                                  ///< its thickness, in green
  float alpha = 1;                                       ///< times the colour texture's
  /// What is below this alpha is not there; 0: everything is, below 0: what is there is the share alpha.
  float cutAt = 0;
  bool operator==(const FileMaterial&) const = default;
};

/// The centre line of a round CAD face, in the model's frame: offered as a hinge.
struct RoundAxis {
  Vec3f point, direction;
  float radius = 0, length = 0;
};

/// One thing with a shape in the assembly. `path` names it uniquely: "Gauge/Housing/Lid"; repeated names get
/// " 2", " 3".
struct Part {
  std::string path, name;
  int parent = -1;      ///< index into Model::groups
  int mesh = -1;        ///< index into Model::meshes; several parts may show one mesh
  Similarity place{};   ///< model from mesh
  int material = -1;    ///< index into Model::materials; -1: none stated
  std::string layer{};  ///< of the CAD file; empty when none
  bool hiddenInFile = false;
  std::vector<RoundAxis> axes{};  ///< longest first
};

/// An assembly node that holds parts or other groups.
struct Group {
  std::string path, name;
  int parent = -1;
};

/// What decides how a model rests: the corners of its convex hull and its centre of mass, in the model's
/// frame.
struct Rest {
  std::vector<Vec3f> hull;
  Vec3f centreOfMass{0, 0, 0};
};

/// What was put right on reading a mesh file.
struct Repairs {
  uint64_t degenerate = 0;         ///< triangles of no area, left out
  uint64_t duplicateVertices = 0;  ///< joined
  uint64_t flipped = 0;            ///< triangles turned to face outward, or the way their normals say
  uint64_t withoutNormals = 0;     ///< vertices that got normals
  Repairs& operator+=(const Repairs& r) {
    degenerate += r.degenerate, duplicateVertices += r.duplicateVertices;
    flipped += r.flipped, withoutNormals += r.withoutNormals;
    return *this;
  }
  bool operator==(const Repairs&) const = default;
};

/// A file that a model names and that was looked for when it was read.
struct SideFile {
  std::string name;     ///< as the model says
  std::string path;     ///< where it was, relative to the model's folder; empty: nowhere
  std::string hash;     ///< of what was there
  bool unread = false;  ///< it was there, but is no picture that can be read
  bool operator==(const SideFile&) const = default;
};

/// A product model as read from its file. Immutable once made.
struct Model {
  std::vector<Group> groups;
  std::vector<Part> parts;
  std::vector<Mesh> meshes;
  std::vector<FileMaterial> materials;
  std::vector<FileTexture> textures;
  double metresPerUnit = 0.001;
  std::string unitReason;  ///< "STEP says millimetre"
  UpAxis up = UpAxis::z;
  Rest rest;
  Repairs repairs;
  double chordM = 0;  ///< how far its facets may be off the CAD surface; 0 for mesh files
  std::vector<SideFile> sideFiles;

  const Mesh& meshOf(const Part& part) const { return meshes[size_t(part.mesh)]; }
  /// The part's material, or a plain grey where the file states none.
  const FileMaterial& materialOf(const Part& part) const {
    static const FileMaterial plain;
    return part.material < 0 ? plain : materials[size_t(part.material)];
  }
  /// Adds a part with a mesh of its own.
  Part& add(Part part, Mesh mesh) {
    part.mesh = int(meshes.size());
    meshes.push_back(std::move(mesh));
    parts.push_back(std::move(part));
    return parts.back();
  }

  /// As shown: a mesh in three places counts three times.
  size_t triangles() const {
    size_t n = 0;
    for (const Part& p : parts) n += meshOf(p).triangles();
    return n;
  }
  Box box() const;
  /// Of one part, in the model's frame.
  Box boxOf(const Part& part) const;
};

/// Whether `branch` is the path of the part or of a group it is in.
bool isUnder(const std::string& path, const std::string& branch);

/// What a part does: as told of it, or of the nearest group it is in.
PartRole roleOf(const Product& product, const std::string& path);

/// Whether it is left in the picture as a thing of its own: neither hidden nor only catching.
bool isRendered(const Product& product, const std::string& path);

/// Whether some of it catches for what the photo shows.
bool hasCatchers(const Product& product);

/// Whether nothing of it is rendered: it is hidden, or only catches.
bool isNowhereRendered(const Product& product, const Model& model);

/// The paths that all its parts' begin with.
std::vector<std::string> rootsOf(const Model& model);

/// Lets the parts of these branches catch instead of being rendered, or renders them again; what else they do
/// stays.
void letCatch(Product& product, const std::vector<std::string>& branches, bool catches);

/// How far a part is moved within the model by the product's moves: those of its groups after its own.
/// Identity for most.
Similarity movedWithin(const Product& product, const Part& part);

/// World from model for a placement: unit and up-axis applied, middle of the box over (x, y), its lowest
/// point at the plane it stands on (`planeM` above the ground) plus the lift. Moved and hidden parts do not
/// change it: opening a lid leaves the product where it is.
Similarity worldFromModel(const Product& product, const Placement& placement, const Model& model,
                          double planeM = 0);

/// True size in metres along world X, Y, Z before any turn.
Vec3d trueSize(const Product& product, const Box& box);

}  // namespace dusk
