#pragma once
#include <QString>

#include "app/stations/workbench.h"

namespace dusk {

/// Asks for a film, or for one of numbered photos, of a camera that stood still: see takeFootage().
void chooseFootage(Workbench& bench);
/// A film, or the numbered photos that one is of, as the plate of the shot in hand: one for each picture. A
/// film is taken apart beside the project.
void takeFootage(Workbench& bench, const QString& file);

}  // namespace dusk
