#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/product/model.h"

namespace dusk {

/// Reads a STEP or IGES file with its assembly tree, names and colours (OpenCASCADE, XCAF), tessellated with
/// a chord error of `chordM` metres at most. Runs the reader in this process: only the import worker, the
/// demo maker and tests call it.
Result<Model> readCad(const std::filesystem::path& file, double chordM);

/// Reads OBJ, glTF/GLB, FBX, STL, PLY, 3MF or DAE (Assimp): one part per mesh under its node.
Result<Model> readMesh(const std::filesystem::path& file);

/// One of the two by the file's ending. Error: unknown ending, unreadable, or nothing with a surface in it.
Result<Model> readModel(const std::filesystem::path& file);

/// `path` made unique among `taken` by a number, and taken.
std::string uniquePath(std::map<std::string, int>& taken, const std::string& path);

}  // namespace dusk
