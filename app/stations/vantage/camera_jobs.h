#pragma once
#include <QString>

namespace dusk {

class Workbench;

/// The vantage's camera to and from a glTF or JSON file.
void saveCamera(Workbench& bench, const QString& file);
void loadCamera(Workbench& bench, const QString& file);

}  // namespace dusk
