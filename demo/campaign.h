#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk::demo {

/// Writes `brackwater.dusk` and `truth.json` into `folder`, which already holds the gauge, the plate and the
/// panorama.
Outcome writeCampaign(const std::filesystem::path& folder);

/// The gauge after some years at sea, from `brackwater.dusk`: worn edges, dust and smudges, and the maker's
/// label, which is written beside it as a drawing.
Outcome writeUsed(const std::filesystem::path& folder);

/// Saves a project with the photos' own grain on what is placed in them.
Outcome saveMatched(Project project, const std::filesystem::path& file);

}  // namespace dusk::demo
