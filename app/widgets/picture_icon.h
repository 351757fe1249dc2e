#pragma once
#include <QIcon>

namespace dusk {

/// A picture as an item of a list: its colours are judged there, so it is not tinted where it is selected.
inline QIcon pictureIcon(const QPixmap& picture) {
  QIcon icon(picture);
  icon.addPixmap(picture, QIcon::Selected);
  return icon;
}

}  // namespace dusk
