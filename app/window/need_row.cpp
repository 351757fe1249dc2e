#include "app/window/need_row.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {

NeedRow::NeedRow(Session& session) : session_(session), text_(new QLabel), go_(new QPushButton) {
  setObjectName("need");
  setAttribute(Qt::WA_StyledBackground);
  look::setRole(*this, "band");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(14, 8, 14, 9);
  column->setSpacing(6);
  text_->setWordWrap(true);
  text_->setAccessibleName(words("What is missing"));
  column->addWidget(text_);
  column->addWidget(go_, 0, Qt::AlignLeft);
  connect(go_, &QPushButton::clicked, this, [this] {
    if (missing_) session_.setStation(missing_->at);
  });
  connect(&session_, &Session::changed, this, &NeedRow::refresh);
  connect(&session_, &Session::stationChanged, this, &NeedRow::refresh);
  refresh();
}

void NeedRow::refresh() {
  missing_ = missingFor(session_.station(), session_.project(), session_.shot());
  setVisible(missing_.has_value());
  if (!missing_) return;
  text_->setText(missing_->sentence);
  go_->setText(QString(words("Go to %1")).arg(stationName(missing_->at)));
  go_->setToolTip(QString(words("Where that is made (Ctrl+%1)")).arg(int(missing_->at) + 1));
}

}  // namespace dusk
