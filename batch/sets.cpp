// The verb that gives a shot a set.
#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/set/furnish.h"

namespace dusk::batch {
namespace fs = std::filesystem;

int furnishShot(const Request& request, Progress&) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, shot] = *asked;
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
  AssetRef light;
  if (!request.light.empty()) {
    const auto ref = AssetStore(fs::absolute(request.file).parent_path()).refer(request.light);
    if (!ref) return fail(ref.error());
    light = *ref;
  }
  furnish(project, shot, recipe, light);
  if (const auto saved = saveElsewhere(project, request.file, request.out); !saved)
    return fail(saved.error());
  print({{"file", request.out}, {"set", kind->title}, {"placed", project.shots[shot].placements.size()}},
        request.json);
  return 0;
}

}  // namespace dusk::batch
