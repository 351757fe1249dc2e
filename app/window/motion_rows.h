#pragma once
#include <QWidget>
#include <map>
#include <set>

#include "app/document/session.h"
#include "core/motion/track.h"

namespace dusk {

/// What moves, a row each: its value as a hill over the horizon, its keys as suns on it, the word for how it
/// gets from one to the next between them; the moment in hand is a thread through all of it.
class MotionRows : public QWidget {
  Q_OBJECT
 public:
  explicit MotionRows(Session& session, QWidget* parent = nullptr);

  /// Of the row in hand; nullptr where nothing moves.
  const MotionTrack* row() const;
  bool hasHeldKeys() const { return !held_.empty(); }
  /// Keys in hand, by their rows.
  using Held = std::map<std::string, std::vector<size_t>>;
  const Held& held() const { return held_; }
  void hold(Held keys);
  // Where things are, in the widget's pixels.
  double xOf(double seconds) const;
  double secondsAt(double x) const;
  QPointF sunAt(const MotionTrack& track, size_t key) const;
  QRect chipAt(const MotionTrack& track, size_t key) const;
  QRect rowRect(const std::string& track) const;
  int rulerHeight() const;

  /// The stretch of time that plays, in seconds; all of it where none was marked. It is nobody's but this
  /// window's.
  using Stretch = std::pair<double, double>;
  Stretch stretch() const;
  /// Shorter than two pictures: all of it again.
  void markStretch(const Stretch& stretch);

  void addKey();
  void removeHeld();
  void setEasing(Easing easing);
  void copyKeys();
  void pasteKeys();
  void stepRow(int by);
  /// To the key before or after the moment, in any row.
  void stepKey(int by);
  /// What is left of the names' end is no time.
  static int nameWidth();

 signals:
  /// Somebody wants another moment: who plays stops.
  void momentWanted(double seconds);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent*) override;
  void mouseMoveEvent(QMouseEvent*) override;
  void mouseReleaseEvent(QMouseEvent*) override;
  void mouseDoubleClickEvent(QMouseEvent*) override;
  void contextMenuEvent(QContextMenuEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  bool event(QEvent*) override;

 private:
  const Motion& motion() const { return session_.shot().motion; }
  struct Sun {
    std::string track;
    size_t key = 0;
    int handle = -1;  ///< of its own curve: 0 or 1
  };
  std::optional<Sun> sunUnder(const QPointF& at) const;
  std::optional<Sun> chipUnder(const QPoint& at) const;
  const MotionTrack* rowUnder(double y) const;
  double heightOf(const MotionTrack& track, double seconds) const;
  std::array<QPointF, 2> handlesOf(const MotionTrack& track, size_t key) const;
  void refresh();
  void paintRuler(QPainter& painter);
  void paintStretch(QPainter& painter);
  void paintRow(QPainter& painter, const MotionTrack& track);
  void paintSuns(QPainter& painter, const MotionTrack& track);
  void pull(const QPointF& to, Qt::KeyboardModifiers with);
  void pullHandle(const QPointF& to);
  void showEasings(const QPoint& global);
  QString told(const QPoint& at) const;
  void say();

  Session& session_;
  std::string row_;
  Held held_;
  std::optional<Stretch> stretch_;
  enum class Pull { nothing, thread, keys, handle, stretch } pull_ = Pull::nothing;
  Sun pulled_;
  std::vector<MotionTrack> before_;  ///< as they were when the pull began
  Held heldBefore_;
  QPointF from_;
  int gesture_ = 0;
  /// What is drawn of each row, between its lowest and its highest number.
  struct Line {
    size_t number = 0;
    double low = 0, high = 1;
  };
  std::map<std::string, Line> lines_;
};

}  // namespace dusk
