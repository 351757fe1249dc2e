#pragma once
#include "core/base/result.h"
#include "core/project/project.h"

namespace dusk {

/// Axes, options and what they change as a table (RFC 4180, UTF-8): axis, option, place, value; a line for
/// each change, one with an empty place for an option without any. The value is JSON; "-" says there is
/// nothing then.
std::string variantTable(const Project& project);

/// The project with the axes and options of such a table: those of the same name are replaced, others added.
/// Its first line names the columns, in any order. Error: a column is missing, a value that is no JSON, a
/// quote that never ends, more than a thousand axes; says the line.
Result<Project> withVariantTable(Project project, const std::string& text);

}  // namespace dusk
