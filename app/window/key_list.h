#pragma once
#include <QWidget>
#include <utility>
#include <vector>

class QAction;
class QKeySequenceEdit;
class QLabel;
class QPushButton;
class QTreeWidget;

namespace dusk {

/// Every action of a window's menus but the recent files, with where it is, as in "File: Save".
std::vector<std::pair<QString, QAction*>> menuActions(const QWidget* window);

/// The keys of a window's menus: told apart by their menu and text, changed by pressing others, with clashes
/// told. What was changed is kept in the person's settings.
class KeyList : public QWidget {
  Q_OBJECT
 public:
  explicit KeyList(QWidget* window);

  /// Gives the window's actions the keys the person chose. Called once its menus are built.
  static void apply(QWidget* window);
  /// Shows the lines that have all the words; whether there are any.
  bool find(const QStringList& words);

 private:
  void fill();
  void showChosen();
  void take();
  QAction* chosen() const;

  QWidget* window_;
  QTreeWidget* list_;
  QKeySequenceEdit* keys_;
  QLabel* clash_;
  QPushButton *usual_, *none_;
};

}  // namespace dusk
