#pragma once
#include "core/variant/apply.h"

namespace dusk {

/// The project as one of its shots shows it at a moment: by the options chosen then, with all that moves
/// where it is then. A pure function of the document. Moved on to another moment from there it is as from the
/// document itself, but for options that only the document tells apart. What means nothing any more is left
/// as it stands, and told in `lost`.
Applied at(const Project& project, size_t shot, double seconds);
/// The same at the moment that single pictures show.
Project asStill(const Project& project, size_t shot);

/// The options chosen at a moment, and of what follows which share is mixed in.
struct ChoiceAt {
  VariantChoice from, to;
  double share = 0;
};
ChoiceAt choiceAt(const Shot& shot, double seconds);
/// The project by the options chosen at a moment, mixed where one goes over into another; nothing has moved.
Applied chosenAt(const Project& project, size_t shot, double seconds);

/// Whether anything of a shot moves.
inline bool moves(const Shot& shot) { return !shot.motion.tracks.empty(); }

}  // namespace dusk
