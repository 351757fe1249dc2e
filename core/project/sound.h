#pragma once
#include <string>

#include "core/project/project.h"

namespace dusk {

/// The first number of a project that is not finite or not of its range, or promise between its parts that is
/// broken, as a sentence's beginning ("lamp 'Key' has a width of -1; it may be 0 to 10000"); empty when all
/// is sound. The one place that says what numbers may be; documents, clips and journals are held to it.
std::string unsound(const Project& project);

/// The same of evidence, in a project or a file of its own.
std::string unsound(const Evidence& evidence);

}  // namespace dusk
