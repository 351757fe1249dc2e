#include "app/stations/vantage/vantage_hints.h"

#include "app/stations/vantage/vantage_work.h"
#include "core/base/words.h"

namespace dusk {

QString drawingHint(const VantageWork& work, size_t corners) {
  switch (work.drawing()) {
    case Drawing::footprint:
      return QString(words("Click the four corners of a real rectangle, the origin first, then along run a "
                           "(%1 of 4)%2"))
          .arg(corners)
          .arg(corners == 0 ? "" : words("; Esc begins anew"));
    case Drawing::pin:
      if (const auto& p = work.pinPoint())
        return QString(words("Now click where the photo shows the point picked (%1, %2, %3 m)"))
            .arg(p->x, 0, 'f', 3)
            .arg(p->y, 0, 'f', 3)
            .arg(p->z, 0, 'f', 3);
      return words(
          "Click a point whose place you know - or press on the product and drag that point to where "
          "the photo "
          "shows it");
    case Drawing::length:
      return words("Drag along a length you know on the ground, then type it on the desk");
    case Drawing::upright:
      return words("Drag from a foot on the ground to the top of something whose height you know");
    case Drawing::horizon:
      return words("Drag along the horizon, where level planes end: the sea, far plains");
    case Drawing::origin:
      return words("Click where the world's origin lies on the ground");
    case Drawing::level:
      return words("Drag from a point of the ground straight up to the edge of the raised plane");
    default:
      return words(
          "Drag along edges that are parallel in the place; Ctrl draws beside a handle, S snaps or "
          "frees, N next, "
          "arrows nudge by 0.1 px");
  }
}

}  // namespace dusk
