#include "app/widgets/clearing.h"

#include <QLineEdit>
#include <QToolButton>

#include "app/widgets/words.h"

namespace dusk {

void offerClearing(QLineEdit& field) {
  field.setClearButtonEnabled(true);
  for (QToolButton* button : field.findChildren<QToolButton*>()) {
    button->setAccessibleName(words("Clear"));
    button->setToolTip(words("Empties the field"));
  }
}

}  // namespace dusk
