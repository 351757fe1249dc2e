#pragma once
#include <QString>

namespace dusk {

class Workbench;

/// Key of the delivering job.
inline constexpr const char* deliveryKey = "deliver";

/// Writes the files of the shot in hand into `folder`, in the background; `Workbench::delivered` tells when
/// that ended. One delivery waits for the other.
void deliverInto(Workbench& bench, const QString& folder);

}  // namespace dusk
