#include "app/window/shot_strip.h"

#include <QtWidgets>

#include "app/jobs/jobs.h"
#include "app/preview/images.h"
#include "app/preview/preview.h"
#include "app/widgets/look.h"
#include "app/widgets/name_field.h"
#include "core/base/words.h"
#include "core/deliver/thumbnail.h"
#include "core/motion/at.h"
#include "core/project/shots.h"

namespace dusk {

/// One shot: its picture standing on the line, its name under it.
class ShotStrip::Card : public QAbstractButton {
 public:
  Card(ShotStrip& strip, std::string id) : QAbstractButton(&strip), strip_(strip), id_(std::move(id)) {
    setFocusPolicy(Qt::NoFocus);
    setFixedSize(look::px(124), look::px(100));
    setCursor(Qt::PointingHandCursor);
    connect(this, &QAbstractButton::clicked, this, [this] { strip_.session_.selectShot(id_); });
  }
  const std::string& id() const { return id_; }
  void refresh() {
    const Shot* shot = byId(strip_.session_.project().shots, id_);
    if (!shot) return;
    const bool here = strip_.session_.shot().id == id_;
    const QString name = QString::fromStdString(shot->name);
    setText(name);
    setAccessibleName(words("Shot: ") + name + (here ? words(", in hand") : ""));
    setToolTip(name + (here ? words(": in hand. F2 renames, right click for more")
                            : words(": click to work on it")));
    update();
  }
  void edit() {
    typeName(this, {2, look::px(76), width() - 4, look::px(24)}, text(), words("Name of the shot"),
             [this](const std::string& name) {
               strip_.session_.editShotOf(id_, words("rename the shot"), [&](Shot& s) { s.name = name; });
             });
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const bool here = strip_.session_.shot().id == id_;
    const double ground = look::px(76);
    p.setPen(QPen(look::land(), 1));
    p.drawLine(QPointF(0, ground), QPointF(width(), ground));
    QRectF box(8, here ? 4 : 12, width() - 16, ground - (here ? 6 : 4) - (here ? 4 : 12));
    const auto drawn = strip_.drawn_.find(id_);
    QPainterPath round;
    if (drawn != strip_.drawn_.end() && !drawn->second.image.isNull()) {
      const QSizeF size = QSizeF(drawn->second.image.size()).scaled(box.size(), Qt::KeepAspectRatio);
      box = QRectF(box.center().x() - size.width() / 2, box.bottom() - size.height(), size.width(),
                   size.height());
      round.addRoundedRect(box, 4, 4);
      p.setClipPath(round);
      p.drawImage(box, drawn->second.image);
      p.setClipping(false);
    } else {
      round.addRoundedRect(box, 4, 4);
      p.fillPath(round, look::field());
      p.setPen(look::muted());
      p.setFont(look::small());
      p.drawText(box, Qt::AlignCenter, words("no photo yet"));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(here ? look::ember() : underMouse() ? look::muted() : look::line(), here ? 2 : 1));
    p.drawPath(round);
    p.setFont(look::small());
    p.setPen(here ? look::ember() : look::text());
    p.drawText(QRectF(2, ground + 4, width() - 4, look::px(18)), Qt::AlignCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, width() - 6));
    // Where the shot that is carried would go.
    const int own = int(std::find(strip_.cards_.begin(), strip_.cards_.end(), this) - strip_.cards_.begin());
    p.setPen(QPen(look::ember(), 4));
    if (strip_.gap_ == own) p.drawLine(QPointF(2, 8), QPointF(2, ground));
    if (strip_.gap_ == own + 1 && own + 1 == int(strip_.cards_.size()))
      p.drawLine(QPointF(width() - 2, 8), QPointF(width() - 2, ground));
    p.setPen(QPen(look::ember(), 2));
    if (here)
      p.drawLine(QPointF(width() / 2.0 - 12, height() - 1.5), QPointF(width() / 2.0 + 12, height() - 1.5));
  }
  void mousePressEvent(QMouseEvent* e) override {
    strip_.setFocus(Qt::MouseFocusReason);
    pressed_ = e->position();
    QAbstractButton::mousePressEvent(e);
  }
  void mouseMoveEvent(QMouseEvent* e) override {
    if (!(e->buttons() & Qt::LeftButton)) return;
    if (pressed_ && (e->position() - *pressed_).manhattanLength() > QApplication::startDragDistance()) {
      pressed_.reset();
      setDown(false);  // a drag is no click
      strip_.carried_ = id_;
    }
    if (strip_.carried_ == id_) strip_.aim(mapToParent(e->pos()).x());
  }
  void mouseReleaseEvent(QMouseEvent* e) override {
    pressed_.reset();
    if (!strip_.carried_.empty()) return strip_.drop();
    QAbstractButton::mouseReleaseEvent(e);
  }

 private:
  ShotStrip& strip_;
  std::string id_;
  std::optional<QPointF> pressed_;
};

ShotStrip::ShotStrip(Session& session, Jobs& jobs, const Preview& preview, QWidget* parent)
    : QWidget(parent), session_(session), jobs_(jobs), preview_(preview) {
  setObjectName("shots");
  setAccessibleName(words("Shots of the project"));
  setFocusPolicy(Qt::StrongFocus);
  auto* whole = new QHBoxLayout(this);
  whole->setContentsMargins(8, 4, 8, 4);
  whole->setSpacing(6);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setFocusPolicy(Qt::NoFocus);
  auto* inside = new QWidget;
  line_ = new QHBoxLayout(inside);
  line_->setContentsMargins(0, 0, 0, 0);
  line_->setSpacing(0);
  line_->addStretch(1);
  scroll->setWidget(inside);
  whole->addWidget(scroll, 1);
  auto* column = new QVBoxLayout;
  const auto button = [&](const QString& label, const QString& tip, auto then) {
    auto* b = new QPushButton(label);
    b->setToolTip(tip);
    connect(b, &QPushButton::clicked, this, then);
    column->addWidget(b);
    return b;
  };
  button(words("New shot"),
         words("An empty shot: its own photo, camera and light; the products are all shots'"),
         [this] { add(false); });
  button(words("Copy shot"), words("A copy of the shot in hand, beside it"), [this] { add(true); });
  auto* bring = button(words("Bring from…"),
                       words("Takes light, contact, camera or blend over from another shot"), [] {});
  auto* menu = new QMenu(bring);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] { fillBringMenu(menu); });
  bring->setMenu(menu);
  whole->addLayout(column);
  later_.setSingleShot(true);
  later_.setInterval(1200);
  connect(&later_, &QTimer::timeout, this, &ShotStrip::drawNext);
  connect(&session_, &Session::changed, this, &ShotStrip::rebuild);
  connect(&session_, &Session::assetsChanged, &later_, qOverload<>(&QTimer::start));
  connect(&session_, &Session::documentChanged, this, [this] { drawn_.clear(); });
  rebuild();
}

void ShotStrip::rebuild() {
  const auto& shots = session_.project().shots;
  const bool same = shots.size() == cards_.size() &&
                    std::equal(shots.begin(), shots.end(), cards_.begin(),
                               [](const Shot& s, const Card* c) { return s.id == c->id(); });
  if (!same) {
    for (Card* card : cards_) line_->removeWidget(card), card->hide(), card->deleteLater();
    cards_.clear();
    for (const Shot& shot : shots) {
      cards_.push_back(new Card(*this, shot.id));
      line_->insertWidget(int(cards_.size()) - 1, cards_.back());
    }
  }
  refresh();
  if (isVisible()) later_.start();
}

void ShotStrip::refresh() {
  for (Card* card : cards_) card->refresh();
}

void ShotStrip::setFrame(const Frame& frame) {
  if (!frame.isWhole() || frame.pass || frame.samples < 2) return;
  const QImage picture = frame.picture.copy(QRect(-frame.area.topLeft(), frame.whole));
  drawn_[frame.shotId] = {std::make_shared<const Project>(session_.project()),
                          picture.scaled(216, 132, Qt::KeepAspectRatio, Qt::SmoothTransformation)};
  refresh();
}

bool ShotStrip::isStale(const Shot& shot) const {
  const auto drawn = drawn_.find(shot.id);
  if (drawn == drawn_.end() || !drawn->second.of) return true;
  const Shot* was = byId(drawn->second.of->shots, shot.id);
  const Project now = asStill(session_.base(), size_t(&shot - session_.base().shots.data()));
  return !was || changes(*drawn->second.of, size_t(was - drawn->second.of->shots.data()), now,
                         size_t(&shot - session_.base().shots.data()))
                     .blend;
}

/// Draws one shot that is not on screen after the other, in the background.
void ShotStrip::drawNext() {
  if (!isVisible() || jobs_.isRunning("thumbnail")) return;
  if (!preview_.leavesRoom()) return later_.start(300);
  const Project& base = session_.base();
  for (size_t i = 0; i < base.shots.size(); ++i) {
    const std::string id = base.shots[i].id;
    if (id == session_.shot().id || !isStale(base.shots[i])) continue;
    const auto project = std::make_shared<const Project>(asStill(base, i));
    jobs_.run<QImage>(
        {words("Drawing a shot"), "thumbnail", Lane::incoming, true},
        [project, i, assets = session_.assets(),
         cache = session_.geometry()](Progress& progress) -> Result<QImage> {
          const auto made = thumbnailOf(*project, i, *assets, *cache, 216, 132, progress);
          return made ? Result<QImage>(toImage(made->codes)) : Result<QImage>(made.error());
        },
        [this, project, id](QImage& image) {
          drawn_[id] = {project, image};
          refresh();
          later_.start(50);
        },
        // Remembered as it is: without a photo there is nothing to try again.
        [this, project, id](const Error&) {
          drawn_[id] = {project, {}}, later_.start(50);
        });
    return;
  }
  later_.setInterval(1200);
}

void ShotStrip::add(bool copy) {
  std::string id;
  session_.edit(copy ? words("copy the shot") : words("add a shot"),
                [&](Project& p) { id = addShot(p, session_.shotIndex(), copy); });
  session_.selectShot(id);
}

void ShotStrip::remove() {
  if (session_.project().shots.size() < 2)
    return session_.refuse(words("A project has at least one shot: this is the last."));
  session_.edit(words("delete the shot"), [id = session_.shot().id](Project& p) { removeShot(p, id); });
}

void ShotStrip::rename() {
  for (Card* card : cards_)
    if (card->id() == session_.shot().id) card->edit();
}

void ShotStrip::step(int by) {
  const auto& shots = session_.project().shots;
  const int to = std::clamp(int(session_.shotIndex()) + by, 0, int(shots.size()) - 1);
  session_.selectShot(shots[size_t(to)].id);
}

void ShotStrip::move(int by) {
  const int to = int(session_.shotIndex()) + by;
  if (to < 0 || to >= int(session_.project().shots.size())) return;
  session_.edit(words("move the shot"),
                [&, id = session_.shot().id](Project& p) { moveShot(p, id, size_t(to)); });
}

void ShotStrip::aim(int x) {
  gap_ = int(std::count_if(cards_.begin(), cards_.end(),
                           [&](const Card* card) { return card->geometry().center().x() < x; }));
  refresh();
}

void ShotStrip::drop() {
  const std::string id = std::exchange(carried_, {});
  const int gap = std::exchange(gap_, -1);
  const auto& shots = session_.project().shots;
  const Shot* shot = byId(shots, id);
  if (shot && gap >= 0) {
    const int from = int(shot - shots.data()), to = gap > from ? gap - 1 : gap;
    if (to != from) session_.edit(words("move the shot"), [&](Project& p) { moveShot(p, id, size_t(to)); });
  }
  refresh();
}

void ShotStrip::fillBringMenu(QMenu* menu) {
  menu->clear();
  const Shot& here = session_.shot();
  for (const Shot& from : session_.project().shots) {
    if (from.id == here.id) continue;
    auto* of = menu->addMenu(QString::fromStdString(from.name));
    of->setToolTipsVisible(true);
    for (const ShotPart& part : shotParts()) {
      auto* action = of->addAction(words(part.name), this, [this, &part, id = from.id] {
        const Shot* source = byId(session_.project().shots, id);
        if (!source) return;
        session_.editShot(QString(words("bring the ")) + words(part.name) + words(" of ") +
                              QString::fromStdString(source->name),
                          [&, from = *source](Shot& shot) { part.bring(from, shot); });
      });
      const std::string why = part.obstacle(from, here);
      action->setEnabled(why.empty());
      action->setToolTip(why.empty() ? words(part.tip) : QString::fromStdString(why));
    }
  }
  if (menu->isEmpty()) menu->addAction(words("There is no other shot yet"))->setEnabled(false);
}

void ShotStrip::showEvent(QShowEvent*) { later_.start(100); }

void ShotStrip::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Escape && !carried_.empty()) return gap_ = -1, drop();
  const int by = e->key() == Qt::Key_Right ? 1 : e->key() == Qt::Key_Left ? -1 : 0;
  if (by)
    e->modifiers() & Qt::ControlModifier ? move(by) : step(by);
  else if (e->key() == Qt::Key_F2)
    rename();
  else if (e->key() == Qt::Key_Delete)
    remove();
  else
    QWidget::keyPressEvent(e);
}

void ShotStrip::contextMenuEvent(QContextMenuEvent* e) {
  for (Card* card : cards_)
    if (card->rect().contains(card->mapFromGlobal(e->globalPos()))) session_.selectShot(card->id());
  QMenu menu(this);
  menu.addAction(words("Rename"), this, &ShotStrip::rename)->setShortcut(Qt::Key_F2);
  menu.addAction(words("Copy shot"), this, [this] { add(true); });
  menu.addAction(words("New shot"), this, [this] { add(false); });
  menu.addSeparator();
  menu.addAction(words("Move left"), this, [this] { move(-1); })->setEnabled(session_.shotIndex() > 0);
  menu.addAction(words("Move right"), this, [this] { move(1); })
      ->setEnabled(session_.shotIndex() + 1 < session_.project().shots.size());
  fillBringMenu(menu.addMenu(words("Bring from")));
  menu.addSeparator();
  menu.addAction(words("Delete"), this, &ShotStrip::remove)->setEnabled(session_.project().shots.size() > 1);
  menu.exec(e->globalPos());
}

}  // namespace dusk
