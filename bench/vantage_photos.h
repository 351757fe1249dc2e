#pragma once

namespace dusk::study {

/// The solver on real photographs, the chessboards and the building that Debian's package opencv-doc holds;
/// says so and does nothing where that is not installed.
void studyPhotographs();

}  // namespace dusk::study
