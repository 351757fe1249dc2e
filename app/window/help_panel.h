#pragma once
#include <QDockWidget>

#include "app/document/station.h"

class QLineEdit;
class QTextBrowser;

namespace dusk {

/// The help beside the work: a page for each station, which stays and follows the work, and one of all keys;
/// can be searched.
class HelpPanel : public QDockWidget {
  Q_OBJECT
 public:
  explicit HelpPanel(QWidget* parent);
  void showStation(Station station);
  /// Whatever page it has, it is seen.
  void comeUp();
  void showKeys();
  /// A page of the guide, by its file's name; the first where none is said.
  void showGuide(const QString& file = "README.md");
  /// What a crash left, as it lies in its file.
  void showReport(const QString& file);

 private:
  void showPage(const QString& title, const QString& text);
  void search(const QString& words);
  QString page(const QString& name) const;

  QLineEdit* words_;
  QTextBrowser* text_;
  Station station_ = Station::plate;
};

}  // namespace dusk
