#include "core/base/log.h"

#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/spdlog.h>

#include <chrono>
#include <mutex>

#include "core/base/cache_folder.h"
#include "core/base/events.h"
#include "core/base/installed.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

constexpr size_t fileBytes = size_t{1} << 20, files = 3;

struct Open {
  std::mutex mutex;
  std::shared_ptr<spdlog::logger> logger;
  fs::path file;
};
Open& opened() {
  static Open one;
  return one;
}

spdlog::level::level_enum asLibrary(LogLevel level) {
  return level == LogLevel::detail ? spdlog::level::debug
         : level == LogLevel::news ? spdlog::level::info
                                   : spdlog::level::err;
}

/// A line is a line, whatever a file is called.
std::string onOneLine(std::string text) {
  for (char& c : text)
    if (static_cast<unsigned char>(c) < ' ') c = ' ';
  return text;
}

}  // namespace

void openLog(const fs::path& folder, LogLevel least) {
  Open& open = opened();
  const std::lock_guard lock(open.mutex);
  open.logger.reset(), open.file.clear();
  try {
    fs::create_directories(folder);
    const fs::path file = folder / "gentle-dusk.log";
    auto sink = std::make_shared<spdlog::sinks::rotating_file_sink_mt>(file.string(), fileBytes, files - 1);
    auto logger = std::make_shared<spdlog::logger>("gentle-dusk", std::move(sink));
    logger->set_pattern("%Y-%m-%d %H:%M:%S.%e %P %L %v");
    logger->set_level(asLibrary(least));
    logger->flush_on(spdlog::level::info);                 // what ends without a word has told its last
    logger->set_error_handler([](const std::string&) {});  // a full disk says so where work is written
    open.logger = std::move(logger), open.file = file;
  } catch (const std::exception&) {  // a folder that cannot be written to: no log, and no harm
  }
}

fs::path logFile() {
  const std::lock_guard lock(opened().mutex);
  return opened().file;
}

void log(LogLevel level, const std::string& event, const std::string& detail) {
  rememberEvent(event.c_str());
  Open& open = opened();
  const std::lock_guard lock(open.mutex);
  if (open.logger)
    open.logger->log(asLibrary(level), "{}", onOneLine(detail.empty() ? event : event + ": " + detail));
}

std::vector<std::string> lastEvents() {
  std::vector<std::string> all;
  forEachEvent(
      [](const char* line, void* to) { static_cast<std::vector<std::string>*>(to)->push_back(line); }, &all);
  return all;
}

std::string failureDetails(const std::string& sentence) {
  std::string text = sentence + "\n\n" + programTitle() + "\n\nBefore that:\n";
  for (const std::string& line : lastEvents()) text += line + "\n";
  return text;
}

}  // namespace dusk
