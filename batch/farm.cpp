#include "core/deliver/farm_list.h"

#include "batch/answer.h"
#include "batch/render.h"
#include "batch/variants.h"
#include "core/project/deliverable_kinds.h"

namespace dusk::batch {
namespace {

namespace fs = std::filesystem;

constexpr const char* stateNames[] = {"waiting", "working", "done", "lost", "held"};

void answer(const FarmJob& job, const FarmState& state, int submitted, bool asJson) {
  json parts = json::array(), fractions = json::array();
  for (const PartState part : state.parts) {
    parts.push_back(stateNames[size_t(part)]);
    fractions.push_back(part == PartState::done      ? 1
                        : part == PartState::working ? progressOf(job, int(parts.size())).fraction
                                                     : 0);
  }
  print({{"folder", job.folder.string()},
         {"parts", parts},
         {"fractions", fractions},
         {"done", state.count(PartState::done)},
         {"lost", state.count(PartState::lost)},
         {"submittedAgain", submitted},
         {"merged", state.isMerged},
         {"files", state.files}},
        asJson);
}

int hold(const Request& request, bool hold, Progress& progress) {
  const auto job = farmJobIn(request.file);
  if (!job) return fail(job.error());
  const Outcome told = holdOnFarm(*job, hold, progress);
  return told ? farmStatus(request, progress) : fail(told.error());
}

}  // namespace

int farmSubmit(const Request& request, Progress& progress) {
  auto asked = askedShot(request.file, request.shot);
  if (!asked) return fail(asked.error());
  auto& [project, shot] = *asked;
  const AssetStore assets(fs::absolute(request.file).parent_path());
  const auto one = chosenOne(project, shot, request.variant);
  if (!one) return fail(one.error());
  auto order = orderFor(request, *one, one->shots[shot], assets, request.out);
  if (!order) return fail(order.error());
  std::erase_if(order->project.shots[0].deliverables,
                [&](const Deliverable& d) { return isOfFilm(d) != request.film; });
  const auto job = submitToFarm(*order, request.parts, fs::read_symlink("/proc/self/exe"), progress);
  if (!job) return fail(job.error());
  (void)FarmList(Queue::usualFolder()).add(*job);  // the window shows it; without, it goes on all the same
  print(
      {{"folder", job->folder.string()}, {"array", job->array}, {"merge", job->merge}, {"parts", job->parts}},
      request.json);
  return 0;
}

int farmStatus(const Request& request, Progress& progress) {
  const auto job = farmJobIn(request.file);
  if (!job) return fail(job.error());
  const auto state = farmState(*job, progress);
  if (!state) return fail(state.error());
  answer(*job, *state, 0, request.json);
  return 0;
}

int farmPause(const Request& request, Progress& progress) { return hold(request, true, progress); }
int farmResume(const Request& request, Progress& progress) { return hold(request, false, progress); }

int farmCollect(const Request& request, Progress& progress) {
  auto job = farmJobIn(request.file);
  if (!job) return fail(job.error());
  const auto state = farmState(*job, progress);
  if (!state) return fail(state.error());
  int again = 0;
  if (!state->isMerged) {
    const auto lost = submitLost(*job, *state, progress);
    if (!lost) return fail(lost.error());
    again = *lost;
  }
  answer(*job, *state, again, request.json);
  return state->isMerged ? 0 : 1;
}

}  // namespace dusk::batch
