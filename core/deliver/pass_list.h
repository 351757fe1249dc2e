#pragma once
#include <map>
#include <string>

#include "core/trace/passes.h"
#include "core/trace/scene.h"

namespace dusk {

/// What a pass's numbers are.
enum class PassKind { light, ratio, share, direction, metres, place, identity };

/// A pass by its name, as it is written into a file and shown in the pass browser.
struct NamedPass {
  std::string name, about;
  Picture picture;
  PassKind kind = PassKind::light;
  bool empty = false;  ///< nothing in it
  std::map<std::string, std::string> metadata{};
  bool needsFullFloat() const { return kind >= PassKind::metres; }
};

/// Names by which passes are chosen: that of a light's share stands for all lights'.
std::vector<std::string> passFamilies();
/// Whether a pass is among those that are chosen; none chosen: all are.
bool isChosen(const std::vector<std::string>& chosen, const std::string& pass);

/// Every pass there is, with those of each light and each component. Made from `resolve(true)`.
std::vector<NamedPass> namedPasses(Passes passes, const Scene& scene);
/// The same of a single black pixel, with every pass that a render of the scene may come to.
std::vector<NamedPass> possiblePasses(const Scene& scene);

/// A pass that is traced of its own, with every part in one surface.
struct OverridePass {
  std::string name, about;
  BsdfParameters surface;
};
/// Those that a shot asks for among its extra passes: "clay", and "surface:ID" for a surface of the project.
std::vector<OverridePass> overridePasses(const Project& project, const RenderSettings& settings);

/// The scene with every part in one surface.
Scene overridden(const Scene& scene, const BsdfParameters& surface);

}  // namespace dusk
