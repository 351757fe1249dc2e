#pragma once
#include <assimp/scene.h>

#include <vector>

namespace dusk {

/// Fills `scene` with one mesh under a node of that name below the root, in one plain material: for writing
/// model files with the library's own exporters. Normals may be left out. `scene` owns all of it.
inline void fillOneMesh(aiScene& scene, const char* node, const std::vector<aiVector3D>& positions,
                        const std::vector<aiVector3D>& normals, const std::vector<unsigned>& corners) {
  scene.mRootNode = new aiNode("root");
  scene.mNumMaterials = scene.mNumMeshes = 1;
  scene.mMaterials = new aiMaterial* [1] { new aiMaterial };
  auto* mesh = new aiMesh;
  scene.mMeshes = new aiMesh* [1] { mesh };
  mesh->mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
  mesh->mNumVertices = unsigned(positions.size());
  mesh->mVertices = new aiVector3D[positions.size()];
  std::copy(positions.begin(), positions.end(), mesh->mVertices);
  if (!normals.empty()) {
    mesh->mNormals = new aiVector3D[normals.size()];
    std::copy(normals.begin(), normals.end(), mesh->mNormals);
  }
  mesh->mNumFaces = unsigned(corners.size() / 3);
  mesh->mFaces = new aiFace[mesh->mNumFaces];
  for (unsigned i = 0; i < mesh->mNumFaces; ++i) {
    mesh->mFaces[i].mNumIndices = 3;
    mesh->mFaces[i].mIndices = new unsigned[3]{corners[i * 3], corners[i * 3 + 1], corners[i * 3 + 2]};
  }
  auto* carrier = new aiNode(node);
  scene.mRootNode->addChildren(1, &carrier);
  carrier->mNumMeshes = 1;
  carrier->mMeshes = new unsigned[1]{0};
}

}  // namespace dusk
