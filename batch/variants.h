#pragma once
#include "batch/verbs.h"
#include "core/variant/apply.h"

namespace dusk::batch {

/// The project once for each variant of a shot that was typed: as in "colour=green", "all" (their files named
/// by them), or as the shot has chosen where nothing was. What means nothing any more is said on standard
/// error. Error: no such axis or option, an excluded pair, too many.
Result<std::vector<Project>> chosen(const Project& project, size_t shot, const std::string& typed);

/// The one that was typed. Error: several.
Result<Project> chosenOne(const Project& project, size_t shot, const std::string& typed);

}  // namespace dusk::batch
