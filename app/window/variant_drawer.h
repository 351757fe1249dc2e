#pragma once
#include <QWidget>

#include "app/document/session.h"

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace dusk {

class VariantPictures;

/// Axes and their options: one row an axis, its options as cards with traced pictures, the chosen ones risen
/// above the line. Click or arrow keys choose, F2 renames, Delete takes away, the context menu has all.
class VariantDrawer : public QWidget {
  Q_OBJECT
 public:
  VariantDrawer(Session& session, VariantPictures& pictures, QWidget* parent = nullptr);
  void addAxis();
  void addOption();

 signals:
  void matrixWanted();

 protected:
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;
  void keyPressEvent(QKeyEvent*) override;

 private:
  class Card;
  class Row;
  friend class Card;
  friend class Row;
  void rebuild();
  void refresh();
  void choose(const std::string& axis, const std::string& option);
  void step(int by);
  void stepAxis(int by);
  void rename(const std::string& option);
  void renameAxis(const std::string& axis);
  void remove(const std::string& option);
  void showMenu(const std::string& option, const QPoint& at);
  /// The axis in hand; its option that is chosen.
  const VariantAxis* axis() const;
  const VariantOption* option() const;
  Card* cardOf(const std::string& option) const;
  /// Of the pictures of an axis's options, in shares of their size.
  QRectF partShown(const std::string& axis) const;

  Session& session_;
  VariantPictures& pictures_;
  std::string axis_;
  std::vector<Card*> cards_;
  std::vector<Row*> rows_;
  QVBoxLayout* column_;
  QLabel* empty_;
  QPushButton *option_, *record_, *matrix_;
};

}  // namespace dusk
