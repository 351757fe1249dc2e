#pragma once
#include <span>
#include <string>

#include "core/project/project.h"

/// Edits of a project's list of shots. A project keeps at least one.
namespace dusk {

/// One empty shot, as a new project has it.
Project emptyProject();
/// An empty shot with an id and a name that the project has not yet, and what is usually delivered.
Shot newShot(const Project& project);

/// Adds an empty shot after the one at `after`, or a copy of that; its id.
std::string addShot(Project& project, size_t after, bool copy);
/// Takes products away that no shot places.
void dropUnplaced(Project& project);
/// Takes a shot away, and products that no shot places any more; not the last one.
void removeShot(Project& project, const std::string& id);
/// Moves a shot to another place in the list.
void moveShot(Project& project, const std::string& id, size_t to);

/// What one shot can bring from another of its project. Surfaces are all shots' already.
struct ShotPart {
  const char* name;  ///< "light"
  const char* tip;   ///< what comes along
  /// Why it cannot be brought, as a sentence; empty when it can.
  std::string (*obstacle)(const Shot& from, const Shot& to);
  void (*bring)(const Shot& from, Shot& to);
};
std::span<const ShotPart> shotParts();

}  // namespace dusk
