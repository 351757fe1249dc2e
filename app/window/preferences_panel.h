#pragma once
#include <QDialog>

class QLineEdit;
class QListWidget;
class QStackedWidget;
class QVBoxLayout;

namespace dusk {

class KeyList;
struct Preference;

/// What a person sets once for all projects: pages of rows, searched by words, each applied at once and reset
/// by page. The window stays alive beside it.
class PreferencesPanel : public QDialog {
  Q_OBJECT
 public:
  /// The keys that can be changed are those of the window's actions.
  explicit PreferencesPanel(QWidget* window);
  void showPage(const QString& name);

 private:
  void addPage(const QString& name, QWidget* page);
  QWidget* pageOf(const QString& name);
  QWidget* fieldFor(const Preference& preference);
  QWidget* placeField(const Preference& preference);
  void addCache(QVBoxLayout* column);
  void find(const QString& words);

  QLineEdit* words_;
  QListWidget* names_;
  QStackedWidget* pages_;
  KeyList* keys_;
};

}  // namespace dusk
