#include "app/stations/light/watch_desk.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/stations/light/light_jobs.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "core/base/guard.h"
#include "core/base/words.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

double now() {
  return std::chrono::duration<double>(std::chrono::steady_clock::now().time_since_epoch()).count();
}

QString nameOf(const BracketSet& set) {
  return QString::fromStdString(set.photos.front().file.filename().string()) +
         (set.photos.size() > 1 ? QString(words(" and %1 more")).arg(set.photos.size() - 1) : QString());
}

/// One that has grown since it was merged is another.
std::pair<fs::path, size_t> keyOf(const BracketSet& set) {
  return {set.photos.front().file, set.photos.size()};
}

QString stateOf(const BracketSet& set, bool merged) {
  if (merged) return words("lights the shot");
  switch (set.state) {
    case BracketSet::State::coming:
      return words("still coming");
    case BracketSet::State::late:
      return words("no more came");
    case BracketSet::State::complete:
      break;
  }
  return words("complete");
}

}  // namespace

WatchDesk::WatchDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  beginFold(words("Watch a camera's folder"), false);
  note(words("Exposures that a 360-degree camera puts there are merged once a set is complete."));
  folder_ = button(words("Watch a folder…"),
                   words("The folder that the camera, or its cable program, saves into"), [this] {
                     if (watch_) return watch({});
                     const QString folder =
                         chooseFolder(window(), words("The camera's folder"), FileKind::panorama);
                     if (!folder.isEmpty()) watch(folder);
                   });
  const auto own = [this](const char* label, double high, double value, const char* unit, const char* tip) {
    auto* field = new NumberField;
    field->setRange(0, high), field->setDecimals(0), field->setUnit(unit);
    field->setValue(value);
    field->setToolTip(tip);
    field->setAccessibleName(label);
    add(labelled(label, field));
    return field;
  };
  photos_ = own(words("Photos in a set"), 15, 0, "", words("0: as many as the fullest set so far"));
  late_ = own(words("Wait for the last"), 600, 20, "s",
              words("After so long without a newcomer no other is waited for"));
  lights_ = new QCheckBox(words("Light with each set as it comes"));
  lights_->setChecked(true);
  lights_->setToolTip(words("Sets that were there before are merged only when you say so"));
  add(lights_);
  says_ = note();
  says_->hide();
  list_ = new QListWidget;
  look::setRole(*list_, "rows");
  list_->setAccessibleName(words("Sets that came"));
  list_->setToolTip(
      words("What has come so far, the latest first; Enter merges a set and lights the shot with it"));
  list_->setFixedHeight(look::px(96));
  list_->hide();
  add(list_);
  merge_ = button(words("Merge and light with it"),
                  words("Merges the photos of the set in hand, however many there are"), [this] {
                    if (const BracketSet* set = inHand()) merge(*set);
                  });
  merge_->hide();
  connect(list_, &QListWidget::itemActivated, merge_, &QPushButton::click);
  connect(list_, &QListWidget::currentRowChanged, this, &WatchDesk::showInHand);
  endFold();
  timer_.setInterval(500);
  connect(&timer_, &QTimer::timeout, this, &WatchDesk::look);
}

/// The latest is listed first.
const BracketSet* WatchDesk::inHand() const {
  const int row = list_->currentRow();
  return row >= 0 && row < int(sets_.size()) ? &sets_[sets_.size() - 1 - size_t(row)] : nullptr;
}

void WatchDesk::showInHand() {
  const BracketSet* set = inHand();
  merge_->setEnabled(set && set->photos.size() > 1);
}

BracketRule WatchDesk::rule() const {
  BracketRule rule;
  rule.photos = int(photos_->value()), rule.lateSeconds = late_->value();
  return rule;
}

void WatchDesk::watch(const QString& folder) {
  watch_.reset(), sets_.clear(), merged_.clear(), before_.clear(), list_->clear();
  first_ = true;
  const bool on = !folder.isEmpty();
  if (on) watch_ = std::make_shared<BracketWatch>(folder.toStdString());
  folder_->setText(on ? words("Watch it no more") : words("Watch a folder…"));
  says_->setVisible(on), list_->setVisible(on), merge_->setVisible(on);
  merge_->setEnabled(false);
  says_->setText(words("Looking into ") + QFileInfo(folder).fileName() + "…");
  on ? timer_.start() : timer_.stop();
}

/// Looks beside the interface: a camera's folder may be on a slow card or far away.
void WatchDesk::look() {
  if (looking_ || !watch_) return;
  looking_ = true;
  using Sets = Result<std::vector<BracketSet>>;
  auto* watcher = new QFutureWatcher<Sets>(this);
  connect(watcher, &QFutureWatcher<Sets>::finished, this, [this, watcher, of = watch_] {
    looking_ = false;
    watcher->deleteLater();
    if (of != watch_) return;
    const Sets sets = watcher->result();
    if (sets)
      show(*sets);
    else
      says_->setText(QString::fromStdString(sets.error().message));
  });
  watcher->setFuture(runAside([of = watch_, rule = rule()]() -> Sets {
    return guarded(words("looking into a folder"), [&] { return of->look(rule, now()); });
  }));
}

void WatchDesk::show(const std::vector<BracketSet>& sets) {
  sets_ = sets;
  const QSignalBlocker quiet(list_);
  const int row = std::max(list_->currentRow(), 0);
  list_->clear();
  for (auto set = sets_.rbegin(); set != sets_.rend(); ++set)
    list_->addItem(nameOf(*set) + "\n" + QString::fromStdString(set->says()) + ": " +
                   stateOf(*set, merged_.count(keyOf(*set)) > 0));
  list_->setCurrentRow(std::min(row, list_->count() - 1));
  showInHand();
  const bool late = !sets_.empty() && sets_.back().state == BracketSet::State::late;
  says_->setText(sets_.empty() ? QString(words("Nothing has come yet."))
                 : late
                     ? words("The last set is not complete: take it again, or merge what there is.")
                     : QString(words("%1 set came.", "%1 sets came.", long(sets_.size()))).arg(sets_.size()));
  // What was there before the watch began is not asked for.
  if (std::exchange(first_, false))
    for (const BracketSet& set : sets_) before_.insert(keyOf(set));
  if (sets_.empty() || !lights_->isChecked()) return;
  const BracketSet& last = sets_.back();
  if (last.state == BracketSet::State::complete && !merged_.count(keyOf(last)) && !before_.count(keyOf(last)))
    merge(last);
}

void WatchDesk::merge(const BracketSet& set) {
  merged_.insert(keyOf(set));
  QStringList files;
  for (const Arrival& photo : set.photos) files << QString::fromStdString(photo.file.string());
  takeBrackets(bench_, files);
}

}  // namespace dusk
