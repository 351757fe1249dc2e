#include "core/proof/match.h"
#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/project/file.h"

namespace fs = std::filesystem;

namespace dusk::batch {

int match(const Request& request, Progress& progress) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, index] = *asked;
  Shot& shot = project.shots[index];
  AssetStore assets(fs::absolute(request.file).parent_path());
  const auto photo = [&] {
    const Ticker ticker(progress);
    return measurePhoto(shot, assets, progress);
  }();
  if (!photo) return fail(photo.error());
  const RenderCharacter render;  // as its pixels are: nothing is rendered here
  const BlendSettings blend = matchedAll(shot.blend, *photo, render);
  const std::vector<MatchRow> before = matchRows(*photo, render, shot.blend),
                              after = matchRows(*photo, render, blend);
  json rows = json::array();
  for (size_t i = 0; i < before.size(); ++i)
    rows.push_back({{"what", before[i].title},
                    {"unit", before[i].unit},
                    {"photo", before[i].photo ? json(*before[i].photo) : json()},
                    {"margin", before[i].margin},
                    {"product", before[i].product},
                    {"matched", after[i].product}});
  json answer = {{"shot", shot.id},
                 {"flatPlaces", photo->grain.patches},
                 {"blocking", photo->grain.blocking},
                 {"rows", rows}};
  if (!photo->grain.look.sigma.empty()) {
    json sigma = json::array();
    for (const Vec3d& s : photo->grain.look.sigma) sigma.push_back({s.x, s.y, s.z});
    answer["grain"] = {{"sigmaByCode", sigma}, {"correlation", photo->grain.look.correlation}};
  }
  if (photo->softness)
    answer["edgeSigmaPx"] = photo->softness->sigma, answer["edges"] = photo->softness->edges;
  if (!request.out.empty()) {
    shot.blend = blend;
    if (const Outcome saved = saveProject(project, request.out); !saved) return fail(saved.error());
    answer["project"] = request.out;
  }
  print(answer, request.json);
  return 0;
}

}  // namespace dusk::batch
