#include "app/stations/deliver/findings_desk.h"

#include <QtWidgets>

#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/deliver/proof_sheet.h"
#include "core/proof/mend.h"

namespace dusk {

FindingsDesk::FindingsDesk(Workbench& bench)
    : Desk(bench.session, {}, {}), bench_(bench), summary_(note()), rows_(new QWidget) {
  setAccessibleName(words("Proofs"));
  auto* column = new QVBoxLayout(rows_);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  add(rows_);
  all_ = button(
      words("Prove all of it"),
      words("Measures the photo's character, the panorama's stance, faces and prints, too: some seconds. "
            "Else what is quick is proved with each picture, and all of it when files are handed over"),
      [this] { proveAll(); });
  fill();
  connect(&bench.preview, &Preview::proofsReady, this, &FindingsDesk::show);
  connect(&bench.preview, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& frame) {
    if (frame->isWhole()) passes_ = frame->passes;
  });
  connect(&session_, &Session::shotChanged, this, [this] { show({}); });
  connect(&session_, &Session::documentChanged, this, [this] { show({}); });
  // What took long was of the project as it was.
  connect(&session_, &Session::changed, this, [this] {
    if (slow_.empty()) return;
    slow_.clear();
    fill();
  });
}

void FindingsDesk::show(const std::shared_ptr<const Proofs>& proofs) {
  if (proofs && proofs->shotId != session_.shot().id) return;
  if (!proofs) passes_.reset(), slow_.clear();
  live_ = proofs;
  fill();
}

/// Rows of what is off, of all that is known.
void FindingsDesk::fill() {
  std::vector<Finding> all = live_ ? live_->findings : std::vector<Finding>{};
  const size_t quick = all.size();
  for (const Finding& f : slow_) {
    const auto isSame = [&](const Finding& other) { return other.id == f.id && other.subject == f.subject; };
    if (std::none_of(all.begin(), all.begin() + std::ptrdiff_t(quick), isSame)) all.push_back(f);
  }
  std::vector<std::string> off;
  for (const Finding& f : all)
    if (!f.ok()) off.push_back(f.id + f.subject + numbersOf(f));
  summary_->setText(!live_ ? QString(words("Proved once the picture is there."))
                    : off.empty()
                        ? QString(words("%1 checks, all hold.")).arg(all.size())
                        : QString(words("%1 of %2 checks are off.")).arg(off.size()).arg(all.size()));
  all_->setEnabled(live_ != nullptr);
  if (off == shown_) return;  // what one is about to click stays where it is
  shown_ = off;
  qDeleteAll(rows_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  for (const Finding& f : all)
    if (!f.ok()) rows_->layout()->addWidget(rowOf(f));
}

void FindingsDesk::proveAll() {
  bench_.jobs.run<std::vector<Finding>>(
      {words("Proving all of it"), "prove-all", Lane::incoming},
      [project = session_.project(), index = session_.shotIndex(), assets = session_.assets(),
       passes = passes_](Progress& progress) -> Result<std::vector<Finding>> {
        auto findings = prove(project, index, *assets, passes.get(), Models::wait, progress);
        // The screen's picture is as large as the screen.
        std::erase_if(findings, [](const Finding& f) { return f.id == "resolution"; });
        return progress.cancelled() ? Result<std::vector<Finding>>(cancelledError()) : std::move(findings);
      },
      [this, before = session_.project()](std::vector<Finding>& findings) {
        if (!(session_.project() == before))
          return session_.refuse(words("The project changed meanwhile: prove it again."));
        slow_ = std::move(findings);
        fill();
      });
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
  if (const StationInfo* info = stationNamed(f.station); info && info->station != session_.station())
    button(QString(words("To ")) + stationName(info->station), words("Where this is put right"),
           [this, at = info->station] { session_.setStation(at); });
  if (canMend(f))
    button(words("Mend it"), words("The program puts this right by itself; undo takes it back"),
           [this, f] { mendIt(f); });
  buttons->addStretch(1);
  column->addLayout(buttons);
  return row;
}

/// What measures the photo takes its time: on a copy, which then takes the document's place in one step.
void FindingsDesk::mendIt(const Finding& f) {
  bench_.jobs.run<Project>(
      {words("Mending"), "mending", Lane::incoming},
      [project = session_.project(), index = session_.shotIndex(), f, assets = session_.assets(),
       passes = passes_](Progress&) -> Result<Project> {
        Project mended = project;
        const Outcome done = mend(mended, index, f, *assets, passes.get());
        return done ? Result<Project>(std::move(mended)) : done.error();
      },
      [this, before = session_.project()](Project& mended) {
        if (!(session_.project() == before))
          return session_.refuse(words("The project changed meanwhile: mend it again."));
        session_.edit(words("mend a finding"), [&](Project& p) { p = mended; });
      });
}

}  // namespace dusk
