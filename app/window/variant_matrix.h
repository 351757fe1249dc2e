#pragma once
#include <QListWidget>
#include <QWidget>

#include "app/document/session.h"

class QLabel;
class QPushButton;

namespace dusk {

class VariantPictures;
class Workbench;

/// Every variant of the shot in hand side by side, in the picture's place: chosen by a click, gone to by
/// Enter, and put into the queue, all or those that are selected.
class VariantMatrix : public QWidget {
  Q_OBJECT
 public:
  VariantMatrix(Workbench& bench, VariantPictures& pictures, QWidget* parent = nullptr);

 signals:
  void pictureWanted();

 protected:
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  void fill();
  void showPictures();
  void queue();
  std::vector<VariantChoice> selected() const;

  Workbench& bench_;
  VariantPictures& pictures_;
  QListWidget* list_;
  QLabel* says_;
  QPushButton* queue_;
  std::vector<VariantChoice> choices_;
  std::vector<VariantAxis> of_;  ///< the axes that are listed
};

}  // namespace dusk
