#pragma once
#include <QTimer>
#include <QWidget>

#include "core/deliver/farm_list.h"

class QLabel;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace dusk {

/// The queue, and what was given to the farm: one line a job, filled from the left as it is done, its newest
/// picture as its stamp. Another program works on it, which goes on when this window is closed.
class QueueDrawer : public QWidget {
  Q_OBJECT
 public:
  explicit QueueDrawer(QWidget* parent = nullptr);
  /// Looks at it again.
  void refresh();
  /// Begins to work on it, where nobody does.
  void work();
  const std::vector<QueuedJob>& jobs() const { return jobs_; }

 signals:
  void said(const QString& text, bool trouble);

 protected:
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;

 private:
  class Line;
  friend class Line;
  /// Reads or changes the queue on another thread: its files may be slow.
  void act(std::function<Outcome(Queue&)> change);
  /// The same of what is on the farm, which may take its time to answer.
  void actOnFarm(std::function<Outcome(FarmList&, Progress&)> change);
  void show(std::vector<QueuedJob> jobs, bool works);
  void showAll();
  void pauseAll();

  std::filesystem::path folder_ = Queue::usualFolder();
  std::vector<QueuedJob> jobs_, queued_, farmed_;
  std::vector<Line*> lines_;
  bool works_ = false, looking_ = false, known_ = false, asking_ = false;
  QTimer tick_, farmTick_;
  QVBoxLayout* column_;
  QLabel* empty_;
  QPushButton *work_, *clear_;
};

}  // namespace dusk
