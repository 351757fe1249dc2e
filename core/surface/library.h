#pragma once
#include <vector>

#include "core/project/project.h"

namespace dusk {

/// A surface that we ship. Its id begins with "preset-"; dropping it on a part copies it into the project,
/// where it may change.
struct LibrarySurface {
  const char* family;
  Surface surface;
};

/// All of them, family after family.
const std::vector<LibrarySurface>& surfaceLibrary();
/// nullptr when none has that id.
const Surface* librarySurface(const std::string& id);

}  // namespace dusk
