#pragma once
#include <QString>

namespace dusk {

class MainWindow;

/// Writes one PNG of the window per station, and of the plan, into `folder`, each after the picture has
/// settled to `samples`. Returns false when one cannot be written.
bool takeShots(MainWindow& window, const QString& folder, int samples);

}  // namespace dusk
