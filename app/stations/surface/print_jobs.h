#pragma once
#include <QString>

#include "app/stations/workbench.h"
#include "app/views/picture_view.h"

namespace dusk {

/// Asks for a picture file and feeds the feed in hand with it.
void chooseTexture(Workbench& bench);

/// Asks for a file and prints it on the part in hand, where the camera sees the middle of that.
void choosePrint(Workbench& bench);
/// Prints a file on a spot: wrapped where the part is round there, else flat.
void takePrint(Workbench& bench, const QString& file, const PictureView::Spot& spot);

/// Writes what the print in hand could cover as an SVG of true size with a bleed, and its guide as a PNG
/// beside it, where the person says; and prints that drawing over it, to be drawn into elsewhere.
void makeTemplate(Workbench& bench);
/// Takes the print in hand off, as one step.
void takeOffPrint(Session& session);
/// Height over width of a print: as it was given, or as its picture has it (1 until that is loaded).
float proportionOf(const Session& session, const Decal& decal);

/// How a decal lies at a spot of a part: about the part's axis where the spot is on such a round face.
void layDecal(Decal& decal, const PictureView::Spot& spot, const Model& model, double unitMm);

}  // namespace dusk
