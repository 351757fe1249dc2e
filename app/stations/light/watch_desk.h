#pragma once
#include <QTimer>
#include <memory>
#include <set>

#include "app/widgets/desk.h"
#include "core/light/bracket_sets.h"

class QListWidget;

namespace dusk {

class Workbench;

/// Watches the folder that a camera all round puts its exposures into: says what has come, merges a set once
/// it is complete and lights the shot with it.
class WatchDesk : public Desk {
  Q_OBJECT
 public:
  explicit WatchDesk(Workbench& bench);

 private:
  void watch(const QString& folder);
  void look();
  void show(const std::vector<BracketSet>& sets);
  void merge(const BracketSet& set);
  void showInHand();
  const BracketSet* inHand() const;
  BracketRule rule() const;

  Workbench& bench_;
  NumberField *photos_, *late_;
  QCheckBox* lights_;
  QLabel* says_;
  QListWidget* list_;
  QPushButton *folder_, *merge_;
  QTimer timer_;
  std::shared_ptr<BracketWatch> watch_;
  bool looking_ = false, first_ = true;
  std::vector<BracketSet> sets_;
  std::set<std::pair<std::filesystem::path, size_t>> merged_, before_;  ///< sets by shortest photo and count
};

}  // namespace dusk
