#include "app/stations/surface/feed_list.h"

#include <QtWidgets>

#include "app/stations/surface/feed_drawing.h"
#include "app/stations/surface/feed_editor.h"
#include "app/widgets/look.h"
#include "app/widgets/strength_row.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/project/feed_kinds.h"

namespace dusk {

namespace {

QString titleOf(const Feed& feed) {
  const QString title = words(infoOf(feed.kind).title);
  if (feed.kind != FeedKind::picture) return title;
  if (feed.picture.empty()) return words("Picture: none chosen");
  return QFileInfo(QString::fromStdString(feed.picture.path)).fileName() +
         (feed.texture >= 0 ? QString(" #%1").arg(feed.texture + 1) : QString());
}

/// What a row tells at its end.
QString sizeOf(const Feed& feed) {
  if (feed.kind != FeedKind::picture && !hasSize(feed)) return {};
  const double mm = feed.kind == FeedKind::picture ? feed.mapping.sizeMm.x : feed.sizeMm;
  return mm > 0 ? QString("%L1 mm").arg(mm, 0, 'g', 3) : QString(words("as mapped"));
}

}  // namespace

class FeedList::Row : public QWidget {
 public:
  Row(FeedList& list, int index) : list_(list), index_(index) {
    setFixedHeight(look::px(28));
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(words(
        "Click to take it in hand, drag sideways for its strength.\nSpace: its eye. Alt+Up and Down: its "
        "place. "
        "Alt+Right and Left: it masks the row above. Delete: away. Hold A in the picture: it alone."));
  }
  void show(const Feed& feed, bool inHand) {
    if (drawing_.isNull() || feed != feed_) drawing_ = feedDrawing(feed, 40);
    feed_ = feed, inHand_ = inHand;
    setAccessibleName(QString(words("%1, strength %2 %%3"))
                          .arg(titleOf(feed))
                          .arg(qRound(feed.strength * 100))
                          .arg(feed.on ? "" : words(", off")));
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = frame();
    paintStrengthRow(p, box, feed_.strength, feed_.on, inHand_, hasFocus());
    const QRectF eye = eyeBox();
    paintEye(p, eye.center(), feed_.on);
    const double side = box.height() - 8;
    const QRectF small(eye.right() + 2, box.top() + 4, side, side);
    p.setOpacity(feed_.on ? 1 : 0.45);
    p.drawImage(small, drawing_);
    p.setPen(look::text());
    p.setFont(font());
    const QString size = sizeOf(feed_);
    const int room = QFontMetrics(look::small()).horizontalAdvance(size) + 10;
    const QRectF name(small.right() + 7, box.top(), box.right() - small.right() - 10 - room, box.height());
    p.drawText(name, Qt::AlignVCenter,
               QFontMetrics(font()).elidedText(titleOf(feed_), Qt::ElideRight, int(name.width())));
    p.setFont(look::small());
    p.setPen(look::muted());
    p.drawText(box.adjusted(0, 0, -7, 0), Qt::AlignVCenter | Qt::AlignRight, size);
  }
  void mousePressEvent(QMouseEvent* e) override {
    if (e->button() != Qt::LeftButton) return;
    if (eyeBox().contains(e->position())) return toggle();
    from_ = e->position().x(), begun_ = feed_.strength, gesture_ = 0;
    list_.take(index_);
  }
  void mouseMoveEvent(QMouseEvent* e) override {
    if (!(e->buttons() & Qt::LeftButton)) return;
    const double by = (e->position().x() - from_) / frame().width();
    if (!gesture_ && std::abs(e->position().x() - from_) < 4) return;
    if (!gesture_) gesture_ = Session::newGesture();
    setStrength(begun_ + by, gesture_);
  }
  void keyPressEvent(QKeyEvent* e) override {
    const bool alt = e->modifiers() & Qt::AltModifier;
    switch (e->key()) {
      case Qt::Key_Space:
        return toggle();
      case Qt::Key_Return:
      case Qt::Key_Enter:
        return list_.take(index_);
      case Qt::Key_Delete:
        return list_.remove(index_);
      case Qt::Key_Up:
        return alt ? list_.move(index_, -1) : void(focusNextPrevChild(false));
      case Qt::Key_Down:
        return alt ? list_.move(index_, 1) : void(focusNextPrevChild(true));
      case Qt::Key_Left:
      case Qt::Key_Right: {
        const int by = e->key() == Qt::Key_Right ? 1 : -1;
        if (!alt) return setStrength(feed_.strength + 0.05 * by, run_.gesture(e->key()));
        return list_.act(words("indent a feed"), [&](std::vector<Feed>& feeds) {
          const int above = index_ > 0 ? feeds[size_t(index_) - 1].indent + 1 : 0;
          feeds[size_t(index_)].indent = std::clamp(feeds[size_t(index_)].indent + by, 0, std::min(above, 8));
        });
      }
      default:
        return QWidget::keyPressEvent(e);
    }
  }
  void focusInEvent(QFocusEvent* e) override { QWidget::focusInEvent(e), update(); }
  void focusOutEvent(QFocusEvent* e) override { run_.end(), QWidget::focusOutEvent(e), update(); }

 private:
  QRectF frame() const { return QRectF(rect()).adjusted(1 + 16 * feed_.indent, 1, -1, -1); }
  QRectF eyeBox() const { return {frame().left() + 2, frame().top(), 22, frame().height()}; }
  void toggle() {
    list_.act(feed_.on ? words("shut a feed's eye") : words("open a feed's eye"),
              [&](std::vector<Feed>& feeds) { feeds[size_t(index_)].on = !feed_.on; });
  }
  void setStrength(double to, int gesture) {
    const double value = std::round(std::clamp(to, 0.0, 1.0) * 100) / 100;
    list_.act(
        words("set a feed's strength"),
        [&](std::vector<Feed>& feeds) { feeds[size_t(index_)].strength = value; }, gesture);
  }

  FeedList& list_;
  int index_;
  Feed feed_;
  bool inHand_ = false;
  QImage drawing_;
  double from_ = 0, begun_ = 0;
  int gesture_ = 0;
  StepRun run_;
};

FeedList::FeedList(Session& session, const FeedPlace& place)
    : session_(session), place_(place), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(4, 0, 0, 4);
  column_->setSpacing(2);
  column_->addWidget(add_ = addButton());
}

void FeedList::setCoat(int coat) { place_.coat = coat; }

QToolButton* FeedList::addButton() {
  auto* button = new QToolButton;
  button->setText(words("+ Feed"));
  button->setToolTip(words("What gives this value: a picture, a pattern, or what the shape knows"));
  button->setAccessibleName(words("Add a feed"));
  button->setPopupMode(QToolButton::InstantPopup);
  return button;
}

/// Only once the list is seen: there is one for every value.
void FeedList::fillMenu() {
  auto* menu = new QMenu(add_);
  static const char* const families[] = {"",
                                         "",
                                         words("Even"),
                                         words("Worn"),
                                         words("Woven"),
                                         words("Natural"),
                                         words("Built"),
                                         words("From the shape")};
  std::map<FeedFamily, QMenu*> menus;
  for (const FeedKindInfo& info : feedKinds()) {
    QMenu*& in = menus[info.family];
    if (!in) in = *families[int(info.family)] ? menu->addMenu(families[int(info.family)]) : menu;
    QAction* action = in->addAction(words(info.title), this, [this, kind = info.kind] { add(kind); });
    // Drawn when the menu is opened: there are many, in every row's list.
    connect(in, &QMenu::aboutToShow, action, [action, kind = info.kind] {
      if (action->icon().isNull()) action->setIcon(QIcon(QPixmap::fromImage(feedDrawing(newFeed(kind), 40))));
    });
    action->setToolTip(words(info.tip));
    in->setToolTipsVisible(true);
  }
  add_->setMenu(menu);
}

void FeedList::act(const QString& what, const std::function<void(std::vector<Feed>&)>& change, int gesture) {
  session_.edit(
      what,
      [&](Project& p) {
        Surface* s = session_.surfaceInHand(p);
        if (std::vector<Feed>* feeds = s ? feedsAt(*s, place_) : nullptr) change(*feeds);
        if (s) tidy(*s);
      },
      gesture);
}

void FeedList::take(int row) {
  FeedPlace place = place_;
  place.row = row;
  session_.takeFeed(place);
}

void FeedList::add(FeedKind kind) {
  act(QString(words("feed it with %1")).arg(inSentence(words(infoOf(kind).title))),
      [&](std::vector<Feed>& feeds) {
        const Surface* s = session_.surfaceInHand(session_.project());
        const Surface* layer = s ? layerAt(*s, place_.coat) : nullptr;
        feeds.insert(feeds.begin(), begunFeed(kind, place_, layer ? *layer : Surface{}));
      });
  take(0);
}

void FeedList::remove(int row) {
  act(words("take a feed away"), [&](std::vector<Feed>& feeds) { feeds.erase(feeds.begin() + row); });
  take(-1);
}

void FeedList::move(int row, int by) {
  if (row + by < 0 || row + by >= int(rows_.size())) return;
  act(words("move a feed"),
      [&](std::vector<Feed>& feeds) { std::swap(feeds[size_t(row)], feeds[size_t(row + by)]); });
  take(row + by);
  rows_[size_t(row + by)]->setFocus();
}

void FeedList::refresh() {
  if (!add_->menu()) fillMenu();
  const Surface* s = session_.surfaceInHand(session_.project());
  const std::vector<Feed>* feeds = s ? feedsAt(*s, place_) : nullptr;
  const size_t count = feeds ? feeds->size() : 0;
  while (rows_.size() > count) delete rows_.back(), rows_.pop_back();
  while (rows_.size() < count) {
    rows_.push_back(new Row(*this, int(rows_.size())));
    column_->insertWidget(int(rows_.size()) - 1, rows_.back());
    rows_.back()->setVisible(true);
  }
  FeedPlace place = place_;
  for (size_t i = 0; i < count; ++i) {
    place.row = int(i);
    rows_[i]->show((*feeds)[i], session_.feedInHand() == place);
  }
}

void FeedList::host(FeedEditor* editor) {
  FeedPlace here = session_.feedInHand();
  const int row = here.row;
  here.row = place_.row;
  if (!(here == place_) || row < 0 || row >= int(rows_.size())) return;
  column_->removeWidget(editor);
  column_->insertWidget(column_->indexOf(rows_[size_t(row)]) + 1, editor);
  editor->show();
}

}  // namespace dusk
