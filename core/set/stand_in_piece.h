#pragma once
#include "core/project/project.h"

namespace dusk {

/// The piece that has a stand-in's shape and measures, as far as pieces go.
Piece pieceLike(const StandIn& standIn);

/// Renders a piece where a stand-in is, in its stead: dressed as its kind is, to be dressed otherwise. The
/// stand-in is switched off, and what stands on it goes on doing so. The id of the new placement; empty where
/// the shot has no such stand-in.
std::string renderStandIn(Project& project, size_t shot, const std::string& standInId);

}  // namespace dusk
