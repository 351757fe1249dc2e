#pragma once
#include <filesystem>
#include <optional>

namespace dusk {

/// When a photo was taken by its own EXIF, in seconds since some day (only differences mean something:
/// cameras know no time zone); nothing where it does not say.
std::optional<double> captureTime(const std::filesystem::path& file);

}  // namespace dusk
