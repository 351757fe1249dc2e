#include "app/stations/blend/stack_list.h"

#include <QtWidgets>

#include "app/document/step_run.h"
#include "app/widgets/look.h"
#include "app/widgets/strength_row.h"
#include "app/widgets/words.h"
#include "core/base/words.h"

namespace dusk {

std::vector<std::pair<std::string, std::string>> shiningLights(const Shot& shot) {
  std::vector<std::pair<std::string, std::string>> names{{"surroundings", words("Surroundings")}};
  if (shot.surroundings.sunApart) names.emplace_back("sun", words("Its sun"));
  for (const Lamp& l : shot.lamps)
    if (l.on) names.emplace_back(l.id, l.name);
  return names;
}

QStringList layerModeTitles() {
  return {words("Normal"),     words("Multiply"),   words("Screen"),       words("Overlay"),
          words("Darken"),     words("Lighten"),    words("Colour dodge"), words("Colour burn"),
          words("Hard light"), words("Soft light"), words("Difference"),   words("Plus")};
}

class StackList::Row : public QWidget {
 public:
  explicit Row(StackList& list) : list_(list) {
    setFixedHeight(look::px(25));
    setFocusPolicy(Qt::StrongFocus);
  }
  void show(const StackLine& line, const BlendRow& row, const QString& mark, bool inHand) {
    line_ = line, row_ = row, mark_ = mark, inHand_ = inHand;
    QStringList does;
    for (const Correction& c : row.corrections) does << words(infoOf(c.kind).title);
    const QString title = QString::fromStdString(line.title);
    setAccessibleName(QString(words("%1, strength %2 %%3"))
                          .arg(title)
                          .arg(qRound(row.strength * 100))
                          .arg(row.on ? "" : words(", hidden")));
    QString tip;
    for (const BlendRoleInfo& info : blendRoles())
      if (line.row == info.name) tip = QString(words(info.tip)) + ".\n";
    if (!does.isEmpty()) tip += does.join(", ") + ".\n";
    setToolTip(tip + words("Click to take it in hand, drag sideways for its strength. Space: its eye"));
    update();
  }
  const std::string& row() const { return line_.row; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = frame();
    paintStrengthRow(p, box, row_.strength, row_.on, inHand_, hasFocus());
    paintEye(p, eyeBox().center(), row_.on);
    double x = eyeBox().right() + 4;
    const auto frameAt = [&](const std::vector<Mask>& masks) {
      if (masks.empty()) return;
      p.setPen(QPen(look::tide(), 1.2));
      p.drawRect(QRectF(x, box.center().y() - 5, 13, 10));
      p.setBrush(look::tide());
      p.drawEllipse(QPointF(x + 6.5, box.center().y()), 3, 3);
      p.setBrush(Qt::NoBrush);
      x += 19;
    };
    frameAt(row_.masks);
    // One dot for each correction: filled where it is on.
    double right = box.right() - 8;
    for (auto c = row_.corrections.rbegin(); c != row_.corrections.rend(); ++c) {
      p.setPen(QPen(look::ember(), 1.2));
      p.setBrush(c->on ? QBrush(look::ember()) : QBrush(Qt::NoBrush));
      p.drawEllipse(QPointF(right - 3, box.center().y()), 3, 3);
      right -= 11;
    }
    p.setFont(look::small());
    p.setPen(look::muted());
    const int room = mark_.isEmpty() ? 0 : QFontMetrics(look::small()).horizontalAdvance(mark_) + 8;
    p.drawText(QRectF(box.left(), box.top(), right - box.left() - 2, box.height()),
               Qt::AlignVCenter | Qt::AlignRight, mark_);
    p.setPen(row_.on ? look::text() : look::muted());
    p.setFont(font());
    const QRectF name(x + 2, box.top(), right - room - x - 4, box.height());
    p.drawText(name, Qt::AlignVCenter,
               QFontMetrics(font()).elidedText(QString::fromStdString(line_.title), Qt::ElideRight,
                                               int(name.width())));
  }
  void mousePressEvent(QMouseEvent* e) override {
    if (e->button() != Qt::LeftButton) return;
    if (eyeBox().contains(e->position())) return toggle();
    from_ = e->position().x(), begun_ = row_.strength, gesture_ = 0;
    list_.take(line_.row);
  }
  void mouseMoveEvent(QMouseEvent* e) override {
    if (!(e->buttons() & Qt::LeftButton)) return;
    if (!gesture_ && std::abs(e->position().x() - from_) < 4) return;
    if (!gesture_) gesture_ = Session::newGesture();
    setStrength(begun_ + (e->position().x() - from_) / frame().width(), gesture_);
  }
  void keyPressEvent(QKeyEvent* e) override {
    if (e->key() == Qt::Key_Space) return toggle();
    if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return list_.take(line_.row);
    if (e->key() == Qt::Key_Up || e->key() == Qt::Key_Down)
      return list_.step(e->key() == Qt::Key_Up ? -1 : 1);
    if (e->key() == Qt::Key_Left || e->key() == Qt::Key_Right)
      return setStrength(row_.strength + (e->key() == Qt::Key_Left ? -0.05 : 0.05), run_.gesture(e->key()));
    QWidget::keyPressEvent(e);
  }
  void focusInEvent(QFocusEvent* e) override {
    update();
    QWidget::focusInEvent(e);
  }

 private:
  QRectF frame() const { return QRectF(rect()).adjusted(1 + line_.indent * look::px(16), 1.5, -1, -1.5); }
  QRectF eyeBox() const { return {frame().left() + 4, frame().top(), 20, frame().height()}; }
  void toggle() {
    list_.edit(row_.on ? words("hide a row of the blend") : words("show a row of the blend"), line_.row,
               [](BlendRow& r) { r.on = !r.on; });
  }
  void setStrength(double to, int gesture) {
    list_.edit(
        words("strength of a row"), line_.row,
        [&](BlendRow& r) { r.strength = std::clamp(std::round(to * 100) / 100, 0.0, 1.0); }, gesture);
  }

  StackList& list_;
  StackLine line_;
  BlendRow row_;
  QString mark_;
  bool inHand_ = false;
  double from_ = 0, begun_ = 0;
  int gesture_ = 0;
  StepRun run_;
};

StackList::StackList(Session& session) : session_(session) {
  setAccessibleName(words("Stack of the blend"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(1);
  connect(&session_, &Session::changed, this, &StackList::refresh);
  connect(&session_, &Session::selectionChanged, this, &StackList::refresh);
  connect(&session_, &Session::shotChanged, this, &StackList::refresh);
  refresh();
}

void StackList::take(const std::string& row) {
  if (session_.blendInHand().row != row) session_.takeBlend({row, -1, -1});
}

void StackList::step(int by) {
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i]->hasFocus()) {
      const size_t to = size_t(std::clamp(int(i) + by, 0, int(rows_.size()) - 1));
      rows_[to]->setFocus();
      return take(rows_[to]->row());
    }
}

void StackList::edit(const QString& what, const std::string& row,
                     const std::function<void(BlendRow&)>& change, int gesture) {
  session_.editShot(
      what,
      [&](Shot& shot) {
        if (BlendRow* own = rowNamed(shot.blend, row)) change(*own);
        dropIdleRows(shot.blend);
      },
      gesture);
}

void StackList::refresh() {
  const Shot& shot = session_.shot();
  std::vector<StackLine> lines = stackLines(shot.blend, shiningLights(shot));
  std::reverse(lines.begin(), lines.end());
  while (rows_.size() < lines.size()) {
    rows_.push_back(new Row(*this));
    layout()->addWidget(rows_.back());
  }
  while (rows_.size() > lines.size()) {
    rows_.back()->deleteLater();
    layout()->removeWidget(rows_.back());
    rows_.pop_back();
  }
  for (size_t i = 0; i < lines.size(); ++i) {
    const ExtraLayer* layer = layerOf(shot.blend, lines[i].row);
    QString mark;
    if (layer && layer->mode != LayerMode::normal) mark = inSentence(layerModeTitles()[int(layer->mode)]);
    if (lines[i].row == infoOf(BlendRole::front).name && !shot.blend.cutOuts.empty())
      mark = QString(words("%1 cut out")).arg(shot.blend.cutOuts.size());
    if (lines[i].row == infoOf(BlendRole::lens).name && shot.blend.lens != LensLook{})
      mark = words("matched");
    if (lines[i].row == infoOf(BlendRole::grain).name && !shot.blend.grain.sigma.empty())
      mark = words("matched");
    if (lines[i].row == infoOf(BlendRole::view).name) {
      mark = shot.blend.view.empty() ? QString(words("its usual")) : QString::fromStdString(shot.blend.view);
      if (!shot.blend.config.file.empty() &&
          session_.assets()->loadedConfig(shot.blend.config.file) == nullptr)
        mark = words("not found");
    }
    rows_[i]->show(lines[i], rowNamed(shot.blend, lines[i].row), mark,
                   lines[i].row == session_.blendInHand().row);
  }
}

}  // namespace dusk
