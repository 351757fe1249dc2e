#pragma once
#include <atomic>
#include <cstdio>
#include <nlohmann/json.hpp>
#include <thread>

#include "core/assets/asset_store.h"
#include "core/base/json_text.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/project/file.h"
#include "core/project/links.h"
#include "core/project/project.h"

/// How every verb answers.
namespace dusk::batch {

using nlohmann::json;

inline int exitCode(const Error& error) {
  switch (error.kind) {
    case ErrorKind::cancelled:
      return 3;
    case ErrorKind::unreadable:
      return 2;
    case ErrorKind::failed:
      break;
  }
  return 1;
}

inline int fail(const Error& error) {
  std::fprintf(stderr, "%s\n", error.message.c_str());
  return exitCode(error);
}

/// Prints `answer` as JSON, or as one "name: value" line each, for people: long lists are only counted.
inline void print(const json& answer, bool asJson) {
  if (asJson) {
    std::printf("%s\n", jsonText(answer, 2).c_str());
    return;
  }
  constexpr size_t longest = 160;
  for (const auto& [name, value] : answer.items()) {
    std::string line = value.is_string() ? value.get<std::string>() : jsonText(value);
    if (value.is_array() && line.size() > longest)
      line = std::to_string(value.size()) + " of them (--json lists them)";
    std::printf("%s: %s\n", name.c_str(), line.c_str());
  }
}

inline Result<size_t> shotIndex(const Project& project, const std::string& wanted) {
  for (size_t i = 0; i < project.shots.size(); ++i)
    if (wanted.empty() || project.shots[i].id == wanted || project.shots[i].name == wanted) return i;
  return Error{
      wanted.empty() ? "The project has no shots." : "The project has no shot called " + wanted + ".",
      ErrorKind::unreadable};
}

/// A project and which of its shots is meant.
struct AskedShot {
  Project project;
  size_t index = 0;
};
inline Result<AskedShot> askedShot(const std::string& file, const std::string& wanted) {
  auto project = loadProject(file);
  if (!project) return project.error();
  const auto index = shotIndex(*project, wanted);
  if (!index) return index.error();
  return AskedShot{std::move(*project), *index};
}

/// Saves a project that came from `file` as another, whose links hold from there.
inline Outcome saveElsewhere(Project project, const std::string& file, const std::string& out) {
  const auto folderOf = [](const std::string& of) { return std::filesystem::absolute(of).parent_path(); };
  const AssetStore from(folderOf(file)), to(folderOf(out));
  eachLink(project, [&](AssetRef& ref, LinkKind) { ref = to.relinked(ref, from); });
  return saveProject(project, out);
}

/// A line on standard error for each link whose file is another one by now.
inline void warnOfChanges(const AssetStore& assets) {
  for (const AssetRef& ref : assets.changedSinceLinked())
    std::fprintf(stderr, "%s has changed since it was linked; taken as it is.\n", ref.path.c_str());
}

/// Says on standard error how far the work is, a line per step of five percent, while it lives.
class Ticker {
 public:
  explicit Ticker(const Progress& progress)
      : thread_([this, &progress] {
          for (int said = 0; !stop_; std::this_thread::sleep_for(std::chrono::milliseconds(25)))
            if (const int percent = int(progress.fraction() * 20) * 5; percent > said && percent < 100)
              std::fprintf(stderr, "%d %%, %.0f s left\n", said = percent,
                           std::max(0.0, progress.secondsLeft()));
        }) {}
  ~Ticker() {
    stop_ = true;
    thread_.join();
  }

 private:
  std::atomic<bool> stop_{false};
  std::thread thread_;
};

}  // namespace dusk::batch
