#pragma once
#include "core/project/clip.h"

namespace dusk {

class Session;

/// Puts things of the document on the clipboard as text, their links with whole paths so that they can be
/// pasted anywhere, and says what was copied.
void copyToClipboard(Session& session, Clip clip);

/// What is on the clipboard, linked as the document links. Nothing, and said why, where that is not ours.
std::optional<Clip> clipOnClipboard(Session& session);

/// Adds what is on the clipboard to the document and the shot in hand, as one step; evidence takes the place
/// of the shot's and is solved.
void pasteFromClipboard(Session& session);

}  // namespace dusk
