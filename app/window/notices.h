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
/// is, how long it will take and how to end it; messages stay until they are dismissed, mere news for some
/// seconds.
class Notices : public QWidget {
  Q_OBJECT
 public:
  explicit Notices(Jobs& jobs, QWidget* parent = nullptr);

  /// `answers` are buttons; each also dismisses the message.
  void say(const QString& text, bool trouble, const std::vector<Answer>& answers = {});
  /// The messages there are, newest last.
  QStringList messages() const;
  void dismissAll();

 private:
  class JobRow;
  class MessageRow;
  void showJobs();
  void tidy();

  Jobs& jobs_;
  QVBoxLayout* column_;
  QWidget* more_;
  QLabel* moreText_;
  std::vector<JobRow*> jobRows_;
  std::vector<MessageRow*> messageRows_;
  QTimer tick_;
};

}  // namespace dusk
