#pragma once
#include <map>
#include <string>

#include "core/trace/passes.h"
#include "core/trace/scene.h"

namespace dusk {

/// A pass by its name, as it is written into a file and shown in the pass browser.
struct NamedPass {
  std::string name, about;
  Picture picture;
  bool fullFloat = false;  ///< needs 32 bits
  bool empty = false;      ///< nothing in it
  std::map<std::string, std::string> metadata{};
};

/// Every pass there is, with those of each light and each component. Made from `resolve(true)`.
std::vector<NamedPass> namedPasses(const Passes& passes, const Scene& scene);

/// The same scene with every part in one matte grey: the clay pass.
Scene clayScene(const Scene& scene);

}  // namespace dusk
