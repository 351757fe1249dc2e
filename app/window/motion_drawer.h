#pragma once
#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "app/stations/workbench.h"

class QPushButton;
class QToolButton;

namespace dusk {

class MotionRows;
class NumberField;

/// Drawer of what moves in the shot in hand: playing it, its length and shutter, what begins to move, and a
/// row for each thing that does.
class MotionDrawer : public QWidget {
  Q_OBJECT
 public:
  explicit MotionDrawer(Workbench& bench, QWidget* parent = nullptr);
  MotionRows& rows() { return *rows_; }
  void play(bool on);
  bool isPlaying() const { return playing_; }
  void step(int pictures);
  /// The picture that was asked for is there: the next may be.
  void frameShown();
  /// Lets the product in hand fall, and keys its way.
  void drop();

 signals:
  void filmWanted();

 protected:
  void hideEvent(QHideEvent* e) override;

 private:
  QWidget* buildPlaying();
  QWidget* buildLengths();
  QWidget* buildMaking();
  NumberField* field(QWidget* to, const QString& label, const QString& tip, const QString& unit, double low,
                     double high, int decimals, const std::function<double(const Motion&)>& get,
                     const std::function<void(Motion&, double)>& set);
  void fillMoveMenu(QMenu* menu);
  void fillMoreMenu(QMenu* menu);
  void addReady(QMenu* menu);
  void keyThing(const std::string& place);
  void refresh();
  void goOn();

  Workbench& bench_;
  Session& session_;
  MotionRows* rows_ = nullptr;
  QPushButton *play_ = nullptr, *record_ = nullptr;
  NumberField* moment_ = nullptr;
  std::vector<std::function<void()>> refreshers_;
  bool playing_ = false, waits_ = false;
  double playedFrom_ = 0;
  QElapsedTimer since_, asked_;
  QTimer timer_;
};

}  // namespace dusk
