#pragma once
#include <QString>
#include <vector>

#include "core/base/result.h"

namespace dusk {

/// One of the projects that come with the program.
struct Demo {
  const char *folder, *file, *name, *about;
};
const std::vector<Demo>& demos();

/// The demo as the person's own copy, made where there is none yet: what is installed cannot be written to.
/// Error: they did not come with this program.
Result<QString> ownDemo(const Demo& demo);

/// A picture of it, among the program's own: ":/demos/FOLDER.jpg".
QString pictureOf(const Demo& demo);

}  // namespace dusk
