#pragma once
#include <cstdint>
#include <filesystem>
#include <string>

#include "core/base/result.h"

namespace dusk {

/// Content hash (XXH3, 128 bit) as 32 hexadecimal digits.
std::string hashBytes(const void* data, size_t size);
/// The same of a whole file. Error: the file cannot be read.
Result<std::string> hashFile(const std::filesystem::path& file);

}  // namespace dusk
