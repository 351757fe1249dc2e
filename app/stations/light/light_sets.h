#pragma once
#include <QImage>
#include <QWidget>
#include <filesystem>

#include "app/document/session.h"

class QListWidget;

namespace dusk {

class Workbench;

/// Panoramas to light with: those that come with the program, and those in a folder of one's own. Each shows
/// what it does to a matte and to a mirror ball.
class LightSets : public QWidget {
  Q_OBJECT
 public:
  explicit LightSets(Workbench& bench);
  /// Where the shipped ones are; empty when they are not there.
  static std::filesystem::path shipped();

 protected:
  void showEvent(QShowEvent*) override;

 private:
  void fill();
  QListWidget* list_;
  bool filled_ = false;
};

/// A matte and a mirror ball side by side in a panorama's light, `size` high.
QImage ballsIn(const Panorama& panorama, int size);

}  // namespace dusk
