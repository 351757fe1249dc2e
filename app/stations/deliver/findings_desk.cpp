#include "app/stations/deliver/findings_desk.h"

#include <QtWidgets>

#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/deliver/proof_sheet.h"
#include "core/project/changes.h"
#include "core/proof/checks.h"
#include "core/proof/mend.h"

namespace dusk {

namespace {

std::string nameOf(const Finding& f) { return f.id + "/" + f.subject; }

/// Whether it is of what is traced; else of how that is blended, which is measured on the finished picture.
bool isOfScene(const Finding& f) { return !matchKindOf(f.id); }

}  // namespace

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
  mendAll_ =
      button(words("Mend what can be"),
             words("Puts right in turn all that the program can by itself, and proves the rest again; one "
                   "undo takes it back"),
             [this] { mendAll(); });
  fill();
  connect(&bench.preview, &Preview::proofsReady, this, &FindingsDesk::show);
  connect(&bench.preview, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& frame) {
    if (!frame->isWhole()) return;
    passes_ = frame->passes;
    if (provesAgain_ && frame->wanted > 0 && frame->samples >= frame->wanted) prove();
  });
  connect(&session_, &Session::shotChanged, this, &FindingsDesk::forget);
  connect(&session_, &Session::documentChanged, this, &FindingsDesk::forget);
  connect(&session_, &Session::changed, this, [this] {
    if (slow_.empty()) return;
    isStale_ = true;
    fill();
  });
}

void FindingsDesk::show(const std::shared_ptr<const Proofs>& proofs) {
  if (proofs && proofs->shotId != session_.shot().id) return;
  live_ = proofs;
  fill();
}

void FindingsDesk::forget() {
  passes_.reset(), slow_.clear(), tried_.reset();
  isStale_ = provesAgain_ = false;
  show({});
}

/// What is measured with the picture, and of the rest what was measured last.
std::vector<Finding> FindingsDesk::known() const {
  std::vector<Finding> all = live_ ? live_->findings : std::vector<Finding>{};
  const size_t quick = all.size();
  for (const Finding& f : slow_) {
    const auto isSame = [&](const Finding& other) { return nameOf(other) == nameOf(f); };
    if (std::none_of(all.begin(), all.begin() + std::ptrdiff_t(quick), isSame)) all.push_back(f);
  }
  return all;
}

/// Rows of what is off, of all that is known.
void FindingsDesk::fill() {
  const std::vector<Finding> all = known();
  std::vector<std::string> off;
  for (const Finding& f : all)
    if (!f.ok()) off.push_back(nameOf(f) + numbersOf(f));
  const long count = long(off.size());
  QString summary = !live_ ? QString(words("Proved once the picture is there."))
                    : off.empty()
                        ? QString(words("%1 checks, all hold.")).arg(all.size())
                        : QString(words("%1 of %2 checks is off.", "%1 of %2 checks are off.", count))
                              .arg(count)
                              .arg(all.size());
  if (live_ && isStale_)
    summary += words(" What takes some seconds was measured before the last change: prove it again.");
  summary_->setText(summary);
  all_->setEnabled(live_ != nullptr);
  mendAll_->setVisible(std::count_if(all.begin(), all.end(), canMend) > 1);
  if (off == shown_) return;  // what one is about to click stays where it is
  shown_ = off;
  qDeleteAll(rows_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
  for (const Finding& f : all)
    if (!f.ok()) rows_->layout()->addWidget(rowOf(f));
}

void FindingsDesk::proveAll() {
  tried_.reset();
  prove();
}

void FindingsDesk::prove() {
  provesAgain_ = false;
  bench_.jobs.run<std::vector<Finding>>(
      {words("Proving all of it"), "prove-all", Lane::incoming},
      [project = session_.project(), index = session_.shotIndex(), assets = session_.assets(),
       passes = passes_](Progress& progress) -> Result<std::vector<Finding>> {
        auto findings = dusk::prove(project, index, *assets, passes.get(), Models::wait, progress);
        // The screen's picture is as large as the screen.
        std::erase_if(findings, [](const Finding& f) { return f.id == "resolution"; });
        return progress.cancelled() ? Result<std::vector<Finding>>(cancelledError()) : std::move(findings);
      },
      [this, before = session_.project()](std::vector<Finding>& findings) {
        if (!(session_.project() == before))
          return session_.refuse(words("The project changed meanwhile: prove it again."));
        slow_ = std::move(findings), isStale_ = false;
        fill();
        if (tried_) mendNext();
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
  const QString what = QString::fromStdString(f.what);
  line("✕  " + what.left(1).toUpper() + what.mid(1) + ": " + QString::fromStdString(numbersOf(f)),
       "trouble-caption");
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
           [this, f] { tried_.reset(), mend({f}, 0); });
  buttons->addStretch(1);
  column->addLayout(buttons);
  return row;
}

/// One after the other, since what is off in the light shows in the picture that the blend is measured by.
void FindingsDesk::mendAll() {
  tried_.emplace(), gesture_ = Session::newGesture();
  mendNext();
}

void FindingsDesk::mendNext() {
  std::vector<Finding> next;
  for (const Finding& f : known())
    if (canMend(f) && !tried_->contains(nameOf(f))) next.push_back(f);
  const bool hasScene = std::any_of(next.begin(), next.end(), isOfScene);
  if (hasScene) std::erase_if(next, [](const Finding& f) { return !isOfScene(f); });
  if (next.empty()) return tried_.reset();
  for (const Finding& f : next) tried_->insert(nameOf(f));
  mend(next, gesture_);
}

/// What measures the photo takes its time: on a copy, which then takes the document's place in one step.
void FindingsDesk::mend(const std::vector<Finding>& findings, int gesture) {
  bench_.jobs.run<Project>(
      {words("Mending"), "mending", Lane::incoming},
      [project = session_.project(), index = session_.shotIndex(), findings, assets = session_.assets(),
       passes = passes_](Progress&) -> Result<Project> {
        Project mended = project;
        std::optional<Error> refused;  // what one cannot be mended by keeps no other from it
        size_t done = 0;
        for (const Finding& f : findings)
          if (const Outcome one = dusk::mend(mended, index, f, *assets, passes.get()))
            ++done;
          else
            refused = one.error();
        if (done == 0 && refused) return *refused;
        return mended;
      },
      [this, findings, gesture, before = session_.project()](Project& mended) {
        if (!(session_.project() == before))
          return session_.refuse(words("The project changed meanwhile: mend it again."));
        const size_t index = session_.shotIndex();
        const Changes what = changes(before, index, mended, index);
        for (const Finding& f : findings)
          std::erase_if(slow_, [&](const Finding& other) { return nameOf(other) == nameOf(f); });
        // What else was off may be otherwise now.
        provesAgain_ = tried_ || !slow_.empty();
        session_.edit(
            words("mend a finding", "mend findings", long(findings.size())), [&](Project& p) { p = mended; },
            gesture);
        if (provesAgain_ && !what.trace && !what.blend) prove();
      });
}

}  // namespace dusk
