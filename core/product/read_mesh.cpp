#include <assimp/postprocess.h>
#include <assimp/scene.h>

#include <assimp/Importer.hpp>

#include "core/product/formats.h"
#include "core/product/hull.h"
#include "core/product/read_model.h"

namespace dusk {
namespace {

struct FormatHabit {
  const char* ending;
  double metresPerUnit;
  const char* reason;
  UpAxis up;
};
// What files of a kind usually mean; glTF's is its standard.
constexpr FormatHabit habits[] = {{".gltf", 1.0, "glTF is in metres", UpAxis::y},
                                  {".glb", 1.0, "glTF is in metres", UpAxis::y},
                                  {".fbx", 0.01, "FBX is usually in centimetres", UpAxis::y},
                                  {".obj", 1.0, "OBJ states no unit; taken as metres", UpAxis::y},
                                  {".stl", 0.001, "STL states no unit; taken as millimetres", UpAxis::z},
                                  {".ply", 1.0, "PLY states no unit; taken as metres", UpAxis::z},
                                  {".3mf", 0.001, "3MF is usually in millimetres", UpAxis::z},
                                  {".dae", 1.0, "DAE brought to metres and Y up on reading", UpAxis::y}};

Vec3f transformed(const aiMatrix4x4& m, const aiVector3D& v) {
  const aiVector3D r = m * v;
  return {r.x, r.y, r.z};
}

class NodeWalk {
 public:
  explicit NodeWalk(const aiScene& scene) : scene_(scene) {}
  Model model;

  void visit(const aiNode& node, const aiMatrix4x4& above, int parent) {
    const aiMatrix4x4 place = above * node.mTransformation;
    const std::string name = node.mName.length ? node.mName.C_Str() : "node";
    const std::string base = parent >= 0 ? model.groups[parent].path + "/" : std::string();
    // A node that only carries one mesh is that part; any other is a group.
    if (node.mNumMeshes == 1 && node.mNumChildren == 0) {
      addPart(*scene_.mMeshes[node.mMeshes[0]], place, name, base, parent);
      return;
    }
    const std::string path = uniquePath(taken_, base + name);
    model.groups.push_back({path, name, parent});
    const int self = int(model.groups.size()) - 1;
    for (unsigned i = 0; i < node.mNumMeshes; ++i) {
      const aiMesh& mesh = *scene_.mMeshes[node.mMeshes[i]];
      addPart(mesh, place, mesh.mName.length ? mesh.mName.C_Str() : name, path + "/", self);
    }
    for (unsigned i = 0; i < node.mNumChildren; ++i) visit(*node.mChildren[i], place, self);
  }

 private:
  void addPart(const aiMesh& from, const aiMatrix4x4& place, const std::string& name, const std::string& base,
               int parent) {
    if (!from.HasNormals() || !from.HasFaces()) return;
    Part part;
    aiMatrix4x4 turn = place;
    turn.Inverse().Transpose();
    const aiMatrix3x3 normalTurn(turn);
    for (unsigned i = 0; i < from.mNumVertices; ++i) {
      part.mesh.positions.push_back(transformed(place, from.mVertices[i]));
      const aiVector3D n = normalTurn * from.mNormals[i];
      const Vec3f normal(n.x, n.y, n.z);
      part.mesh.normals.push_back(normal.length2() > 0 ? normal.normalized() : Vec3f(0, 0, 1));
      if (from.HasTextureCoords(0))
        part.mesh.uvs.emplace_back(from.mTextureCoords[0][i].x, from.mTextureCoords[0][i].y);
    }
    for (unsigned i = 0; i < from.mNumFaces; ++i)
      if (from.mFaces[i].mNumIndices == 3)
        for (unsigned k = 0; k < 3; ++k) part.mesh.indices.push_back(from.mFaces[i].mIndices[k]);
    if (part.mesh.indices.empty()) return;
    aiColor4D colour;
    if (scene_.mMaterials &&
        scene_.mMaterials[from.mMaterialIndex]->Get(AI_MATKEY_COLOR_DIFFUSE, colour) == aiReturn_SUCCESS) {
      part.hasColour = true;
      part.colour = {colour.r, colour.g, colour.b};
    }
    part.name = name;
    part.path = uniquePath(taken_, base + name);
    part.parent = parent;
    model.parts.push_back(std::move(part));
  }

  const aiScene& scene_;
  std::map<std::string, int> taken_;
};

}  // namespace

std::string uniquePath(std::map<std::string, int>& taken, const std::string& path) {
  const int n = ++taken[path];
  return n == 1 ? path : uniquePath(taken, path + " " + std::to_string(n));
}

Result<Model> readMesh(const std::filesystem::path& file) {
  try {
    Assimp::Importer importer;
    importer.SetPropertyInteger(AI_CONFIG_PP_SBP_REMOVE, aiPrimitiveType_POINT | aiPrimitiveType_LINE);
    importer.SetPropertyFloat(AI_CONFIG_PP_GSN_MAX_SMOOTHING_ANGLE, 40.0f);
    const aiScene* scene =
        importer.ReadFile(file.string(), aiProcess_Triangulate | aiProcess_JoinIdenticalVertices |
                                             aiProcess_GenSmoothNormals | aiProcess_SortByPType |
                                             aiProcess_FindDegenerates | aiProcess_ValidateDataStructure);
    if (!scene || !scene->mRootNode)
      return Error{"Cannot read " + file.string() + ": " + importer.GetErrorString() + ". Export it again.",
                   ErrorKind::unreadable};
    NodeWalk walk(*scene);
    walk.visit(*scene->mRootNode, aiMatrix4x4(), -1);
    for (const FormatHabit& habit : habits)
      if (endingOf(file) == habit.ending) {
        walk.model.metresPerUnit = habit.metresPerUnit;
        walk.model.unitReason = habit.reason;
        walk.model.up = habit.up;
      }
    return std::move(walk.model);
  } catch (const std::exception& failure) {
    return Error{"Reading " + file.string() + " failed inside: " + failure.what(), ErrorKind::unreadable};
  }
}

Result<Model> readModel(const std::filesystem::path& file) {
  if (!isModelFile(file))
    return Error{"Gentle Dusk reads STEP, IGES, OBJ, glTF, FBX, STL, PLY, 3MF and DAE models; '" +
                     endingOf(file) + "' is none of them.",
                 ErrorKind::unreadable};
  auto model = isStepFile(file) || isIgesFile(file) ? readCad(file, 0.0001) : readMesh(file);
  if (model && model->parts.empty())
    return Error{file.string() + " was read, but has no surfaces in it.", ErrorKind::unreadable};
  if (model) model->rest = restOf(*model);
  return model;
}

}  // namespace dusk
