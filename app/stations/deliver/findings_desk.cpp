#include "app/stations/deliver/findings_desk.h"

#include <QtWidgets>

#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "core/deliver/proof_sheet.h"
#include "core/proof/mend.h"

namespace dusk {

FindingsDesk::FindingsDesk(Workbench& bench)
    : Desk(bench.session, {}, {}), bench_(bench), summary_(note()), rows_(new QWidget) {
  setAccessibleName("Proofs");
  auto* column = new QVBoxLayout(rows_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  add(rows_);
  summary_->setText("Proved once the picture is there.");
  connect(&bench.preview, &Preview::proofsReady, this, &FindingsDesk::show);
  connect(&bench.preview, &Preview::frameReady, this,
          [this](const std::shared_ptr<const Frame>& frame) { passes_ = frame->passes; });
  connect(&session_, &Session::shotChanged, this, [this] { show({}); });
  connect(&session_, &Session::documentChanged, this, [this] { show({}); });
}

void FindingsDesk::show(const std::shared_ptr<const Proofs>& proofs) {
  if (!proofs) passes_.reset();
  if (proofs && proofs->shotId != session_.shot().id) return;
  std::vector<std::string> off;
  if (proofs)
    for (const Finding& f : proofs->findings)
      if (!f.ok()) off.push_back(f.id + f.subject + numbersOf(f));
  summary_->setText(!proofs ? QString("Proved once the picture is there.")
                    : off.empty()
                        ? QString("%1 checks, all hold.").arg(proofs->findings.size())
                        : QString("%1 of %2 checks are off.").arg(off.size()).arg(proofs->findings.size()));
  if (off == shown_) return;  // what one is about to click stays where it is
  shown_ = off;
  qDeleteAll(rows_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  if (!proofs) return;
  for (const Finding& f : proofs->findings)
    if (!f.ok()) rows_->layout()->addWidget(rowOf(f));
}

QWidget* FindingsDesk::rowOf(const Finding& f) {
  auto* row = new QWidget;
  auto* column = new QVBoxLayout(row);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  const auto line = [&](const QString& text, const char* role) {
    auto* label = new QLabel(text);
    label->setWordWrap(true);
    look::setRole(*label, role);
    column->addWidget(label);
  };
  line("✕  " + QString::fromStdString(f.what + ": " + numbersOf(f)), "trouble-caption");
  if (!f.says.empty())
    line(QString("“%1” %2").arg(QString::fromStdString(f.says), QString::fromStdString(f.remedy)), "caption");
  auto* buttons = new QHBoxLayout;
  buttons->setSpacing(6);
  const auto button = [&](const QString& text, const QString& tip, auto act) {
    auto* b = new QPushButton(text);
    b->setToolTip(tip);
    b->setAccessibleName(text + ": " + QString::fromStdString(f.what));
    connect(b, &QPushButton::clicked, this, act);
    buttons->addWidget(b);
  };
  for (const StationInfo& info : stations())
    if (f.station == info.name && info.station != session_.station())
      button(QString("To ") + info.name, "Where this is put right",
             [this, at = info.station] { session_.setStation(at); });
  if (canMend(f))
    button("Mend it", "The program puts this right by itself; undo takes it back", [this, f] { mendIt(f); });
  buttons->addStretch(1);
  column->addLayout(buttons);
  return row;
}

/// What measures the photo takes its time: on a copy, which then takes the document's place in one step.
void FindingsDesk::mendIt(const Finding& f) {
  bench_.jobs.run<Project>(
      {"Mending", "mending", Lane::incoming},
      [project = session_.project(), index = session_.shotIndex(), f, assets = session_.assets(),
       passes = passes_](Progress&) -> Result<Project> {
        Project mended = project;
        const Outcome done = mend(mended, index, f, *assets, passes.get());
        return done ? Result<Project>(std::move(mended)) : done.error();
      },
      [this, before = session_.project()](Project& mended) {
        if (!(session_.project() == before))
          return session_.say("The project changed meanwhile: mend it again.", true);
        session_.edit("mend a finding", [&](Project& p) { p = mended; });
      });
}

}  // namespace dusk
