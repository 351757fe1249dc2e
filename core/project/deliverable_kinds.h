#pragma once
#include <span>
#include <string_view>

#include "core/project/deliverable.h"

namespace dusk {

/// All there is to know of a kind of file but how it is written. The table of these is the one place that
/// names a kind: files, checks and desk are fed from it.
struct DeliverableKindInfo {
  DeliverableKind kind;
  const char* name;   ///< in files
  const char* title;  ///< on screen
  const char* ending;
  const char* tip;
  std::span<const int> bits;                     ///< of a channel, that there are; the first is usual
  bool straight = false, premultiplied = false;  ///< which alpha it can hold
  bool losesSome = false;                        ///< has a quality
  bool hasPasses = false;
  bool isFilm = false;  ///< holds all pictures of what moves
};

std::span<const DeliverableKindInfo> deliverableKinds();
const DeliverableKindInfo& infoOf(DeliverableKind kind);
/// nullptr when no kind has that name in files.
const DeliverableKindInfo* deliverableKindNamed(std::string_view name);

/// Whether it is of what moves: a film, or every picture of one in a file of its own. Stills leave it out.
bool isOfFilm(const Deliverable& deliverable);
/// The word of a file name that stands for a picture's number: with it, a file is one of a sequence.
inline constexpr const char* pictureWord = "{picture}";

/// What is wrong with it, as the end of a sentence about it ("has 12 bits a channel, ..."); empty: nothing.
std::string unsoundIn(const Deliverable& deliverable);
/// One of a kind, as it is usual.
Deliverable usualOf(DeliverableKind kind, const std::string& stem);

/// Shapes in which pictures are often asked for.
struct FrameShape {
  const char* name;
  int widthPx, heightPx;
};
std::span<const FrameShape> frameShapes();

}  // namespace dusk
