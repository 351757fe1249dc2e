#include "app/window/drawer.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {

Drawer::Drawer(QWidget* parent) : QWidget(parent) {
  setObjectName("drawer");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(0);
  auto* column = new QWidget;
  column->setMinimumWidth(look::px(76));
  column->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Preferred);
  tabs_ = new QVBoxLayout(column);
  tabs_->setContentsMargins(6, 3, 4, 3);
  tabs_->setSpacing(2);
  tabs_->addStretch(1);
  row->addWidget(column);
  contents_ = new QStackedWidget;
  row->addWidget(contents_, 1);
  group_ = new QButtonGroup(this);
  connect(group_, &QButtonGroup::idClicked, this, [this](int i) { open(names_[i]); });
}

void Drawer::add(const QString& name, const QString& tip, QWidget* content, int height) {
  auto* tab = new QToolButton;
  tab->setText(name);
  tab->setToolTip(tip);
  tab->setAccessibleName(words("Drawer: ") + name);
  tab->setCheckable(true);
  tab->setFixedHeight(look::px(20));
  tab->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  look::setRole(*tab, "tab");
  group_->addButton(tab, int(names_.size()));
  tabs_->insertWidget(int(names_.size()), tab);
  contents_->addWidget(content);
  names_ << name, heights_.push_back(height);
  if (names_.size() == 1 || name == QSettings().value("drawer").toString()) show(int(names_.size()) - 1);
}

void Drawer::show(int index) {
  contents_->setCurrentIndex(index);
  group_->button(index)->setChecked(true);
  setFixedHeight(look::px(heights_[size_t(index)]));
  emit opened(names_[index]);
}

void Drawer::open(const QString& name) {
  const int index = int(names_.indexOf(name));
  if (index < 0) return;
  show(index);
  QSettings().setValue("drawer", name);
}

QString Drawer::current() const { return names_.value(contents_->currentIndex()); }

}  // namespace dusk
