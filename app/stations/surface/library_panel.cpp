#include "app/stations/surface/library_panel.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/jobs/aside.h"
#include "app/stations/surface/own_surfaces.h"
#include "app/stations/surface/swatches.h"
#include "app/widgets/clearing.h"
#include "app/widgets/look.h"
#include "app/widgets/picture_icon.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/surface/library.h"

namespace dusk {
namespace {

constexpr int swatchSize = 72, samples = 24;
enum Role { idRole = Qt::UserRole, hashRole };

/// The list that can be dragged from.
class Shelf : public QListWidget {
 public:
  Shelf() {
    setObjectName("presets");
    setAccessibleName(words("Surfaces"));
    setViewMode(IconMode);
    setIconSize({48, 48});
    setMovement(Static);
    setResizeMode(Adjust);
    setDragEnabled(true);
    setUniformItemSizes(true);
    setFont(look::small());
    setContextMenuPolicy(Qt::CustomContextMenu);
    look::setRole(*this, "samples");
  }

 protected:
  /// As many in a row as there is room for, with no gap beside them.
  void resizeEvent(QResizeEvent* e) override {
    const int width = viewport()->width() - 1, columns = std::max(1, width / look::px(62));
    setGridSize({width / columns, 56 + look::px(29)});
    QListWidget::resizeEvent(e);
  }
  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
    auto* data = new QMimeData;
    if (!items.isEmpty())
      data->setData("application/x-dusk-surface", items.first()->data(idRole).toString().toUtf8());
    return data;
  }
};

bool fits(const QString& typed, const Surface& s, const QString& family) {
  return hasAll(shown(s.name) + " " + shown(words(s.name)) + " " + family, wordsOf(typed));
}

}  // namespace

LibraryPanel::LibraryPanel(Session& session)
    : session_(session), words_(new QLineEdit), family_(new QComboBox), list_(new Shelf) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* row = new QHBoxLayout;
  words_->setPlaceholderText(words("Find a surface"));
  offerClearing(*words_);
  words_->setToolTip(words("Words of a name or family: \"brushed\", \"oak\", \"wet\""));
  words_->setAccessibleName(words("Find a surface"));
  family_->setToolTip(words("Which family is on the shelf"));
  family_->setAccessibleName(words("Family"));
  family_->addItems(
      {words("All families"), words("Liked"), words("Used last"), words("In this project"), words("My own")});
  family_->insertSeparator(family_->count());
  for (const LibrarySurface& entry : surfaceLibrary())
    if (const QString family = words(entry.family); family_->findText(family) < 0) family_->addItem(family);
  row->addWidget(words_, 1);
  row->addWidget(family_, 1);
  column->addLayout(row);
  list_->setFixedHeight(2 * (56 + look::px(29)) + 8);
  column->addWidget(list_);
  later_.setSingleShot(true);
  later_.setInterval(0);
  connect(&later_, &QTimer::timeout, this, &LibraryPanel::traceNext);
  connect(words_, &QLineEdit::textChanged, this, &LibraryPanel::fill);
  connect(family_, &QComboBox::currentIndexChanged, this, &LibraryPanel::fill);
  connect(list_->verticalScrollBar(), &QScrollBar::valueChanged, this, [this] { later_.start(); });
  connect(list_, &QListWidget::itemActivated, this,
          [this](QListWidgetItem* item) { emit taken(item->data(idRole).toString()); });
  connect(list_, &QWidget::customContextMenuRequested, this, &LibraryPanel::showMenu);
}

LibraryPanel::~LibraryPanel() { *ending_ = true; }

std::string LibraryPanel::chosen() const {
  const QListWidgetItem* item = list_->currentItem();
  return item ? item->data(idRole).toString().toStdString() : std::string();
}

void LibraryPanel::refresh() {
  if (projects_ == session_.project().surfaces) return;
  projects_ = session_.project().surfaces;
  if (family_->currentText() == words("In this project")) fill();
}

void LibraryPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (std::exchange(stale_, false)) own_ = ownSurfaces(), fill();
}

void LibraryPanel::fill() {
  const QString family = family_->currentText();
  const QStringList liked = likedSurfaces(), recent = recentSurfaces();
  list_->clear();
  const auto add = [&](const Surface& s, const QString& of) {
    if (!fits(words_->text(), s, of)) return;
    const QString id = QString::fromStdString(s.id);
    auto* item = new QListWidgetItem(
        (liked.contains(id) ? "★ " : "") + shown(words(s.name)).replace(' ', '\n'), list_);
    item->setData(idRole, id);
    item->setToolTip(shown(words(s.name)) + " (" + of +
                     words(")\nDrag it onto a part: it is worn while you hold it there. Double click: for "
                           "the selected part."));
    item->setTextAlignment(Qt::AlignHCenter | Qt::AlignTop);
    QPixmap blank(swatchSize, swatchSize);
    blank.fill(Qt::transparent);
    item->setIcon(blank);
  };
  const auto listed = [&](const QStringList& ids) {
    for (const QString& id : ids)
      if (const Surface* s = librarySurface(id.toStdString())) add(*s, family);
  };
  if (family == words("In this project")) {
    for (const Surface& s : projects_) add(s, family);
  } else if (family == words("My own")) {
    own_ = ownSurfaces();
    for (const Surface& s : own_) add(s, family);
  } else if (family == words("Liked") || family == words("Used last")) {
    listed(family == words("Liked") ? liked : recent);
  } else {
    for (const LibrarySurface& entry : surfaceLibrary())
      if (family == words("All families") || family == words(entry.family))
        add(entry.surface, words(entry.family));
  }
  traced_.clear();
  later_.start();
}

/// Traces what can be seen, one after the other, beside everything else.
void LibraryPanel::traceNext() {
  if (!isVisible()) return;
  const QRect seen = list_->viewport()->rect().adjusted(0, -80, 0, 80);
  for (int i = 0; i < list_->count(); ++i) {
    QListWidgetItem* item = list_->item(i);
    const QString id = item->data(idRole).toString();
    if (traced_.contains(id) || !list_->visualItemRect(item).intersects(seen)) continue;
    traced_ << id;
    const Surface* s = byId(projects_, id.toStdString());
    if (!s) s = librarySurface(id.toStdString());
    if (!s) s = byId(own_, id.toStdString());
    if (!s) continue;
    auto* watcher = new QFutureWatcher<QImage>(this);
    connect(watcher, &QFutureWatcher<QImage>::finished, this, [this, watcher, id] {
      for (int k = 0; k < list_->count(); ++k)
        if (list_->item(k)->data(idRole).toString() == id)
          list_->item(k)->setIcon(pictureIcon(QPixmap::fromImage(watcher->result())));
      watcher->deleteLater();
      traceNext();
    });
    watcher->setFuture(runAside([surface = *s, ending = ending_] {
      return *ending ? QImage() : keptSwatch(surface, swatchSize, samples);
    }));
    return;
  }
}

void LibraryPanel::showMenu(const QPoint& at) {
  const QListWidgetItem* item = list_->itemAt(at);
  if (!item) return;
  const QString id = item->data(idRole).toString();
  const bool liked = likedSurfaces().contains(id);
  QMenu menu(this);
  menu.addAction(words("Give to the selected part"), this, [this, id] { emit taken(id); });
  menu.addAction(liked ? words("Like it no more") : words("Like it"), this,
                 [this, id, liked] { setLiked(id, !liked), fill(); });
  menu.exec(list_->viewport()->mapToGlobal(at));
}

}  // namespace dusk
