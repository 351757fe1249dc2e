#pragma once
#include <QString>

namespace dusk {

class Workbench;

/// Asks for a photo and takes it; reads it in the background.
void choosePhoto(Workbench& bench);
void takePhoto(Workbench& bench, const QString& file);

}  // namespace dusk
