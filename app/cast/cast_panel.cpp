#include "app/cast/cast_panel.h"

#include <QtWidgets>

#include "app/cast/cast_model.h"
#include "app/widgets/clearing.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {

CastPanel::CastPanel(Session& session) : cast_(new Cast(session)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 2, 6);
  auto* title = new QLabel(words("Cast"));
  look::setRole(*title, "panel-title");
  column->addWidget(title);
  auto* search = new QLineEdit;
  search->setPlaceholderText(words("Find parts"));
  search->setToolTip(
      words("Words of a part's name or of what it is in (Ctrl+F); Enter goes to the first, Esc clears"));
  search->setAccessibleName(words("Find parts"));
  offerClearing(*search);
  column->addWidget(search);
  auto* count = new QLabel;
  look::setRole(*count, "panel-count");
  count->hide();
  column->addWidget(count);
  column->addWidget(cast_, 1);
  connect(search, &QLineEdit::textChanged, this, [=, this](const QString& typed) {
    cast_->model().setFilter(typed);
    const int n = cast_->model().matches();
    count->setText(QString(words("%1 part", "%1 parts", n)).arg(n));
    count->setVisible(!typed.trimmed().isEmpty());
  });
  connect(search, &QLineEdit::returnPressed, this, [this] { cast_->goToFirst(); });
  auto* find = new QShortcut(QKeySequence::Find, this);
  connect(find, &QShortcut::activated, search, [search] { search->setFocus(), search->selectAll(); });
  search->installEventFilter(this);
}

bool CastPanel::eventFilter(QObject* on, QEvent* e) {
  if (e->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(e)->key() == Qt::Key_Escape) {
    static_cast<QLineEdit*>(on)->clear();
    return true;
  }
  return QWidget::eventFilter(on, e);
}

}  // namespace dusk
