// gentle-dusk-batch: the core without a window. Results on standard output, words and progress on standard
// error. Exit 0 done; 1 ran, but what was asked does not hold; 2 wrong usage or unreadable input; 3
// cancelled.
#include <unistd.h>
#include <CLI/CLI.hpp>

#include <csignal>
#include <iostream>

#include "batch/answer.h"
#include "batch/verbs.h"
#include "core/base/guard.h"

namespace {
dusk::Progress progress;
}

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
  dusk::batch::Request request;
  app.fallthrough();
  app.add_flag("--json", request.json, "answer as JSON");

  auto* info = app.add_subcommand("info", "what a picture, panorama, model or project holds");
  info->add_option("file", request.file)->required();
  auto* vantage =
      app.add_subcommand("vantage", "solve the camera from an evidence file, or from the edges of a photo");
  vantage->add_option("evidence", request.file, "a .json evidence file, or a photo")->required();
  vantage->add_option("--out", request.out, "write the camera as .gltf, or the answer as .json");
  auto* render = app.add_subcommand("render", "render a shot's deliverables");
  auto* prove = app.add_subcommand("prove", "check a shot: product beside photo, in numbers");
  for (auto* verb : {render, prove}) {
    verb->add_option("project", request.file)->required();
    verb->add_option("--shot", request.shot, "name or id; the first when not said");
    verb->add_option("--samples", request.samples)->check(CLI::Range(1, 1'000'000));
    verb->add_option("--threads", request.threads)->check(CLI::Range(1, 1024));
  }
  render->add_option("--out", request.out, "folder for the files")->required();
  render->add_flag("--all-shots", request.allShots, "every shot, each into a folder of its own");
  render->add_option("--size", request.size, "WxH; the plate's when not said");
  render->add_option("--noise", request.noise, "stop where the error is below this share of the brightness")
      ->check(CLI::PositiveNumber);
  const auto overwriting = [&](CLI::App* verb) {
    verb->add_option("--if-there", request.ifThere,
                     "files of that name that are not of this shot: refuse (usual), replace, or keep-both")
        ->check(CLI::IsMember({"refuse", "replace", "keep-both"}));
  };
  overwriting(render);
  render->add_option("--part", request.part, "I/N: traces that part of the samples alone, for merge");
  render->add_option("--trace", request.trace,
                     "keep what is traced in this file while it is under way, and go on from it");
  auto* mergeParts = app.add_subcommand("merge", "write the files from all parts of a trace");
  mergeParts->add_option("parts", request.files)->required();
  mergeParts->add_option("--out", request.out, "folder for the files; as the parts say when not said");
  mergeParts->add_option("--project", request.file,
                         "as it was when the parts were traced, where they cannot find it");
  overwriting(mergeParts);
  auto* queue = app.add_subcommand("queue", "hand over later: jobs that outlive the program");
  queue->require_subcommand(1);
  queue->add_option("--queue", request.folder, "its folder; the person's own when not said");
  auto* add = queue->add_subcommand("add", "put shots of a project at the end of the line");
  add->add_option("project", request.file)->required();
  add->add_option("--shot", request.shot, "name or id; the first when not said");
  add->add_flag("--all-shots", request.allShots);
  add->add_option("--out", request.out,
                  "folder for the files; \"delivered\" beside the project when not said");
  auto* run = queue->add_subcommand("run", "work on it until nothing waits");
  auto* list = queue->add_subcommand("list", "jobs and how far they are");
  auto* pause = queue->add_subcommand("pause", "a job waits; what was traced is kept");
  auto* resume = queue->add_subcommand("resume", "a paused or failed job is worked on again");
  auto* remove = queue->add_subcommand("remove", "take a job away; its files stay");
  auto* move = queue->add_subcommand("move", "a job's place in the line");
  for (auto* verb : {pause, resume, remove, move})
    verb->add_option("job", request.job, "its number; all when not said")
        ->required(verb == remove || verb == move);
  move->add_option("by", request.by, "places: below 0 sooner")->required();
  auto* watch = queue->add_subcommand("watch", "hand over every project that is put into a folder");
  watch->add_option("folder", request.file)->required();
  watch->add_flag("--once", request.once, "what is there now, and end");
  for (auto* verb : {add, watch}) {
    verb->add_option("--size", request.size, "WxH; the plate's when not said");
    verb->add_option("--samples", request.samples)->check(CLI::Range(1, 1'000'000));
    verb->add_option("--noise", request.noise)->check(CLI::PositiveNumber);
    verb->add_option("--threads", request.threads)->check(CLI::Range(1, 1024));
    verb->add_option("--prove", request.onFindings,
                     "proofs that are off: ignore, warn (usual), or stop the queue")
        ->check(CLI::IsMember({"ignore", "warn", "stop"}));
    overwriting(verb);
  }
  auto* farm = app.add_subcommand("farm", "many machines at one picture, through Slurm");
  farm->require_subcommand(1);
  auto* submit = farm->add_subcommand("submit", "gather the project, and give its parts to the farm");
  submit->add_option("project", request.file)->required();
  submit->add_option("--shot", request.shot, "name or id; the first when not said");
  submit->add_option("--out", request.out, "folder for the files, which all machines see")->required();
  submit->add_option("--parts", request.parts, "pieces of work")->check(CLI::Range(1, 1000));
  submit->add_option("--size", request.size, "WxH; the plate's when not said");
  submit->add_option("--samples", request.samples)->check(CLI::Range(1, 1'000'000));
  submit->add_option("--noise", request.noise)->check(CLI::PositiveNumber);
  auto* farmStatus = farm->add_subcommand("status", "how far the parts are");
  auto* collect = farm->add_subcommand("collect", "submit lost parts again; the files, once they are there");
  for (auto* verb : {farmStatus, collect})
    verb->add_option("folder", request.file, "of the job, as submit told it")->required();
  render->add_option("--seconds", request.seconds, "stop adding samples after that long")
      ->check(CLI::PositiveNumber);
  auto* gather = app.add_subcommand("gather", "copy a project and all it links to into a folder or .zip");
  gather->add_option("project", request.file)->required();
  gather->add_option("to", request.out, "a new or empty folder, or a .zip")->required();
  auto* dress = app.add_subcommand("dress", "write a product in its surfaces as glTF 2.0");
  dress->add_option("project", request.file)->required();
  dress->add_option("--product", request.product, "name or id; the first when not said");
  dress->add_option("-o,--out", request.out, "the .glb to write")->required();
  auto* match = app.add_subcommand(
      "match", "measure a photo's grain, softness, fringes and blacks beside the product's");
  match->add_option("project", request.file)->required();
  match->add_option("--shot", request.shot, "name or id; the first when not said");
  match->add_option("-o,--out", request.out, "write the project with all of it matched");
  auto* panorama = app.add_subcommand("panorama", "make, align or take apart a panorama");
  panorama->require_subcommand(1);
  auto* merge = panorama->add_subcommand("merge", "merge photos of one view at different exposures");
  merge->add_option("photos", request.files)->required()->expected(2, 64);
  merge->add_option("-o,--out", request.out, "the EXR to write")->required();
  merge->add_option("--ev", request.ev, "exposure of each photo, where EXIF does not say it")->delimiter(',');
  auto* align = panorama->add_subcommand("align", "turn a shot's panorama so that it agrees with the photo");
  align->add_option("project", request.file)->required();
  align->add_option("--shot", request.shot, "name or id; the first when not said");
  auto* sun = panorama->add_subcommand("sun", "where a panorama's sun stands, and the rest without it");
  sun->add_option("file", request.file)->required();
  sun->add_option("-o,--out", request.out, "write the rest as EXR");
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error, std::cout, std::cerr) == 0 ? 0 : 2;
  }
  const auto answer = dusk::guarded("doing that", [&]() -> dusk::Result<int> {
    if (*info) return dusk::batch::info(request, progress);
    if (*vantage) return dusk::batch::vantage(request, progress);
    if (*merge) return dusk::batch::panoramaMerge(request, progress);
    if (*align) return dusk::batch::panoramaAlign(request, progress);
    if (*sun) return dusk::batch::panoramaSun(request, progress);
    if (*render) return dusk::batch::render(request, progress);
    if (*mergeParts) return dusk::batch::merge(request, progress);
    const std::pair<CLI::App*, int (*)(const dusk::batch::Request&, dusk::Progress&)> verbs[] = {
        {add, dusk::batch::queueAdd},       {run, dusk::batch::queueRun},
        {list, dusk::batch::queueList},     {pause, dusk::batch::queuePause},
        {resume, dusk::batch::queueResume}, {remove, dusk::batch::queueRemove},
        {move, dusk::batch::queueMove},     {watch, dusk::batch::queueWatch},
        {submit, dusk::batch::farmSubmit},  {farmStatus, dusk::batch::farmStatus},
        {collect, dusk::batch::farmCollect}};
    for (const auto& [verb, act] : verbs)
      if (*verb) return act(request, progress);
    if (*gather) return dusk::batch::gather(request, progress);
    if (*match) return dusk::batch::match(request, progress);
    if (*dress) return dusk::batch::dress(request, progress);
    return dusk::batch::prove(request, progress);
  });
  if (!answer) return dusk::batch::fail(answer.error());
  // What ended before it could look is told as cancelled all the same.
  return progress.cancelled() ? 3 : *answer;
}
