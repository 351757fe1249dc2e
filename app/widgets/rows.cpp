#include "app/widgets/rows.h"

#include <QListWidget>

#include "app/widgets/look.h"

namespace dusk {

void fitToRows(QListWidget& list, int most) {
  if (list.property("role").toString() != "rows") look::setRole(list, "rows");
  list.ensurePolished();  // or the lines are measured as the toolkit has them
  const int row = list.count() ? list.sizeHintForRow(0) : 0;
  list.setFixedHeight(std::min(list.count(), most) * row + 2 * list.frameWidth());
}

}  // namespace dusk
