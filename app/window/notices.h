#pragma once
#include <QTimer>
#include <QWidget>

#include "app/document/answer.h"

class QLabel;
class QVBoxLayout;

namespace dusk {

class Job;
class Jobs;

/// What the program says, and what it is at: one line each, none in another's place. Work shows how far it
/// is, how long it will take and how to end it; messages stay until they are dismissed, mere news and
/// refusals for some seconds. They lie over the lower edge of what they are a child of, so that nothing
/// moves, and no picture is traced at another size, because something is said.
class Notices : public QWidget {
  Q_OBJECT
 public:
  explicit Notices(Jobs& jobs, QWidget* over = nullptr);

  /// `answers` are buttons; each also dismisses the message.
  void say(const QString& text, bool trouble, const std::vector<Answer>& answers = {});
  /// Why what was asked for cannot be: goes by itself, as news do, and makes room for the next.
  void refuse(const QString& text);
  /// The messages there are, newest last.
  QStringList messages() const;
  void dismissAll();

 signals:
  /// So many pixels of what is under them are covered now, from its lower edge.
  void covers(int height);

 protected:
  bool event(QEvent*) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  class JobRow;
  class MessageRow;
  /// Whether that is said already; then it is as if it were said now.
  bool isThere(const QString& text);
  void add(MessageRow* row);
  void showJobs();
  void tidy();
  void lie();

  Jobs& jobs_;
  QVBoxLayout* column_;
  QWidget* more_;
  QLabel* moreText_;
  std::vector<JobRow*> jobRows_;
  std::vector<MessageRow*> messageRows_;
  MessageRow* refusal_ = nullptr;  ///< the last, among those
  QTimer tick_;
};

}  // namespace dusk
