#pragma once
#include <filesystem>
#include <string>
#include <vector>

/// What the program did, for whoever has to find out why something went wrong. Lines go to a file that turns
/// round; nothing is sent anywhere.
namespace dusk {

enum class LogLevel { detail, news, trouble };

/// From here on lines from `least` on go to `folder`/gentle-dusk.log, at most three files of 1 MB. Where it
/// cannot be written nothing is: a log is never the reason that work stops.
void openLog(const std::filesystem::path& folder, LogLevel least = LogLevel::news);
/// The file that lines go to; empty where there is none.
std::filesystem::path logFile();

/// One line: `event` in words that name no person, file or product, and `detail`, which may. Both go to the
/// file; only the event is remembered for reports. From any thread; never throws.
void log(LogLevel level, const std::string& event, const std::string& detail = {});

/// The last events of this run, oldest first: "  12.3 s  opened a project".
std::vector<std::string> lastEvents();

/// What a person copies to tell others of a failure: the sentence, the program and its last events.
std::string failureDetails(const std::string& sentence);

}  // namespace dusk
