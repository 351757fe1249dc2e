#pragma once
#include <QTreeView>
#include <array>

#include "app/cast/cast_model.h"

class QAction;

namespace dusk {

/// The tree at the left. What is chosen here is in hand everywhere, and what is taken in hand elsewhere is
/// chosen here; what can be done with it is in the context menu, the Edit menu and on its keys.
class Cast : public QTreeView {
  Q_OBJECT
 public:
  explicit Cast(Session& session, QWidget* parent = nullptr);
  CastModel& model() { return *model_; }
  const QList<QAction*>& menuActions() const { return actions_; }
  void goToFirst();

  /// Hides everything of the product but the part or group in hand; all shown again where that is so already.
  void isolate();
  void showAll();
  void toggleShown();
  /// Puts the selected parts together under a name, or each back to where the file has it (empty name).
  void group(const QString& name);
  /// The selected lamps, stand-ins and products (the placed one in hand of each) are taken out of the shot.
  void remove();
  /// The same as text on the clipboard; the shot itself where none is selected.
  void copy();

 private:
  void addActions();
  void chosen(const QModelIndex& now);
  void followTogether();
  std::vector<std::string> selectedParts() const;
  void followSelection();
  void selectIndex(const QModelIndex& index);
  QString freshGroupName() const;
  std::set<std::string> partsUnderSelection() const;
  /// Ids of the selected rows of a kind.
  std::set<std::string> selectedIds(CastModel::Role role) const;

  Session& session_;
  CastModel* model_;
  QList<QAction*> actions_;
  std::array<std::string, 3> followed_;  ///< part, lamp and stand-in in hand when last looked
  bool following_ = false, hadFocus_ = false;
};

}  // namespace dusk
