#pragma once
#include "demo_window.h"

namespace dusk {

/// Hands at the Blend station.
class BlendWindow : public DemoWindow {
 protected:
  const Frame* frame() { return picture().frame(); }
  bool waitFor(const std::function<bool()>& done) { return QTest::qWaitFor(done, 60'000); }
  /// Opens a button's menu and takes one of its lines, as a click there does.
  void choose(const QString& button, const QString& line) {
    QTest::qWait(50);  // what was taken in hand is laid out
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == button && b->isVisible())
        for (QAction* a : b->menu()->actions())
          if (a->text() == line) return a->trigger();
    QFAIL(qPrintable(button + " has no " + line));
  }
  /// The demo at the station, with all its samples.
  void openAtBlend() {
    openDemo();
    session().setStation(Station::blend);
    QVERIFY(waitFor([&] { return frame() && frame()->samples > 0 && frame()->samples == frame()->wanted; }));
  }
  template <typename W>
  W* seen(const QString& name) {
    QTest::qWait(50);
    for (W* w : window_->findChildren<W*>())
      if (w->accessibleName() == name && w->isVisible()) return w;
    return nullptr;
  }
  QPushButton* shown(const QString& text) {
    QTest::qWait(50);
    for (QPushButton* b : window_->findChildren<QPushButton*>())
      if (b->text() == text && b->isVisible()) return b;
    return nullptr;
  }
  QCheckBox* tick(const QString& text) {
    QTest::qWait(50);
    for (QCheckBox* b : window_->findChildren<QCheckBox*>())
      if (b->text() == text && b->isVisible()) return b;
    return nullptr;
  }
  void openFold(const QString& name) {
    for (QToolButton* b : window_->findChildren<QToolButton*>())
      if (b->accessibleName() == name) b->click();
  }
};

}  // namespace dusk
