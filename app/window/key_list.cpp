#include "app/window/key_list.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"

namespace dusk {
namespace {

constexpr const char* usualKeys = "usualKeys";  // what an action had before the person changed it
constexpr const char* group = "keys/";

QString settingOf(const QString& name) { return group + QString(name).replace('/', '|'); }

void give(QAction* action, const QKeySequence& keys) {
  if (!action->property(usualKeys).isValid()) action->setProperty(usualKeys, action->shortcut());
  action->setShortcut(keys);
}

QKeySequence usualOf(const QAction* action) {
  const QVariant kept = action->property(usualKeys);
  return kept.isValid() ? kept.value<QKeySequence>() : action->shortcut();
}

}  // namespace

std::vector<std::pair<QString, QAction*>> menuActions(const QWidget* window) {
  std::vector<std::pair<QString, QAction*>> all;
  const std::function<void(const QString&, const QList<QAction*>&)> add =
      [&](const QString& menu, const QList<QAction*>& actions) {
        for (QAction* action : actions) {
          const QString name = QString(action->text()).remove('&');
          // What undo and redo are called changes with what they take back.
          if (action->menu())
            add(menu.isEmpty() ? name : menu + " – " + name, action->menu()->actions());
          else if (!action->isSeparator() && !menu.endsWith(words("Recent")))
            all.push_back({menu + ": " + name.section(':', 0, 0), action});
        }
      };
  if (const auto* main = qobject_cast<const QMainWindow*>(window)) add({}, main->menuBar()->actions());
  return all;
}

void KeyList::apply(QWidget* window) {
  const QSettings settings;
  for (const auto& [name, action] : menuActions(window))
    if (const QVariant kept = settings.value(settingOf(name)); kept.isValid())
      give(action, QKeySequence(kept.toString(), QKeySequence::PortableText));
}

KeyList::KeyList(QWidget* window)
    : window_(window),
      list_(new QTreeWidget),
      keys_(new QKeySequenceEdit),
      clash_(new QLabel),
      usual_(new QPushButton(words("Usual"))),
      none_(new QPushButton(words("None"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 0, 4, 0);
  list_->setHeaderLabels({words("What it does"), words("Keys")});
  list_->setRootIsDecorated(false);
  list_->setAccessibleName(words("Keys"));
  list_->setColumnWidth(0, look::px(330));
  column->addWidget(list_, 1);
  auto* row = new QHBoxLayout;
  auto* label = new QLabel(words("Keys"));
  row->addWidget(label);
  keys_->setAccessibleName(words("Keys of the line in hand"));
  keys_->setToolTip(words("Click, then press the keys it should have"));
  row->addWidget(keys_, 1);
  usual_->setToolTip(words("The keys it had at first"));
  none_->setToolTip(words("No keys: it stays in the menu"));
  row->addWidget(usual_);
  row->addWidget(none_);
  column->addLayout(row);
  look::setRole(*clash_, "trouble");
  clash_->setWordWrap(true);
  clash_->setAccessibleName(words("Clash"));
  clash_->setObjectName("clash");
  clash_->setMinimumHeight(look::px(18));
  column->addWidget(clash_);
  auto* all = new QPushButton(words("Usual keys"));
  all->setToolTip(words("Gives everything the keys it had at first"));
  column->addWidget(all, 0, Qt::AlignRight);
  connect(list_, &QTreeWidget::currentItemChanged, this, &KeyList::showChosen);
  connect(keys_, &QKeySequenceEdit::editingFinished, this, &KeyList::take);
  connect(usual_, &QPushButton::clicked, this, [this] {
    if (const QAction* a = chosen()) keys_->setKeySequence(usualOf(a)), take();
  });
  connect(none_, &QPushButton::clicked, this, [this] { keys_->setKeySequence({}), take(); });
  connect(all, &QPushButton::clicked, this, [this] {
    for (const auto& [name, action] : menuActions(window_)) {
      QSettings().remove(settingOf(name));
      give(action, usualOf(action));
    }
    fill();
  });
  fill();
}

void KeyList::fill() {
  const QString was = list_->currentItem() ? list_->currentItem()->text(0) : QString();
  list_->clear();
  for (const auto& [name, action] : menuActions(window_)) {
    auto* line = new QTreeWidgetItem(list_, {name, action->shortcut().toString(QKeySequence::NativeText)});
    line->setData(0, Qt::UserRole, QVariant::fromValue(static_cast<QObject*>(action)));
    if (action->shortcut() != usualOf(action)) line->setForeground(1, look::ember());
    if (name == was) list_->setCurrentItem(line);
  }
  showChosen();
}

QAction* KeyList::chosen() const {
  QTreeWidgetItem* line = list_->currentItem();
  return line ? qobject_cast<QAction*>(line->data(0, Qt::UserRole).value<QObject*>()) : nullptr;
}

void KeyList::showChosen() {
  const QAction* action = chosen();
  for (QWidget* w : std::initializer_list<QWidget*>{keys_, usual_, none_}) w->setEnabled(action);
  keys_->setKeySequence(action ? action->shortcut() : QKeySequence());
  clash_->clear();
}

/// Gives the line in hand the keys that were pressed; another that has them keeps them, and is named.
void KeyList::take() {
  QAction* action = chosen();
  if (!action || keys_->keySequence() == action->shortcut()) return;
  const QKeySequence keys = keys_->keySequence();
  if (!keys.isEmpty())
    for (const auto& [name, other] : menuActions(window_))
      if (other != action && other->shortcut() == keys)
        return clash_->setText(
            QString(words("%1 are the keys of “%2”. Take others, or give that one none first."))
                .arg(keys.toString(), name));
  give(action, keys);
  const QString name = list_->currentItem()->text(0);
  if (keys == usualOf(action))
    QSettings().remove(settingOf(name));
  else
    QSettings().setValue(settingOf(name), keys.toString(QKeySequence::PortableText));
  fill();
}

bool KeyList::find(const QStringList& words) {
  bool any = false;
  for (int i = 0; i < list_->topLevelItemCount(); ++i) {
    QTreeWidgetItem* line = list_->topLevelItem(i);
    const bool has = hasAll(line->text(0) + " " + line->text(1), words);
    line->setHidden(!has);
    any |= has;
  }
  return any;
}

}  // namespace dusk
