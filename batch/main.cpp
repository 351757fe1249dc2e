// gentle-dusk-batch: the core without a window. Results on standard output, words and progress on standard
// error. Exit 0 done; 1 ran, but what was asked does not hold; 2 wrong usage or unreadable input; 3
// cancelled.
#include <unistd.h>
#include <CLI/CLI.hpp>

#include <csignal>
#include <iostream>

#include "batch/answer.h"
#include "batch/answers.h"
#include "batch/verbs.h"
#include "commit.h"
#include "core/base/guard.h"
#include "core/base/installed.h"
#include "core/deliver/versions.h"

namespace {

using dusk::batch::Request;
dusk::Progress progress;

/// A verb, and what it does.
struct Verb {
  CLI::App* app;
  int (*act)(const Request&, dusk::Progress&);
};
using Verbs = std::vector<Verb>;

CLI::App* add(CLI::App* to, Verbs& verbs, const char* name, const char* about,
              int (*act)(const Request&, dusk::Progress&)) {
  CLI::App* verb = to->add_subcommand(name, about);
  const std::string typed = to->get_parent() ? to->get_name() + " " + name : std::string(name);
  verb->footer([typed] { return dusk::batch::answerHelp(typed); });
  verbs.push_back({verb, act});
  return verb;
}

void addShot(CLI::App* verb, Request& request) {
  verb->add_option("--shot", request.shot, "name or id; the first when not said");
  verb->add_option("--variant", request.variant,
                   "as in \"colour=green,lid=open\"; what the shot has chosen when not said");
}

/// How finely and how large; what becomes of files that are there.
void addFineness(CLI::App* verb, Request& request) {
  verb->add_option("--size", request.size, "WxH; the plate's when not said");
  verb->add_option("--samples", request.samples)->check(CLI::Range(1, 1'000'000));
  verb->add_option("--noise", request.noise, "stop where the error is below this share of the brightness")
      ->check(CLI::PositiveNumber);
}
void addThreads(CLI::App* verb, Request& request) {
  verb->add_option("--threads", request.threads)->check(CLI::Range(1, 1024));
}
void addIfThere(CLI::App* verb, Request& request) {
  verb->add_option("--if-there", request.ifThere,
                   "files of that name that are not of this shot: refuse (usual), replace, or keep-both")
      ->check(CLI::IsMember({"refuse", "replace", "keep-both"}));
}

void addLooking(CLI::App& app, Request& request, Verbs& verbs) {
  auto* info = add(&app, verbs, "info", "what a picture, panorama, model, drawing, film or project holds",
                   dusk::batch::info);
  info->add_option("file", request.file)->required();
  auto* vantage =
      add(&app, verbs, "vantage", "solve the camera from an evidence file, or from the edges of a photo",
          dusk::batch::vantage);
  vantage->add_option("evidence", request.file, "a .json evidence file, or a photo")->required();
  vantage->add_option("--out", request.out, "write the camera as .gltf, or the answer as .json");
  auto* prove =
      add(&app, verbs, "prove", "check a shot: product beside photo, in numbers", dusk::batch::prove);
  prove->add_option("project", request.file)->required();
  addShot(prove, request), addThreads(prove, request);
  prove->add_option("--samples", request.samples)->check(CLI::Range(1, 1'000'000));
  auto* thumbnail = add(&app, verbs, "thumbnail", "a shot as a small PNG, as file managers show it",
                        dusk::batch::thumbnail);
  thumbnail->add_option("project", request.file)->required();
  thumbnail->add_option("picture", request.out, "the PNG to write")->required();
  thumbnail->add_option("--pixels", request.pixels, "of its longer side")->check(CLI::Range(16, 1024));
  addShot(thumbnail, request);
  auto* match =
      add(&app, verbs, "match", "measure a photo's grain, softness, fringes and blacks beside the product's",
          dusk::batch::match);
  match->add_option("project", request.file)->required();
  addShot(match, request);
  match->add_option("-o,--out", request.out, "write the project with all of it matched");
  auto* gather = add(&app, verbs, "gather", "copy a project and all it links to into a folder or .zip",
                     dusk::batch::gather);
  gather->add_option("project", request.file)->required();
  gather->add_option("to", request.out, "a new or empty folder, or a .zip")->required();
  auto* dress = add(&app, verbs, "dress", "write a product in its surfaces as glTF 2.0", dusk::batch::dress);
  dress->add_option("project", request.file)->required();
  dress->add_option("--product", request.product, "name or id; the first when not said");
  dress->add_option("-o,--out", request.out, "the .glb to write")->required();
}

void addRendering(CLI::App& app, Request& request, Verbs& verbs) {
  auto* render = add(&app, verbs, "render", "render a shot's deliverables", dusk::batch::render);
  render->add_option("project", request.file, "or the .json beside a delivered file")->required();
  render->add_option("--out", request.out, "folder for the files")->required();
  render->add_flag("--all-shots", request.allShots, "every shot, each into a folder of its own");
  render->add_option("--part", request.part, "I/N: traces that part of the samples alone, for merge");
  render->add_option("--trace", request.trace,
                     "keep what is traced in this file while it is under way, and go on from it");
  render->add_option("--moment", request.moment, "of what moves, in seconds; what stills show when not said");
  render->add_option("--seconds", request.seconds, "stop adding samples after that long")
      ->check(CLI::PositiveNumber);
  addShot(render, request), addFineness(render, request);
  addThreads(render, request), addIfThere(render, request);
  auto* film =
      add(&app, verbs, "film", "render what moves in a shot: its films and sequences", dusk::batch::film);
  film->add_option("project", request.file, "or the .json beside a film")->required();
  film->add_option("--out", request.out, "folder for the files")->required();
  film->add_option("--pictures", request.pictures,
                   "where pictures lie until all are there; beside the film when not said");
  film->add_flag("--only-pictures", request.onlyPictures,
                 "trace them; a call without it puts the film together");
  film->add_option("--part", request.part, "I/N: every N-th picture alone, from the I-th on");
  addShot(film, request), addFineness(film, request);
  addThreads(film, request), addIfThere(film, request);
  auto* merge = add(&app, verbs, "merge", "write the files from all parts of a trace", dusk::batch::merge);
  merge->add_option("parts", request.files)->required();
  merge->add_option("--out", request.out, "folder for the files; as the parts say when not said");
  merge->add_option("--project", request.file,
                    "as it was when the parts were traced, where they cannot find it");
  addIfThere(merge, request);
}

void addQueue(CLI::App& app, Request& request, Verbs& verbs) {
  auto* queue = app.add_subcommand("queue", "hand over later: jobs that outlive the program");
  queue->require_subcommand(1);
  queue->add_option("--queue", request.folder, "its folder; the person's own when not said");
  auto* more =
      add(queue, verbs, "add", "put shots of a project at the end of the line", dusk::batch::queueAdd);
  more->add_option("project", request.file)->required();
  addShot(more, request);
  more->add_flag("--all-shots", request.allShots);
  more->add_option("--out", request.out,
                   "folder for the files; \"delivered\" beside the project when not said");
  add(queue, verbs, "run", "work on it until nothing waits", dusk::batch::queueRun);
  add(queue, verbs, "list", "jobs and how far they are", dusk::batch::queueList);
  auto* pause = add(queue, verbs, "pause", "a job waits; what was traced is kept", dusk::batch::queuePause);
  auto* resume =
      add(queue, verbs, "resume", "a paused or failed job is worked on again", dusk::batch::queueResume);
  for (auto* verb : {pause, resume}) verb->add_option("job", request.job, "its number; all when not said");
  auto* remove = add(queue, verbs, "remove", "take a job away; its files stay", dusk::batch::queueRemove);
  auto* move = add(queue, verbs, "move", "a job's place in the line", dusk::batch::queueMove);
  for (auto* verb : {remove, move}) verb->add_option("job", request.job, "its number")->required();
  move->add_option("by", request.by, "places: below 0 sooner")->required();
  auto* watch = add(queue, verbs, "watch", "hand over every project that is put into a folder",
                    dusk::batch::queueWatch);
  watch->add_option("folder", request.file)->required();
  watch->add_flag("--once", request.once, "what is there now, and end");
  for (auto* verb : {more, watch}) {
    addFineness(verb, request), addThreads(verb, request), addIfThere(verb, request);
    verb->add_option("--prove", request.onFindings,
                     "proofs that are off: ignore, warn (usual), or stop the queue")
        ->check(CLI::IsMember({"ignore", "warn", "stop"}));
  }
}

void addFarm(CLI::App& app, Request& request, Verbs& verbs) {
  auto* farm = app.add_subcommand("farm", "many machines at one picture, through Slurm");
  farm->require_subcommand(1);
  auto* submit = add(farm, verbs, "submit", "gather the project, and give its parts to the farm",
                     dusk::batch::farmSubmit);
  submit->add_option("project", request.file)->required();
  submit->add_option("--out", request.out, "folder for the files, which all machines see")->required();
  submit->add_flag("--film", request.film, "the shot's films, by their pictures, in place of its stills");
  submit->add_option("--parts", request.parts, "pieces of work")->check(CLI::Range(1, 1000));
  addShot(submit, request), addFineness(submit, request);
  auto* status = add(farm, verbs, "status", "how far the parts are", dusk::batch::farmStatus);
  auto* collect = add(farm, verbs, "collect", "submit lost parts again; the files, once they are there",
                      dusk::batch::farmCollect);
  auto* pause = add(farm, verbs, "pause", "parts that nobody has begun wait", dusk::batch::farmPause);
  auto* resume = add(farm, verbs, "resume", "and go on", dusk::batch::farmResume);
  for (auto* verb : {status, collect, pause, resume})
    verb->add_option("folder", request.file, "of the job, as submit told it")->required();
}

void addPanorama(CLI::App& app, Request& request, Verbs& verbs) {
  auto* panorama = app.add_subcommand("panorama", "make, align or take apart a panorama");
  panorama->require_subcommand(1);
  auto* merge = add(panorama, verbs, "merge", "merge photos of one view at different exposures",
                    dusk::batch::panoramaMerge);
  merge->add_option("photos", request.files)->required()->expected(2, 64);
  merge->add_option("-o,--out", request.out, "the EXR to write")->required();
  merge->add_option("--ev", request.ev, "exposure of each photo, where EXIF does not say it")->delimiter(',');
  auto* watch = add(panorama, verbs, "watch", "merge each set of exposures that a camera puts into a folder",
                    dusk::batch::panoramaWatch);
  watch->add_option("folder", request.file)->required();
  watch->add_option("--photos", request.photos, "in a set; as many as the fullest so far when not said")
      ->check(CLI::Range(2, 64));
  watch->add_option("--late", request.late, "seconds without a newcomer until no other is waited for")
      ->check(CLI::NonNegativeNumber);
  watch->add_option("--sets", request.sets, "end after so many; never when not said")
      ->check(CLI::PositiveNumber);
  auto* align = add(panorama, verbs, "align", "turn a shot's panorama so that it agrees with the photo",
                    dusk::batch::panoramaAlign);
  align->add_option("project", request.file)->required();
  addShot(align, request);
  auto* sun = add(panorama, verbs, "sun", "where a panorama's sun stands, and the rest without it",
                  dusk::batch::panoramaSun);
  sun->add_option("file", request.file)->required();
  sun->add_option("-o,--out", request.out, "write the rest as EXR");
  auto* shadow =
      add(panorama, verbs, "shadow",
          "where the sun stood and how strong it was, by a shadow in the photo: that marked by the "
          "gnomon, or one that is found",
          dusk::batch::panoramaShadow);
  shadow->add_option("project", request.file)->required();
  addShot(shadow, request);
  shadow->add_option("-o,--out", request.out,
                     "write the project with a sun that gives what the panorama lacks");
}

void addVariants(CLI::App& app, Request& request, Verbs& verbs) {
  auto* variants = app.add_subcommand("variants", "what a project comes in several of");
  variants->require_subcommand(1);
  auto* list = add(variants, verbs, "list", "axes, options, and how many variants they make",
                   dusk::batch::variantsList);
  list->add_option("project", request.file)->required();
  list->add_option("-o,--out", request.out, "write them as a table (.csv)");
  auto* take = add(variants, verbs, "take", "axes and options from a table", dusk::batch::variantsTake);
  take->add_option("project", request.file)->required();
  take->add_option("table", request.entry, "a .csv as list writes it")->required();
  take->add_option("-o,--out", request.out, "the project to write")->required();
}

void addSets(CLI::App& app, Request& request, Verbs& verbs) {
  auto* set =
      add(&app, verbs, "furnish", "give a shot a set: pieces, light and camera", dusk::batch::furnishShot);
  set->add_option("project", request.file)->required();
  set->add_option("--set", request.kind, "plinths, sweep, corner, shelf, workshop, garden or net-loft")
      ->required();
  set->add_option("--seed", request.seed, "another makes another set")->check(CLI::Range(1, 99999));
  set->add_option("--slider", request.sliders, "as in clutter=0.8");
  set->add_option("--light", request.light, "a panorama to light it with, beside its own lamps");
  set->add_option("--shot", request.shot, "name or id; the first when not said");
  set->add_option("-o,--out", request.out, "the project to write")->required();
}

void addShelf(CLI::App& app, Request& request, Verbs& verbs) {
  auto* shelf = app.add_subcommand("shelf", "panoramas and surfaces of another machine");
  shelf->require_subcommand(1);
  auto* list = add(shelf, verbs, "list", "what is on it", dusk::batch::shelfList);
  list->add_option("--words", request.words, "that titles, authors or tags have");
  list->add_option("--kind", request.kind)->check(CLI::IsMember({"panorama", "surface"}));
  auto* fetch = add(shelf, verbs, "fetch", "fetch one, and check what came", dusk::batch::shelfFetch);
  for (auto* verb : {list, fetch})
    verb->add_option("address", request.file, "as in http://192.168.1.20:8710/")->required();
  fetch->add_option("entry", request.entry, "its id")->required();
  fetch->add_option("-o,--out", request.out, "a folder to copy it to; among the fetched when not said");
}

}  // namespace

int main(int argc, char** argv) {
  // The first asks; the second, while something cannot be asked, ends it: files are whole or not there
  // anyway.
  const auto stop = [](int) {
    if (progress.cancelled()) ::_exit(3);
    progress.cancel();
  };
  std::signal(SIGINT, stop);
  std::signal(SIGTERM, stop);
  CLI::App app("Gentle Dusk without a window.");
  app.require_subcommand(1);
  Request request;
  Verbs verbs;
  app.fallthrough();
  dusk::setProgramCommit(DUSK_COMMIT);
  app.set_version_flag("--version", [] { return dusk::versions(); });
  app.add_flag("--json", request.json, "answer as JSON");
  for (const auto adds :
       {addLooking, addRendering, addQueue, addFarm, addPanorama, addVariants, addSets, addShelf})
    adds(app, request, verbs);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error, std::cout, std::cerr) == 0 ? 0 : 2;
  }
  const auto answer = dusk::guarded("doing that", [&]() -> dusk::Result<int> {
    for (const Verb& verb : verbs)
      if (*verb.app) return verb.act(request, progress);
    return 2;
  });
  if (!answer) return dusk::batch::fail(answer.error());
  // What ended before it could look is told as cancelled all the same.
  return progress.cancelled() ? 3 : *answer;
}
