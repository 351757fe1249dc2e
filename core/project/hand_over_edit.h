#pragma once
#include "core/base/result.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/project.h"

/// Edits of what is handed over of a shot.
namespace dusk {

/// A frame of a shape, as large as the picture lets it be about its middle. Gives its id.
std::string addFrame(Shot& shot, const FrameShape& shape);
/// Takes a frame away; its files show the whole picture then.
void removeFrame(Shot& shot, const std::string& id);
/// Another size, which is another ratio: the frame keeps its middle and its area's width.
void setFrameSize(PictureFrame& frame, int widthPx, int heightPx);
/// The frame goes with the product from now on, or stays where it is, without moving now. `spot`: where the
/// product stands, in shares of the picture.
void setAboutProduct(PictureFrame& frame, bool about, const Vec2d& spot);

/// A file of a kind, under a name that none has. Gives its place in the list.
size_t addDeliverable(Shot& shot, DeliverableKind kind, const std::string& frameId);

/// The list of files and frames, and what is said in them, as text to be shared; and taken in place of what a
/// shot has. Error: no such text.
std::string handOverText(const Shot& shot);
Outcome takeHandOver(Shot& shot, const std::string& text);

/// Each of the shot's files gets the variant into its name, where that is not there yet.
void nameByVariant(Shot& shot);

}  // namespace dusk
