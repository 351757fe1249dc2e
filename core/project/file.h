#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk {

inline constexpr int projectSchema = 1;

/// The document as the text of a `.dusk` file (docs/format.md): JSON, keys sorted, two spaces, shortest
/// numbers that read back exactly. `toText(*fromText(toText(p))) == toText(p)` for every project.
std::string toText(const Project& project);
/// Error: not JSON, a value of the wrong kind (says which), non-finite or out of its range, or a newer
/// schema.
Result<Project> fromText(const std::string& text);

/// Atomic; see writeFileAtomically.
Outcome saveProject(const Project& project, const std::filesystem::path& file);
Result<Project> loadProject(const std::filesystem::path& file);

}  // namespace dusk
