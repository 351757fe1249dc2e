#include "app/stations/blend/match_desk.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/project/blend_edit.h"

namespace dusk {

/// One line of the table.
class MatchDesk::Line : public QAbstractButton {
 public:
  Line(MatchDesk& desk, MatchKind kind) : desk_(desk), kind_(kind) {
    setFixedHeight(look::px(34));
    setCheckable(true);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    connect(this, &QAbstractButton::clicked, this, [this](bool on) { desk_.match(kind_, on); });
  }
  void show(const MatchRow& row, bool on) {
    row_ = row;
    setChecked(on);
    const QString unit = row.unit, title = row.title;
    setAccessibleName(QString(words("Match %1: photo %2, product %3 %4"))
                          .arg(inSentence(title), photoText(), text(row.product), unit));
    setToolTip(
        QString(row.about) +
        (row.photo
             ? QString(
                   words(".\nPhoto %1 ± %2 %3, product %4 %3.\nA click matches it, another takes it back"))
                   .arg(text(*row.photo), text(row.margin), unit, text(row.product))
             : QString(words(".\nThis photo does not tell"))));
    setEnabled(row.photo.has_value() || on);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -2);
    p.setPen(hasFocus() ? QPen(look::ember(), 1.2) : Qt::NoPen);
    p.setBrush(underMouse() && isEnabled() ? look::raised() : look::field());
    p.drawRoundedRect(box, 4, 4);
    // The mark: a sun that has risen over its line, or a hollow one below.
    const QPointF sun(box.left() + 15, box.center().y());
    p.setPen(QPen(look::muted(), 1));
    p.drawLine(sun + QPointF(-8, 3), sun + QPointF(8, 3));
    p.setPen(QPen(isChecked() ? look::ember() : look::muted(), 1.4));
    p.setBrush(isChecked() ? QBrush(look::ember()) : QBrush(Qt::NoBrush));
    p.drawEllipse(sun + QPointF(0, isChecked() ? -4 : 7), 4, 4);
    p.setPen(isEnabled() ? look::text() : look::muted());
    p.setFont(font());
    p.drawText(QRectF(box.left() + 32, box.top() + 1, box.width() * 0.4, box.height() / 2 + 2),
               Qt::AlignVCenter, row_.title);
    p.setFont(look::small());
    p.setPen(look::tide());
    p.drawText(QRectF(box.left() + 32, box.center().y() - 1, box.width() * 0.42, box.height() / 2),
               Qt::AlignVCenter,
               words("photo ") + photoText() + (row_.photo ? QString(" ") + row_.unit : QString()));
    p.setPen(look::text());
    const QRectF right(box.left() + box.width() * 0.5, box.center().y() - 1, box.width() * 0.5 - 8,
                       box.height() / 2);
    p.drawText(right, Qt::AlignVCenter | Qt::AlignRight, words("product ") + text(row_.product));
    if (!row_.photo) return;
    // The gap about a middle: none is none.
    const QRectF bar(right.left(), box.top() + 8, right.width(), 6);
    p.setPen(Qt::NoPen);
    p.setBrush(look::panel());
    p.drawRoundedRect(bar, 3, 3);
    const double off = std::clamp(row_.gap() / (2 * row_.scale), -1.0, 1.0) * bar.width() / 2;
    p.setBrush(row_.holds() ? look::moss() : look::rose());
    p.drawRect(QRectF(std::min(bar.center().x(), bar.center().x() + off), bar.top(),
                      std::max(1.5, std::abs(off)), bar.height()));
    p.setPen(QPen(look::text(), 1));
    p.drawLine(QPointF(bar.center().x(), bar.top() - 2), QPointF(bar.center().x(), bar.bottom() + 2));
  }

 private:
  QString text(double v) const {
    return QString::number(std::abs(v) < 0.5 * std::pow(10.0, -row_.decimals) ? 0.0 : v, 'f', row_.decimals);
  }
  QString photoText() const { return row_.photo ? text(*row_.photo) : QString(words("does not tell")); }
  MatchDesk& desk_;
  MatchKind kind_;
  MatchRow row_{};
};

MatchDesk::MatchDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  setAccessibleName(words("Match"));
  all_ = button(
      words("Match the photo"),
      words("Measures the photo's grain, softness, halos, fringes, blacks and tone, and does the same to the "
            "product"),
      [this] { matchAll(); }, true);
  told_ = note(words(
      "Grain, softness, fringes, blacks and tone of the photo, measured and put on the product in the order "
      "a camera does."));
  for (const MatchRow& row : matchRows({}, {}, {})) {
    lines_.push_back(new Line(*this, row.kind));
    add(lines_.back());
    lines_.back()->hide();
  }
  connect(&bench.preview, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& f) {
    if (f->shotId == session_.shot().id && f->samples > 0) passes_ = f->passes;
  });
  onRefresh([this] { refresh(); });
}

namespace {
std::string keyOf(const Shot& shot) { return shot.id + "|" + shot.plate.hash + "|" + shot.plate.path; }
}  // namespace

void MatchDesk::measureAndMatch() {
  bench_.jobs.run<Measured>(
      {words("Measuring the photo"), "match"},
      [shot = session_.shot(), assets = session_.assets(),
       passes = passes_](Progress& progress) -> Result<Measured> {
        auto photo = measurePhoto(shot, *assets, progress);
        if (!photo) return photo.error();
        return Measured{std::move(*photo), passes ? measureRender(*passes) : RenderCharacter{}};
      },
      [this, of = keyOf(session_.shot())](Measured& measured) {
        measured_ = std::make_shared<Measured>(std::move(measured)), of_ = of;
        matchAll();
        refresh();
      });
}

bool MatchDesk::isMeasured() const { return measured_ && of_ == keyOf(session_.shot()); }

void MatchDesk::matchAll() {
  if (!isMeasured()) return measureAndMatch();
  session_.editShot(words("match the photo"), [this](Shot& shot) {
    shot.blend = matchedAll(shot.blend, measured_->photo, measured_->render);
  });
}

void MatchDesk::match(MatchKind kind, bool on) {
  if (!measured_) return;
  session_.editShot(on ? words("match one thing") : words("take a match back"), [&](Shot& shot) {
    shot.blend =
        on ? matched(shot.blend, kind, measured_->photo, measured_->render) : unmatched(shot.blend, kind);
    dropIdleRows(shot.blend);
  });
}

void MatchDesk::refresh() {
  const Shot& shot = session_.shot();
  all_->setEnabled(shot.backdrop.kind == BackdropKind::photo && !shot.plate.empty());
  const bool known = isMeasured();
  for (Line* line : lines_) line->setVisible(known);
  if (!known) return;
  const std::vector<MatchRow> rows = matchRows(measured_->photo, measured_->render, shot.blend);
  for (size_t i = 0; i < lines_.size(); ++i) lines_[i]->show(rows[i], isMatched(shot.blend, rows[i].kind));
  const GrainFound& g = measured_->photo.grain;
  QString text = QString(words("%1 flat places, ")).arg(g.patches);
  text += measured_->photo.softness ? QString(words("%1 clean edges.")).arg(measured_->photo.softness->edges)
                                    : QString(words("no clean edges."));
  if (g.blocking > 0.15)
    text += QString(words(" The photo's compression shows: steps at its blocks are %1 % larger."))
                .arg(qRound(100 * g.blocking));
  told_->setText(text);
}

}  // namespace dusk
