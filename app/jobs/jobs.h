#pragma once
#include <QObject>
#include <QThreadPool>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/guard.h"
#include "core/base/progress.h"

namespace dusk {

class Session;

/// Two kinds of long work that never wait for each other: what comes in (reading, comparing, searching), two
/// at a time, and what goes out (files), one at a time. Both leave the picture its cores.
enum class Lane { incoming, outgoing };

/// One piece of long work, as it is shown. Lives on the interface's thread until it has ended.
class Job : public QObject {
  Q_OBJECT
 public:
  const QString& title() const { return title_; }
  const std::string& key() const { return key_; }
  Lane lane() const { return lane_; }
  bool isQuiet() const { return quiet_; }
  /// Whether its turn has not come yet.
  bool isWaiting() const { return !*begun_; }
  bool isCancelled() const { return progress_->cancelled(); }
  double fraction() const { return progress_->fraction(); }
  /// At the speed so far; negative while nothing is known.
  double secondsLeft() const { return isWaiting() ? -1 : progress_->secondsLeft(); }
  /// Tells it to end; it does so when it next looks.
  void cancel() { progress_->cancel(); }

 private:
  friend class Jobs;
  QString title_;
  std::string key_;
  Lane lane_;
  bool quiet_;
  unsigned document_;
  std::shared_ptr<Progress> progress_ = std::make_shared<Progress>();
  std::shared_ptr<std::atomic<bool>> begun_ = std::make_shared<std::atomic<bool>>(false);
};

/// All long work of a window. A job belongs to the document it was begun for: when another is opened it is
/// cancelled (files that are being delivered are finished), and what it came to is dropped.
class Jobs : public QObject {
  Q_OBJECT
 public:
  explicit Jobs(Session& session);
  ~Jobs() override;

  struct Plan {
    QString title;    ///< "Reading quay.jpg"
    std::string key;  ///< of which one runs at a time: another with the same key ends the first
    Lane lane = Lane::incoming;
    bool quiet = false;  ///< not shown: the person did not ask for it
  };
  /// Runs `work` on the lane, with whatever it throws made an Error. On the interface's thread, while the
  /// document is still the same, either `then` gets its result or `otherwise` its failure; without
  /// `otherwise` a failure is said. A cancelled job says nothing.
  template <typename T>
  Job& run(const Plan& plan, std::function<Result<T>(Progress&)> work, std::function<void(T&)> then,
           std::function<void(const Error&)> otherwise = {}) {
    Job& job = add(plan);
    auto result = std::make_shared<std::optional<Result<T>>>();
    start(
        job,
        [result, work = std::move(work), progress = job.progress_, doing = plan.title.toStdString()] {
          if (progress->cancelled())
            result->emplace(cancelledError());
          else
            result->emplace(guarded("\"" + doing + "\"", [&] { return work(*progress); }));
        },
        [this, result, then = std::move(then), otherwise = std::move(otherwise)] {
          Result<T>& r = **result;
          if (r)
            then(*r);
          else if (otherwise)
            otherwise(r.error());
          else if (r.error().kind != ErrorKind::cancelled)
            say(r.error());
        });
    return job;
  }

  /// In the order they were begun.
  const std::vector<Job*>& all() const { return jobs_; }
  Job* find(const std::string& key) const;
  bool isRunning(const std::string& key) const { return find(key) != nullptr; }
  /// Cancels everything of a lane, or of both.
  void cancelAll();
  /// Waits until nothing runs any more, with the window alive.
  void finish();

 signals:
  /// A job began or ended.
  void changed();

 private:
  Job& add(const Plan& plan);
  void start(Job& job, std::function<void()> work, std::function<void()> done);
  void end(Job& job, const std::function<void()>& done);
  void say(const Error& error);
  QThreadPool& pool(Lane lane) { return lane == Lane::incoming ? incoming_ : outgoing_; }

  Session& session_;
  std::vector<Job*> jobs_;
  QThreadPool incoming_, outgoing_;
};

}  // namespace dusk
