#pragma once
#include <filesystem>
#include <optional>

/// A report of a crash as a file, for the person to read and to hand on if they wish: what ended the program,
/// where it was, and its last events. No file names, no contents, no network.
namespace dusk {

/// From here on a fault of this program leaves `folder`/crash-TIME-PID.txt before it ends as it would have.
/// Meant to be called once, early, from the main thread. Where the folder cannot be made there are no
/// reports.
void reportCrashesTo(const std::filesystem::path& folder);

/// The newest report in `folder` that nobody was told of yet; it counts as told from here on.
std::optional<std::filesystem::path> untoldCrash(const std::filesystem::path& folder);

}  // namespace dusk
