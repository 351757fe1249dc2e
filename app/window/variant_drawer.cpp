#include "app/window/variant_drawer.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/name_field.h"
#include "app/widgets/words.h"
#include "app/window/variant_pictures.h"
#include "core/base/words.h"
#include "core/variant/edit.h"

namespace dusk {
/// One option: its picture standing on the line, its name beside it.
class VariantDrawer::Card : public QAbstractButton {
 public:
  Card(VariantDrawer& drawer, std::string axis, std::string option)
      : drawer_(drawer), axis_(std::move(axis)), option_(std::move(option)) {
    setFocusPolicy(Qt::NoFocus);
    setFixedSize(look::px(148), look::px(48));
    setCursor(Qt::PointingHandCursor);
    connect(this, &QAbstractButton::clicked, this, [this] { drawer_.choose(axis_, option_); });
  }
  const std::string& axis() const { return axis_; }
  const std::string& option() const { return option_; }
  bool isChosen() const {
    const VariantAxis* axis = byId(drawer_.session_.base().axes, axis_);
    const VariantOption* chosen = axis ? chosenOf(*axis, drawer_.session_.shot().choice) : nullptr;
    return chosen && chosen->id == option_;
  }
  VariantChoice choice() const {
    VariantChoice choice = drawer_.session_.shot().choice;
    choice[axis_] = option_;
    return choice;
  }
  void refresh() {
    const Project& p = drawer_.session_.base();
    const auto [axis, option] = optionIn(p, option_);
    if (!option) return;
    setText(shown(option->name));
    setAccessibleName(shown(axis->name + ": " + option->name) + (isChosen() ? words(", chosen") : ""));
    excluded_ = isExcluded(p, choice());
    QStringList tip{shown(option->name) + (isChosen() ? words(": chosen.") : words(": click to see it.")) +
                    words(" F2 renames, right click for more")};
    if (excluded_) tip << words("Excluded: it cannot be together with what is chosen besides");
    if (option->changes.empty()) tip << words("Changes nothing yet");
    for (size_t i = 0; i < option->changes.size() && i < 12; ++i)
      tip << "· " + shown(inWords(p, option->changes[i].at));
    if (option->changes.size() > 12) tip << QString(words("and %1 more")).arg(option->changes.size() - 12);
    setToolTip(tip.join('\n'));
    update();
  }
  void rename() {
    typeName(this, {look::px(70), 8, width() - look::px(72), look::px(26)}, text(),
             words("Name of the option"), [this](const std::string& name) {
               drawer_.session_.edit(words("rename an option"), [&](Project& p) {
                 if (VariantOption* o = optionIn(p, option_).second) o->name = name;
               });
             });
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const bool chosen = isChosen(), recorded = drawer_.session_.recordedOption() == option_;
    const double ground = height() - 4.5;
    p.setPen(QPen(look::land(), 1));
    p.drawLine(QPointF(0, ground), QPointF(width(), ground));
    const double lift = chosen ? 4 : 0;
    QRectF box(4, 5 - lift / 2, look::px(62), ground - 7);
    box.moveBottom(ground - 1 - lift);
    const QImage image = drawer_.pictures_.of(choice());
    QPainterPath round;
    if (!image.isNull()) {
      const QSizeF size = QSizeF(image.size()).scaled(box.size(), Qt::KeepAspectRatio);
      box = QRectF(box.center().x() - size.width() / 2, box.bottom() - size.height(), size.width(),
                   size.height());
    }
    round.addRoundedRect(box, 3, 3);
    p.setClipPath(round);
    const QRectF part = drawer_.partShown(axis_);
    image.isNull() ? p.fillPath(round, look::field())
                   : p.drawImage(box, image,
                                 QRectF(part.x() * image.width(), part.y() * image.height(),
                                        part.width() * image.width(), part.height() * image.height()));
    p.setClipping(false);
    p.setPen(QPen(chosen         ? look::ember()
                  : underMouse() ? look::muted()
                                 : look::line(),
                  chosen ? 2 : 1, excluded_ ? Qt::DashLine : Qt::SolidLine));
    p.drawPath(round);
    const QRectF at(look::px(72), 0, width() - look::px(74), ground);
    p.setFont(look::small());
    p.setPen(excluded_ ? look::rose() : chosen ? look::ember() : look::text());
    p.drawText(at, Qt::AlignVCenter | Qt::TextWordWrap, text());
    if (recorded) {  // edits go into it: a pen's tip on the line
      p.setBrush(look::ember()), p.setPen(Qt::NoPen);
      const double x = at.left() + 6;
      p.drawPolygon(QPolygonF{{x - 5, ground - 10}, {x + 5, ground - 10}, {x, ground}});
    }
  }
  void contextMenuEvent(QContextMenuEvent* e) override { drawer_.showMenu(option_, e->globalPos()); }
  void mouseDoubleClickEvent(QMouseEvent*) override { rename(); }

 private:
  VariantDrawer& drawer_;
  std::string axis_, option_;
  bool excluded_ = false;
};

/// One axis: its name, its cards, and a place for another.
class VariantDrawer::Row : public QWidget {
 public:
  Row(VariantDrawer& drawer, std::string axis) : drawer_(drawer), id_(std::move(axis)) {
    line_ = new QHBoxLayout(this);
    line_->setContentsMargins(0, 0, 0, 0);
    line_->setSpacing(0);
    name_ = new QToolButton;
    name_->setFixedWidth(look::px(104));
    name_->setFocusPolicy(Qt::NoFocus);
    connect(name_, &QToolButton::clicked, this, [this] {
      drawer_.axis_ = id_;
      drawer_.setFocus();
      drawer_.refresh();
    });
    line_->addWidget(name_);
    line_->addStretch(1);
  }
  const std::string& id() const { return id_; }
  void add(QWidget* card) { line_->insertWidget(line_->count() - 1, card); }
  void refresh() {
    const VariantAxis* axis = byId(drawer_.session_.base().axes, id_);
    if (!axis) return;
    const bool here = drawer_.axis() == axis;
    name_->setText(shown(axis->name));
    name_->setAccessibleName(words("Axis: ") + shown(axis->name) + (here ? words(", in hand") : ""));
    name_->setToolTip(shown(axis->name) + words(": new options are its own while it is in hand"));
    look::setRole(*name_, here ? "axis-in-hand" : "axis");
  }
  void rename() {
    typeName(this, {0, 8, look::px(104), look::px(28)}, name_->text(), words("Name of the axis"),
             [this](const std::string& name) {
               drawer_.session_.edit(words("rename an axis"), [&](Project& p) {
                 if (VariantAxis* axis = byId(p.axes, id_)) axis->name = name;
               });
             });
  }

 private:
  VariantDrawer& drawer_;
  std::string id_;
  QHBoxLayout* line_;
  QToolButton* name_;
};

VariantDrawer::VariantDrawer(Session& session, VariantPictures& pictures, QWidget* parent)
    : QWidget(parent), session_(session), pictures_(pictures) {
  setObjectName("variants");
  setAccessibleName(words("Variants of the project"));
  setFocusPolicy(Qt::StrongFocus);
  auto* whole = new QHBoxLayout(this);
  whole->setContentsMargins(8, 4, 8, 4);
  whole->setSpacing(6);
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  auto* inside = new QWidget;
  column_ = new QVBoxLayout(inside);
  column_->setContentsMargins(0, 0, 0, 0);
  column_->setSpacing(2);
  empty_ = new QLabel(words(
      "In five colours, with the lid open and shut, by morning and by evening light: make an axis of each, "
      "give it "
      "options, and change what you see while an option is chosen."));
  empty_->setWordWrap(true);
  look::setRole(*empty_, "muted");
  column_->addWidget(empty_);
  column_->addStretch(1);
  scroll->setWidget(inside);
  whole->addWidget(scroll, 1);
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  const auto button = [&](const QString& label, const QString& tip, int row, int column, auto then) {
    auto* b = new QPushButton(label);
    b->setToolTip(tip);
    b->setMinimumWidth(look::px(104));
    connect(b, &QPushButton::clicked, this, then);
    grid->addWidget(b, row, column);
    return b;
  };
  button(words("New axis"), words("What there are several of: a colour, a lid, a label, a light"), 0, 0,
         [this] { addAxis(); });
  option_ =
      button(words("New option"), words("One more of the axis in hand; what you change then is its own"), 0,
             1, [this] { addOption(); });
  record_ =
      button(words("Edit into it"),
             words("While it is down, what you change belongs to the chosen option of the axis in hand"), 1,
             0, [this] { session_.recordInto(record_->isChecked() && option() ? option()->id : ""); });
  record_->setCheckable(true);
  matrix_ = button(words("Matrix"), words("Every variant side by side, in the picture's place"), 1, 1,
                   [this] { emit matrixWanted(); });
  grid->setRowStretch(2, 1);
  whole->addLayout(grid);
  connect(&session_, &Session::changed, this, &VariantDrawer::rebuild);
  connect(&session_, &Session::selectionChanged, this, &VariantDrawer::refresh);
  connect(&pictures_, &VariantPictures::drawn, this, [this] {
    for (Card* card : cards_) card->update();
  });
  rebuild();
}

const VariantAxis* VariantDrawer::axis() const {
  const auto& axes = session_.base().axes;
  const VariantAxis* axis = byId(axes, axis_);
  return axis ? axis : axes.empty() ? nullptr : &axes.front();
}
const VariantOption* VariantDrawer::option() const {
  const VariantAxis* now = axis();
  return now ? chosenOf(*now, session_.shot().choice) : nullptr;
}
VariantDrawer::Card* VariantDrawer::cardOf(const std::string& option) const {
  for (Card* card : cards_)
    if (card->option() == option) return card;
  return nullptr;
}

QRectF VariantDrawer::partShown(const std::string& axis) const {
  std::vector<VariantChoice> choices;
  for (const Card* card : cards_)
    if (card->axis() == axis) choices.push_back(card->choice());
  return pictures_.about(choices);
}

void VariantDrawer::rebuild() {
  std::vector<std::string> there, wanted;
  for (const Row* row : rows_) there.push_back(row->id());
  for (const Card* card : cards_) there.push_back(card->option());
  const auto& axes = session_.base().axes;
  for (const VariantAxis& axis : axes) wanted.push_back(axis.id);
  for (const VariantAxis& axis : axes)
    for (const VariantOption& option : axis.options) wanted.push_back(option.id);
  if (there != wanted) {
    for (Row* row : rows_) column_->removeWidget(row), row->hide(), row->deleteLater();
    rows_.clear(), cards_.clear();
    for (const VariantAxis& axis : axes) {
      rows_.push_back(new Row(*this, axis.id));
      for (const VariantOption& option : axis.options) {
        cards_.push_back(new Card(*this, axis.id, option.id));
        rows_.back()->add(cards_.back());
      }
      column_->insertWidget(column_->count() - 1, rows_.back());
    }
  }
  empty_->setVisible(axes.empty());
  refresh();
}

void VariantDrawer::refresh() {
  for (Row* row : rows_) row->refresh();
  std::vector<VariantChoice> seen;
  for (Card* card : cards_) card->refresh(), seen.push_back(card->choice());
  const VariantOption* now = option();
  option_->setEnabled(axis()), record_->setEnabled(now), matrix_->setEnabled(axis());
  record_->setChecked(now && session_.recordedOption() == now->id);
  record_->setAccessibleName(now ? words("Edit into ") + shown(now->name) : QString(words("Edit into it")));
  if (isVisible()) pictures_.want(this, std::move(seen));
}

void VariantDrawer::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  refresh();
}
void VariantDrawer::hideEvent(QHideEvent* e) {
  QWidget::hideEvent(e);
  pictures_.want(this, {});
}

void VariantDrawer::choose(const std::string& axis, const std::string& option) {
  setFocus();
  axis_ = axis;
  const auto [of, chosen] = optionIn(session_.base(), option);
  if (chosen)
    session_.editShot(words("show ") + shown(chosen->name), [&](Shot& s) { s.choice[axis] = option; });
  refresh();
}

void VariantDrawer::addAxis() {
  session_.edit(words("add an axis"), [&](Project& p) {
    axis_ = dusk::addAxis(
        p, p.axes.empty() ? words("Colour") : words("Axis ") + std::to_string(p.axes.size() + 1));
  });
  renameAxis(axis_);
}

/// It is chosen, and edits go into it: what a person does next is to change what they see.
void VariantDrawer::addOption() {
  if (!axis()) return addAxis();
  const std::string of = axis()->id;
  std::string id;
  session_.edit(words("add an option"), [&](Project& p) {
    id = dusk::addOption(p, of);
    session_.shotIn(p).choice[of] = id;
  });
  session_.recordInto(id);
  rename(id);
}

void VariantDrawer::remove(const std::string& option) {
  session_.edit(words("take an option away"), [&](Project& p) { removeOption(p, option); });
}

void VariantDrawer::step(int by) {
  const VariantAxis* now = axis();
  if (!now || now->options.empty()) return;
  const int at = int(option() - now->options.data()) + by;
  if (at >= 0 && at < int(now->options.size())) choose(now->id, now->options[size_t(at)].id);
}

void VariantDrawer::rename(const std::string& option) {
  if (Card* card = cardOf(option)) card->rename();
}
void VariantDrawer::renameAxis(const std::string& axis) {
  for (Row* row : rows_)
    if (row->id() == axis) row->rename();
}

void VariantDrawer::stepAxis(int by) {
  const auto& axes = session_.base().axes;
  if (!axis()) return;
  const int at = int(axis() - axes.data()) + by;
  if (at >= 0 && at < int(axes.size())) axis_ = axes[size_t(at)].id;
  refresh();
}

void VariantDrawer::keyPressEvent(QKeyEvent* e) {
  const VariantOption* now = option();
  switch (e->key()) {
    case Qt::Key_Left:
      return step(-1);
    case Qt::Key_Right:
      return step(1);
    case Qt::Key_Up:
      return stepAxis(-1);
    case Qt::Key_Down:
      return stepAxis(1);
    case Qt::Key_F2:
      if (now) rename(now->id);
      return;
    case Qt::Key_Delete:
      if (now) remove(now->id);
      return;
    case Qt::Key_Menu:
      if (now) showMenu(now->id, cardOf(now->id)->mapToGlobal(QPoint(10, 10)));
      return;
    default:
      QWidget::keyPressEvent(e);
  }
}

}  // namespace dusk
