#pragma once
#include <QPointer>
#include <QTimer>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/document/station.h"
#include "core/project/project.h"

class QLabel;
class QPushButton;

namespace dusk {

class MainWindow;

/// One real action of a lesson: what to do, at which station, by which control, and how it is told that it
/// was done. `before` is the project as it was when the step began.
struct LessonStep {
  Station station;
  const char* words;
  std::function<QWidget*(MainWindow&)> control;
  std::function<bool(MainWindow&, const Project& before)> isDone;
};
struct Lesson {
  QString title;
  std::vector<LessonStep> steps;
};

/// A first picture in ten steps on the demo's photo, model and panorama.
Lesson firstPicture();
/// What can be learnt in two minutes of one station.
Lesson lessonOf(Station station);

/// What of the set of the shot in hand still is as it was delivered, a step each.
Lesson makeItMine(MainWindow& window);

/// A strip below the picture that says what to do next and waits until it was done; a frame points at the
/// control. Nothing is kept from working meanwhile; it can be left and taken up again.
class LessonStrip : public QWidget {
  Q_OBJECT
 public:
  explicit LessonStrip(MainWindow& window);
  ~LessonStrip() override;
  void begin(Lesson lesson);
  void leave();
  int step() const { return step_; }
  int steps() const { return int(lesson_.steps.size()); }
  /// The control that the frame is round; nullptr where there is none.
  QWidget* pointedAt() const;
  QString told() const;

 private:
  class Frame;
  void begin(int step);
  void look();

  MainWindow& window_;
  Lesson lesson_;
  int step_ = 0;
  Project before_;
  QLabel *title_, *text_;
  QPushButton *back_, *skip_, *leave_;
  QPointer<Frame> frame_;
  QTimer tick_;
};

}  // namespace dusk
