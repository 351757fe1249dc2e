#pragma once
#include <string>
#include <vector>

#include "app/document/station.h"
#include "core/surface/edit.h"

namespace dusk {

/// What the next drag or click in the picture is for, besides the station's own.
enum class NextDrag {
  own,
  heightReference,
  region,
  focus,
  standIn,       ///< draws the foot of a new stand-in
  highlight,     ///< brings the lamp's reflection here
  shadowTip,     ///< brings the lamp's shadow of the product's top here
  lampColour,    ///< gives the lamp the colour of the photo there
  photoPatch,    ///< the patch to balance against
  productPatch,  ///< the patch to be balanced
  fitPatch,      ///< the patch of the photo that a surface is fitted to
  flatPatch,     ///< a level place of the photo that becomes a surface
  trueLength,    ///< a length on the part whose millimetres are known
  mask,          ///< draws the mask in hand anew
  cutOut,        ///< a loop round a thing of the photo
  cutOutKeep,    ///< a line over what belongs to the cut-out in hand
  cutOutLeave,   ///< a line over what does not
  cleanUp,       ///< a loop round what must go
  cleanUpFrom,   ///< where the clean-up in hand is filled from
  mirrorEdge     ///< from an edge of a thing to where the ground mirrors it
};

/// Whether that is done on the photo, to be seen without what the product hides of it.
inline bool isOnThePhoto(NextDrag drag) {
  switch (drag) {
    case NextDrag::heightReference:
    case NextDrag::lampColour:
    case NextDrag::photoPatch:
    case NextDrag::fitPatch:
    case NextDrag::flatPatch:
    case NextDrag::cutOut:
    case NextDrag::cutOutKeep:
    case NextDrag::cleanUp:
    case NextDrag::cleanUpFrom:
    case NextDrag::mirrorEdge:
      return true;
    default:
      return false;
  }
}

/// What of the blend's stack is in hand: a row by its name, one of its corrections, and one of the masks of
/// that, or of the row; -1: none.
struct BlendPlace {
  std::string row = "product";
  int correction = -1, mask = -1;
  bool operator==(const BlendPlace&) const = default;
};

/// What the person has in hand; ids may be of things that are gone.
struct Selection {
  Station station = Station::plate;
  std::string part{}, placement{}, stroke{}, lamp{}, standIn{}, decal{};
  FeedPlace feed{};  ///< in the surface of the part
  BlendPlace blend{};
  std::string cutOut{}, cleanUp{};
  std::string frame{};
  int file = 0;                         ///< of the list of deliverables
  std::vector<std::string> together{};  ///< part paths
  NextDrag nextDrag = NextDrag::own;
};

}  // namespace dusk
