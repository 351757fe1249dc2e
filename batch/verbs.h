#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"

namespace dusk::batch {

/// What was typed.
struct Request {
  std::string file, shot, words, kind, entry, variant, light, out, size, product, part, trace, ifThere,
      onFindings, folder, job, pictures;
  std::vector<std::string> files, sliders;
  std::vector<double> ev;
  std::optional<int> samples, threads;
  std::optional<double> seconds, noise, moment;
  bool json = false, allShots = false, once = false, film = false, onlyPictures = false;
  int by = 0, pixels = 256, parts = 4, photos = 0, sets = 0, seed = 1;
  double late = 20;
};

/// Each prints its answer and returns the exit code.
int info(const Request& request, Progress& progress);
int vantage(const Request& request, Progress& progress);
int render(const Request& request, Progress& progress);
/// A shot's films and sequences, or some of their pictures.
int film(const Request& request, Progress& progress);
/// The files from all parts of a trace.
int merge(const Request& request, Progress& progress);
int queueAdd(const Request& request, Progress& progress);
int queueRun(const Request& request, Progress& progress);
int queueList(const Request& request, Progress& progress);
int queuePause(const Request& request, Progress& progress);
int queueResume(const Request& request, Progress& progress);
int queueRemove(const Request& request, Progress& progress);
int queueMove(const Request& request, Progress& progress);
int farmSubmit(const Request& request, Progress& progress);
int farmStatus(const Request& request, Progress& progress);
int farmPause(const Request& request, Progress& progress);
int farmResume(const Request& request, Progress& progress);
int farmCollect(const Request& request, Progress& progress);
/// Renders what is put into a folder.
int queueWatch(const Request& request, Progress& progress);
int prove(const Request& request, Progress& progress);
int panoramaMerge(const Request& request, Progress& progress);
/// Merges sets as a camera puts them into a folder.
int panoramaWatch(const Request& request, Progress& progress);
int panoramaAlign(const Request& request, Progress& progress);
int panoramaSun(const Request& request, Progress& progress);
int panoramaShadow(const Request& request, Progress& progress);
/// Axes and options of a project, and how many variants they make.
int variantsList(const Request& request, Progress& progress);
/// A project with the axes and options of a table.
int variantsTake(const Request& request, Progress& progress);
int shelfList(const Request& request, Progress& progress);
int shelfFetch(const Request& request, Progress& progress);
/// A project of which a shot is given a set.
int furnishShot(const Request& request, Progress& progress);
int gather(const Request& request, Progress& progress);
/// A project's first shot as a small picture, as file managers show it.
int thumbnail(const Request& request, Progress& progress);
int dress(const Request& request, Progress& progress);
int match(const Request& request, Progress& progress);

}  // namespace dusk::batch
