#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <tbb/parallel_for.h>

#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>

#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/product/formats.h"
#include "core/product/hull.h"
#include "core/product/read_gltf_file.h"
#include "core/product/read_mesh_materials.h"
#include "core/product/read_model.h"
#include "core/product/read_side_io.h"
#include "core/product/read_stated_unit.h"
#include "core/product/repair.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

struct FormatHabit {
  const char* ending;
  double metresPerUnit;
  const char* reason;
  UpAxis up;
  bool facetNormals = false;  ///< its normals are of facets, not of the surface: made anew
  /// What the colours of vertices are there: those of the surface, as light or as code values of sRGB, or
  /// who knows what (masks, wind).
  enum class Colours { light, coded, unknown } colours = Colours::unknown;
};
using enum FormatHabit::Colours;
// What files of a kind usually mean; glTF's is its standard.
constexpr FormatHabit habits[] = {
    {".gltf", 1.0, marked("glTF is in metres"), UpAxis::y, false, light},
    {".glb", 1.0, marked("glTF is in metres"), UpAxis::y, false, light},
    {".fbx", 0.01, marked("FBX is usually in centimetres"), UpAxis::y},
    {".obj", 1.0, marked("OBJ states no unit; taken as metres"), UpAxis::y, false, coded},
    {".stl", 0.001, marked("STL states no unit; taken as millimetres"), UpAxis::z, true},
    {".ply", 1.0, marked("PLY states no unit; taken as metres"), UpAxis::z, false, coded},
    {".3mf", 0.001, marked("3MF is usually in millimetres"), UpAxis::z},
    {".dae", 1.0, marked("DAE brought to metres and Y up on reading"), UpAxis::y}};
constexpr double creaseOfFacets = 40;

/// Of a file whose ending isModelFile knows and isCadFile does not.
const FormatHabit& habitOf(const fs::path& file) {
  const std::string ending = endingOf(file);
  return *std::find_if(std::begin(habits), std::end(habits) - 1,
                       [&](const FormatHabit& h) { return ending == h.ending; });
}

/// A node's transform as a similarity, where it is one that keeps handedness.
std::optional<Similarity> similarity(const aiMatrix4x4& m) {
  const Vec3d x(m.a1, m.b1, m.c1), y(m.a2, m.b2, m.c2), z(m.a3, m.b3, m.c3);
  const double s = x.length();
  if (!(s > 0) || std::abs(y.length() - s) > 1e-5 * s || std::abs(z.length() - s) > 1e-5 * s) return {};
  const Triadd r{x / s, y / s, z / s};
  if (std::abs(r.x.dot(r.y)) > 1e-5 || std::abs(r.y.dot(r.z)) > 1e-5 || std::abs(r.z.dot(r.x)) > 1e-5 ||
      r.x.cross(r.y).dot(r.z) < 0)
    return {};
  return Similarity{r, s, {m.a4, m.b4, m.c4}};
}

/// Those of the vertices, in light; none where they are all alike and say nothing. `coded`: they are sRGB.
std::vector<Vec3f> coloursFrom(const aiMesh& from, bool coded) {
  std::vector<Vec3f> colours(from.mNumVertices);
  bool differ = false;
  for (size_t i = 0; i < colours.size(); ++i) {
    const aiColor4D& c = from.mColors[0][i];
    const float all[3] = {c.r, c.g, c.b};
    for (int k = 0; k < 3; ++k) {
      const float v = std::isfinite(all[k]) ? std::clamp(all[k], 0.0f, 1.0f) : 1.0f;
      colours[i][k] = coded ? srgbDecoded(v) : v;
    }
    differ |= colours[i] != colours[0];
  }
  const bool plain = colours.empty() || colours[0] == Vec3f(0) || colours[0] == Vec3f(1);
  return differ || !plain ? colours : std::vector<Vec3f>();
}

/// The mesh's data as they are, through `place` where one is given (it need not be a similarity), with the
/// coordinates its material's textures lie on.
Mesh meshFrom(const aiMesh& from, const aiMatrix4x4* place, const UvPlace& textures, bool coded) {
  Mesh mesh;
  const size_t n = from.mNumVertices;
  mesh.positions.resize(n);
  for (size_t i = 0; i < n; ++i) {
    const aiVector3D p = place ? *place * from.mVertices[i] : from.mVertices[i];
    mesh.positions[i] = {p.x, p.y, p.z};
  }
  if (from.HasNormals()) {
    aiMatrix3x3 turn;
    if (place) turn = aiMatrix3x3(*place).Inverse().Transpose();
    mesh.normals.resize(n);
    for (size_t i = 0; i < n; ++i) {
      const aiVector3D v = place ? turn * from.mNormals[i] : from.mNormals[i];
      const Vec3f normal(v.x, v.y, v.z);
      mesh.normals[i] = std::isfinite(normal.length2()) ? normal.normalized() : Vec3f(0, 0, 0);
    }
  }
  if (from.HasVertexColors(0)) mesh.colours = coloursFrom(from, coded);
  if (const auto set = unsigned(textures.set); from.HasTextureCoords(set)) {
    mesh.uvs.resize(n);
    for (size_t i = 0; i < n; ++i)
      mesh.uvs[i] = textures({from.mTextureCoords[set][i].x, from.mTextureCoords[set][i].y});
  }
  mesh.indices.reserve(size_t(from.mNumFaces) * 3);
  const bool mirrored = place && place->Determinant() < 0;
  for (unsigned i = 0; i < from.mNumFaces; ++i) {
    const aiFace& face = from.mFaces[i];
    if (face.mNumIndices != 3) continue;
    mesh.indices.push_back(face.mIndices[0]);
    mesh.indices.push_back(face.mIndices[mirrored ? 2 : 1]);
    mesh.indices.push_back(face.mIndices[mirrored ? 1 : 2]);
  }
  return mesh;
}

class ParseHandler : public Assimp::ProgressHandler {
 public:
  explicit ParseHandler(const ReadReport& report) : report_(report) {}
  bool Update(float done) override {
    if (done >= 0) report_(ReadPhase::parse, double(done));
    return true;
  }

 private:
  const ReadReport& report_;
};

class NodeWalk {
 public:
  /// `stem`: what is shown for things that the file gives no name.
  NodeWalk(const aiScene& scene, Model& model, std::string stem)
      : scene_(scene), model_(model), stem_(std::move(stem)) {}

  void visit(const aiNode& node, const aiMatrix4x4& above, int parent) {
    const aiMatrix4x4 place = above * node.mTransformation;
    const std::string name = node.mName.length ? node.mName.C_Str() : "node";
    const std::string base = parent >= 0 ? model_.groups[size_t(parent)].path + "/" : std::string();
    // A node that only carries one mesh is that part; any other is a group.
    if (node.mNumMeshes == 1 && node.mNumChildren == 0) {
      addPart(node.mMeshes[0], place, name, base, parent);
      return;
    }
    const std::string path = uniquePath(taken_, base + name);
    model_.groups.push_back({path, shown(name), parent});
    const int self = int(model_.groups.size()) - 1;
    for (unsigned i = 0; i < node.mNumMeshes; ++i) {
      const aiMesh& mesh = *scene_.mMeshes[node.mMeshes[i]];
      addPart(node.mMeshes[i], place, mesh.mName.length ? mesh.mName.C_Str() : name, path + "/", self);
    }
    for (unsigned i = 0; i < node.mNumChildren; ++i) visit(*node.mChildren[i], place, self);
  }

  /// The meshes, each repaired, side by side; parts left without a surface go.
  void mesh(const std::vector<UvPlace>& textures, const FormatHabit& habit,
            std::optional<double> creaseDegrees, const ReadReport& report) {
    model_.meshes.resize(sources_.size());
    std::vector<Repairs> repairs(sources_.size());
    std::atomic<size_t> repaired{0};
    report(ReadPhase::facet, 0);
    tbb::parallel_for(size_t{0}, sources_.size(), [&](size_t i) {
      const Source& s = sources_[i];
      const aiMesh& from = *scene_.mMeshes[s.mesh];
      model_.meshes[i] =
          meshFrom(from, s.baked ? &*s.baked : nullptr,
                   from.mMaterialIndex < textures.size() ? textures[from.mMaterialIndex] : UvPlace{},
                   habit.colours != light);
      repairs[i] = repair(model_.meshes[i], creaseDegrees);
      report(ReadPhase::facet, double(++repaired) / double(sources_.size()));
    });
    for (const Repairs& r : repairs) model_.repairs += r;
    if (habit.colours != FormatHabit::Colours::unknown) wearVertexColours(habit.colours == light);
    std::erase_if(model_.parts, [&](const Part& p) { return model_.meshOf(p).indices.empty(); });
  }

 private:
  /// Parts whose vertices have colours wear them: times what their material says, or in its place.
  void wearVertexColours(bool times) {
    std::map<int, int> coloured;
    for (Part& part : model_.parts) {
      if (model_.meshOf(part).colours.empty() || (!times && model_.materialOf(part).colourTexture >= 0))
        continue;
      const auto [at, fresh] = coloured.emplace(part.material, int(model_.materials.size()));
      if (fresh) {
        FileMaterial m = model_.materialOf(part);
        m.vertexColours = true;
        if (!times) m.hasColour = true, m.colour = Vec3f(1);
        model_.materials.push_back(std::move(m));
      }
      part.material = at->second;
    }
  }

  struct Source {
    unsigned mesh;
    std::optional<aiMatrix4x4> baked;
  };

  /// What readers call what has no name, or is a step on the way to it, says nothing to anybody.
  std::string shown(const std::string& name) const {
    return name == "node" || name.starts_with('<') || name == "defaultobject"
               ? stem_
               : name.substr(0, name.find("_$AssimpFbx$"));
  }

  void addPart(unsigned index, const aiMatrix4x4& place, const std::string& name, const std::string& base,
               int parent) {
    const aiMesh& from = *scene_.mMeshes[index];
    if (!from.HasFaces() || !from.HasPositions()) return;
    Part part;
    if (const auto simple = similarity(place)) {
      part.place = *simple;
      const auto [at, fresh] = shared_.emplace(index, int(sources_.size()));
      if (fresh) sources_.push_back({index, {}});
      part.mesh = at->second;
    } else {
      part.mesh = int(sources_.size());
      sources_.push_back({index, place});
    }
    part.material = from.mMaterialIndex < scene_.mNumMaterials ? int(from.mMaterialIndex) : -1;
    part.name = shown(name);
    part.path = uniquePath(taken_, base + name);
    part.parent = parent;
    model_.parts.push_back(std::move(part));
  }

  const aiScene& scene_;
  Model& model_;
  std::map<std::string, int> taken_;
  std::map<unsigned, int> shared_;
  std::vector<Source> sources_;
  std::string stem_;
};

}  // namespace

std::string uniquePath(std::map<std::string, int>& taken, const std::string& path) {
  const int n = ++taken[path];
  return n == 1 ? path : uniquePath(taken, path + " " + std::to_string(n));
}

namespace {

Error unreadable(const fs::path& file, std::string why) {
  while (!why.empty() && (why.back() == '.' || why.back() == '\n' || why.back() == ' ')) why.pop_back();
  if (why == "No meshes remaining") why = "it has points or lines, but no surfaces";
  return {"Cannot read " + file.string() + ": " + why + ". Export it again.", ErrorKind::unreadable};
}

/// The scene of a file, which `importer` keeps.
Result<const aiScene*> sceneOf(Assimp::Importer& importer, const fs::path& file, const GltfFile* gltf) {
  importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
  constexpr unsigned steps = aiProcess_Triangulate | aiProcess_SortByPType;
  std::string plain;  // in place of the file, where its shapes are packed
  if (gltf) {
    auto unpacked = plainGltf(*gltf);
    if (!unpacked) return unpacked.error();
    plain = std::move(*unpacked).value_or("");
  }
  const aiScene* scene = plain.empty()
                             ? importer.ReadFile(file.string(), steps)
                             : importer.ReadFileFromMemory(plain.data(), plain.size(), steps, "glb");
  if (!scene || !scene->mRootNode) return unreadable(file, importer.GetErrorString());
  return scene;
}

/// The unit and the upward axis: as the file says, else as its kind is usually meant.
void takeMeasure(const fs::path& file, const aiScene& scene, const FormatHabit& habit, Model& model) {
  model.metresPerUnit = habit.metresPerUnit, model.unitReason = habit.reason, model.up = habit.up;
  std::optional<StatedUnit> stated;
  if (endingOf(file) == ".3mf") stated = unitOf3mf(file);
  if (endingOf(file) == ".fbx") stated = unitOfFbx(scene), model.up = upOfFbx(scene);
  if (stated) model.metresPerUnit = stated->metres, model.unitReason = stated->reason;
}

}  // namespace

Result<Model> readMesh(const fs::path& file, std::optional<double> creaseDegrees, const ReadReport& report) {
  try {
    SideFiles sides(file);
    Assimp::Importer importer;
    importer.SetProgressHandler(new ParseHandler(report));  // the importer's to delete, as is the next
    importer.SetIOHandler(new SideIo(file, sides));
    std::optional<GltfFile> gltf;
    if (const std::string ending = endingOf(file); ending == ".gltf" || ending == ".glb")
      gltf.emplace(file, sides);
    const auto scene = sceneOf(importer, file, gltf ? &*gltf : nullptr);
    if (!scene) return scene.error();
    const FormatHabit& habit = habitOf(file);
    Model model;
    takeMeasure(file, **scene, habit, model);
    if (habit.facetNormals && !creaseDegrees) creaseDegrees = creaseOfFacets;
    const auto textures = readMaterials(**scene, sides, gltf ? &*gltf : nullptr, model);
    NodeWalk walk(**scene, model, file.stem().string());
    walk.visit(*(*scene)->mRootNode, aiMatrix4x4(), -1);
    walk.mesh(textures, habit, creaseDegrees, report);
    model.sideFiles = sides.all();
    return model;
  } catch (const std::exception& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.what(), ErrorKind::unreadable};
  }
}

Result<Model> readModel(const fs::path& file, const ReadOptions& options, const ReadReport& report) {
  if (!isModelFile(file))
    return Error{"Gentle Dusk reads STEP, IGES, OBJ, glTF, FBX, STL, PLY, 3MF and DAE models; '" +
                     endingOf(file) + "' is none of them.",
                 ErrorKind::unreadable};
  auto model =
      isCadFile(file) ? readCad(file, options.chordM, report) : readMesh(file, options.creaseDegrees, report);
  if (model && model->parts.empty())
    return Error{file.string() + " was read, but has no surfaces in it.", ErrorKind::unreadable};
  if (model) model->rest = restOf(*model);
  return model;
}

}  // namespace dusk
