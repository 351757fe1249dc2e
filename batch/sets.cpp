// The verb that gives a shot a set.
#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/set/furnish.h"

namespace dusk::batch {
namespace fs = std::filesystem;

int furnishShot(const Request& request, Progress&) {
  auto project = loadProject(request.file);
  if (!project) return fail(project.error());
  const auto shot = shotIndex(*project, request.shot);
  if (!shot) return fail(shot.error());
  const SetKind* kind = setKindNamed(request.kind);
  if (!kind) {
    std::string all;
    for (const SetKind& k : setKinds()) all += (all.empty() ? "" : ", ") + std::string(k.name);
    return fail(
        {"There is no set called \"" + request.kind + "\"; there are: " + all + ".", ErrorKind::unreadable});
  }
  SetRecipe recipe{request.kind, request.seed, {}};
  for (const std::string& typed : request.sliders) {
    const size_t equals = typed.find('=');
    const auto named = std::find_if(kind->sliders.begin(), kind->sliders.end(),
                                    [&](const SetSlider& s) { return s.name == typed.substr(0, equals); });
    char* end = nullptr;
    const double value = equals == std::string::npos ? -1 : std::strtod(typed.c_str() + equals + 1, &end);
    if (named == kind->sliders.end() || !end || *end || !(value >= 0 && value <= 1)) {
      std::string all;
      for (const SetSlider& s : kind->sliders) all += (all.empty() ? "" : ", ") + std::string(s.name);
      return fail({"--slider takes NAME=0 to 1, with one of: " + all + ".", ErrorKind::unreadable});
    }
    recipe.sliders[named->name] = value;
  }
  const AssetStore from(fs::absolute(request.file).parent_path()),
      to(fs::absolute(request.out).parent_path());
  AssetRef light;
  if (!request.light.empty()) {
    const auto ref = from.refer(request.light);
    if (!ref) return fail(ref.error());
    light = *ref;
  }
  furnish(*project, *shot, recipe, light);
  eachLink(*project, [&](AssetRef& ref, LinkKind) { ref = to.relinked(ref, from); });
  if (const auto saved = saveProject(*project, request.out); !saved) return fail(saved.error());
  print({{"file", request.out}, {"set", kind->title}, {"placed", project->shots[*shot].placements.size()}},
        request.json);
  return 0;
}

}  // namespace dusk::batch
