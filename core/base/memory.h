#pragma once
#include <cstddef>
#include <filesystem>
#include <string>

namespace dusk {

/// Bytes that this program may still take: what the machine has free, within the limits it is held to
/// (address space, control group). The largest number where nothing tells.
size_t freeMemory();

/// Bytes that are free on the disk of a folder, which need not be there yet. The largest number where nothing
/// tells.
size_t freeDisk(const std::filesystem::path& folder);

/// Hands back to the system what was freed and is kept for the next allocations. Takes some ten milliseconds,
/// in which other threads may wait for theirs: for when nobody works.
void giveBackFreed();

/// "1.2 GB", "340 MB".
std::string bytesText(size_t bytes);

}  // namespace dusk
