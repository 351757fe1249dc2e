#include "core/deliver/farm.h"

#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/run_program.h"
#include "core/base/words.h"
#include "core/deliver/gather.h"
#include "core/deliver/names.h"
#include "core/deliver/output_plan.h"
#include "core/project/json.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;
constexpr const char *jobFile = "farm.json", *answerFile = "merged.json";

/// Where a command of the PATH lies; empty: nowhere.
fs::path commandPath(const std::string& name) {
  const char* path = std::getenv("PATH");
  std::istringstream folders(path ? path : "");
  std::error_code code;
  for (std::string folder; std::getline(folders, folder, ':');)
    if (const fs::path file = fs::path(folder) / name; fs::is_regular_file(file, code)) return file;
  return {};
}

/// Seconds for an answer: $DUSK_FARM_PATIENCE, or half a minute.
double patienceSeconds() {
  const char* said = std::getenv("DUSK_FARM_PATIENCE");
  const double seconds = said ? std::atof(said) : 0;
  return seconds > 0 ? seconds : 30;
}

/// What a command of the farm answered. Error: it is not there, does not answer, or fails.
Result<std::string> ask(const std::string& command, const std::vector<std::string>& arguments,
                        Progress& progress) {
  const fs::path program = commandPath(command);
  if (program.empty())
    return Error{words("There is no farm here: ") + command +
                 words(" is not installed. Slurm's client belongs on every machine "
                       "that gives it work.")};
  const double patience = patienceSeconds();
  const auto end = runProgram(program, arguments, patience, progress);
  if (end && end->cancelled) return cancelledError();
  if (end && end->tooLong)
    return Error{
        words("The farm does not answer: ") + command + words(" took more than ") +
        std::to_string(int(patience)) +
        words(" seconds. Try again later, or ask who looks after it. What was given to it stays there.")};
  if (!end || end->broke() || end->exitCode() != 0)
    return Error{words("The farm refused: ") + command + " failed" +
                 (end && !end->said.empty() ? " (" + end->said.substr(0, 200) + ")" : std::string()) +
                 words(". See what the same command says in a terminal.")};
  return end->said;
}

std::string quoted(const std::string& text) {
  std::string out = "'";
  for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return out + "'";
}

Outcome writeJob(const FarmJob& job) {
  const json j = {{"gentleDuskFarm", 1},     {"name", job.name},   {"title", job.title},
                  {"out", job.out.string()}, {"array", job.array}, {"merge", job.merge},
                  {"parts", job.parts}};
  return writeFileAtomically(job.folder / jobFile, jsonText(j, 1));
}

/// The farm's number of a job, as "sbatch --parsable" prints it.
std::string numberIn(const std::string& answer) {
  std::string number;
  for (const char c : answer)
    if (std::isdigit((unsigned char)c))
      number += c;
    else
      break;
  return number;
}

/// What a part's machine writes while it works.
fs::path partLog(const FarmJob& job, const std::string& part) {
  return job.folder / ("part-" + part + ".log");
}

/// `which`: the parts, as an array's list.
Outcome submit(FarmJob& job, const std::string& which, Progress& progress) {
  const auto array =
      ask("sbatch",
          {"--parsable", "--array=" + which, "--chdir=" + job.folder.string(), "--job-name=" + job.name,
           "--output=" + partLog(job, "%a").string(), (job.folder / "part.sh").string()},
          progress);
  if (!array) return array.error();
  job.array = numberIn(*array);
  const auto merge =
      ask("sbatch",
          {"--parsable", "--dependency=afterok:" + job.array, "--kill-on-invalid-dep=yes",
           "--chdir=" + job.folder.string(), "--job-name=" + job.name + "-merge",
           "--output=" + (job.folder / "merge.log").string(), (job.folder / "merge.sh").string()},
          progress);
  if (!merge) return merge.error();
  job.merge = numberIn(*merge);
  return writeJob(job);
}

fs::path partFile(const FarmJob& job, int part) {
  std::error_code code;
  for (const auto& entry : fs::directory_iterator(job.folder, code))
    if (entry.path().filename().string().ends_with("." + std::to_string(part) + "-of-" +
                                                   std::to_string(job.parts) + ".part"))
      return entry.path();
  return {};
}

std::string finenessOf(const Order& order) {
  std::string text;
  if (order.size)
    text += " --size " + std::to_string(order.size->first) + "x" + std::to_string(order.size->second);
  if (order.samples) text += " --samples " + std::to_string(*order.samples);
  if (order.noise) text += " --noise " + std::to_string(*order.noise);
  return text;
}

Outcome writeScripts(const FarmJob& job, const Order& order, const fs::path& project,
                     const fs::path& program) {
  const bool isFilm = wantsFilm(order.shot()) && !wantsStill(order.shot());
  const std::string begun = quoted(program.string()) + (isFilm ? " film " : " render ") +
                            quoted(project.string()) + " --shot " + quoted(order.shot().id) + " --threads " +
                            "\"${SLURM_CPUS_ON_NODE:-1}\"" + finenessOf(order);
  const std::string pictures = " --pictures " + quoted((job.folder / "pictures").string());
  // A part of a film says that it is done by a file of the name that a part of a picture has.
  std::string render = begun + " --out " + quoted((isFilm ? job.out : job.folder).string()) +
                       (isFilm ? pictures + " --only-pictures" : "") + " --part \"$SLURM_ARRAY_TASK_ID\"/" +
                       std::to_string(job.parts);
  if (isFilm)
    render += "\n: > " + quoted((job.folder / "film.").string()) + "\"$SLURM_ARRAY_TASK_ID\"-of-" +
              std::to_string(job.parts) + ".part";
  const std::string worker =
      std::getenv("DUSK_IMPORT_WORKER")
          ? "export DUSK_IMPORT_WORKER=" + quoted(std::getenv("DUSK_IMPORT_WORKER")) + "\n"
          : "";
  const std::string begin = "#!/bin/sh\nset -eu\n" + worker;
  const std::string together =
      isFilm ? begun + pictures
             : quoted(program.string()) + " merge " + quoted(job.folder.string()) + "/*.part";
  const std::string merge = together + " --out " + quoted(job.out.string()) + " --json > " +
                            quoted((job.folder / answerFile).string()) + ".half\nmv " +
                            quoted((job.folder / answerFile).string()) + ".half " +
                            quoted((job.folder / answerFile).string()) + "\n";
  const Outcome wrote = writeFileAtomically(job.folder / "part.sh", begin + render + "\n");
  return wrote ? writeFileAtomically(job.folder / "merge.sh", begin + merge) : wrote;
}

}  // namespace

Result<FarmJob> submitToFarm(const Order& order, int parts, const fs::path& program, Progress& progress) {
  FarmJob job;
  const std::string id = order.shot().id;
  job.name = "dusk-" + id, job.title = order.title(), job.out = fs::absolute(order.folder),
  job.parts = std::clamp(parts, 1, 1000);
  std::error_code code;
  fs::create_directories(job.out, code);
  if (code) return Error{words("Cannot make the folder ") + job.out.string() + ": " + code.message() + "."};
  job.folder = job.out / ("farm-" + id);
  if (fs::exists(job.folder, code)) job.folder = job.out / freeName(job.out, "farm-" + id);
  // All machines read the very files that are here now, once for all parts.
  const auto gathered = gather(order.project, AssetStore(), job.folder / "project", progress);
  if (!gathered) return gathered.error();
  Outcome outcome = writeScripts(job, order, gathered->project, program);
  if (outcome) outcome = submit(job, "1-" + std::to_string(job.parts), progress);
  if (outcome) return job;
  fs::remove_all(job.folder, code);
  return outcome.error();
}

Result<FarmJob> farmJobIn(const fs::path& folder) {
  const auto text = readFile(folder / jobFile, size_t{1} << 20);
  if (!text) return text.error();
  try {
    const json j = parsedJson(*text);
    FarmJob job;
    job.folder = fs::absolute(folder);
    job.name = j.at("name").get<std::string>(), job.out = j.at("out").get<std::string>();
    job.array = j.at("array").get<std::string>(), job.merge = j.at("merge").get<std::string>();
    job.parts = std::clamp(j.at("parts").get<int>(), 1, 1000);
    job.title = j.value("title", job.name.starts_with("dusk-") ? job.name.substr(5) : job.name);
    return job;
  } catch (const json::exception& error) {
    return Error{folder.string() + words(" holds no job of the farm: ") + whatOf(error) + ".",
                 ErrorKind::unreadable};
  }
}

FarmState stateByFiles(const FarmJob& job) {
  FarmState state;
  state.parts.assign(size_t(job.parts), PartState::lost);
  for (int i = 1; i <= job.parts; ++i)
    if (!partFile(job, i).empty()) state.parts[size_t(i) - 1] = PartState::done;
  if (const auto text = readFile(job.folder / answerFile, size_t{16} << 20)) {
    const json answer = jsonFrom(*text);
    state.isMerged = answer.is_object() && answer.contains("files");
    if (state.isMerged) state.files = answer.value("files", std::vector<std::string>());
  }
  return state;
}

PartProgress progressOf(const FarmJob& job, int part) {
  std::ifstream log(partLog(job, std::to_string(part)), std::ios::ate);
  constexpr std::streamoff most = 400;  // some lines: the newest is the last
  if (!log) return {};
  log.seekg(std::max<std::streamoff>(0, std::streamoff(log.tellg()) - most));
  PartProgress now;
  for (std::string line; std::getline(log, line);) {
    double percent = 0, left = 0;
    int end = 0;  // stays 0 where the line is not written out yet
    if (std::sscanf(line.c_str(), "%lf %%, %lf s left%n", &percent, &left, &end) == 2 && end > 0 &&
        percent >= 0 && percent <= 100)
      now = {percent / 100, left};
  }
  return now;
}

void endOnFarm(const FarmJob& job, Progress& progress) {
  (void)ask("scancel", {job.array, job.merge}, progress);
}

Outcome holdOnFarm(const FarmJob& job, bool hold, Progress& progress) {
  const auto told = ask("scontrol", {hold ? "hold" : "release", job.array}, progress);
  return told ? done() : Outcome(told.error());
}

Result<FarmState> farmState(const FarmJob& job, Progress& progress) {
  FarmState state = stateByFiles(job);
  const auto all = ask("squeue", {"--noheader", "--array", "--format=%i %T %r"}, progress);
  if (!all) return all.error();
  std::istringstream in(*all);
  for (std::string line, id, word, why; std::getline(in, line);) {
    std::istringstream said(line);
    said >> id >> word >> why;
    const size_t mark = id.find('_');
    if (mark == std::string::npos || id.substr(0, mark) != job.array) continue;
    const int part = std::atoi(id.c_str() + mark + 1);
    if (part < 1 || part > job.parts || state.parts[size_t(part) - 1] == PartState::done) continue;
    // What failed or was ended stays listed for a while.
    if (word == "RUNNING" || word == "COMPLETING") state.parts[size_t(part) - 1] = PartState::working;
    if (word == "PENDING" || word == "CONFIGURING")
      state.parts[size_t(part) - 1] = why.starts_with("JobHeld") ? PartState::held : PartState::waiting;
  }
  return state;
}

Result<int> submitLost(FarmJob& job, const FarmState& state, Progress& progress) {
  std::string which;
  for (size_t i = 0; i < state.parts.size(); ++i)
    if (state.parts[i] == PartState::lost) which += (which.empty() ? "" : ",") + std::to_string(i + 1);
  const int lost = state.count(PartState::lost);
  if (lost > 0) {
    const Outcome again = submit(job, which, progress);
    if (!again) return again.error();
  }
  return lost;
}

}  // namespace dusk
