#pragma once
#include <QString>
#include <optional>

#include "app/document/station.h"
#include "core/project/project.h"

namespace dusk {

/// What a station's work cannot do without, and where that is made.
struct Missing {
  QString sentence;
  Station at;
};

/// The first thing that is missing for the work of a station; nothing where it can begin.
std::optional<Missing> missingFor(Station station, const Project& project, const Shot& shot);

}  // namespace dusk
