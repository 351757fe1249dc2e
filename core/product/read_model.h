#pragma once
#include <filesystem>
#include <optional>

#include "core/base/result.h"
#include "core/product/formats.h"
#include "core/product/model.h"
#include "core/product/reading_pace.h"

namespace dusk {

/// Reads a STEP or IGES file with its assembly tree (one mesh for a part in many places), names, layers,
/// colours and hidden state (OpenCASCADE, XCAF), tessellated to `chordM` metres, with the exact surfaces'
/// normals. Faces with a colour of their own become parts beside the rest. Runs the reader in this process:
/// only the import worker, the demo maker and tests call it.
Result<Model> readCad(
    const std::filesystem::path& file, double chordM, const ReadReport& report = [](ReadPhase, double) {});

/// Reads OBJ, glTF/GLB, FBX, STL, PLY, 3MF or DAE with its materials and textures (Assimp): one part per mesh
/// under its node.
Result<Model> readMesh(const std::filesystem::path& file, std::optional<double> creaseDegrees,
                       const ReadReport& report);

/// One of the two by the file's ending, telling how far it is. Error: unknown ending, unreadable, or nothing
/// with a surface in it.
Result<Model> readModel(
    const std::filesystem::path& file, const ReadOptions& options = {},
    const ReadReport& report = [](ReadPhase, double) {});

/// `path` made unique among `taken` by a number, and taken.
std::string uniquePath(std::map<std::string, int>& taken, const std::string& path);

}  // namespace dusk
