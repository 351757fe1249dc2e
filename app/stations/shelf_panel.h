#pragma once
#include <QImage>
#include <QPointer>
#include <QWidget>
#include <functional>
#include <memory>

#include "core/outside/shelf.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace dusk {

class Workbench;

/// A shelf of panoramas or surfaces on another machine: found by words, tried by a small version, fetched.
class ShelfPanel : public QWidget {
  Q_OBJECT
 public:
  /// `use` takes a fetched file into the document, as a step of that gesture.
  ShelfPanel(Workbench& bench, ShelfKind kind, std::function<void(const QString& file, int gesture)> use);
  ~ShelfPanel() override;

 private:
  void build();
  void look();
  void fill();
  void picturesNext();
  void showInHand();
  void tryIt();
  void fetch();
  const ShelfEntry* inHand() const;
  std::string jobKey() const;

  Workbench& bench_;
  const ShelfKind kind_;
  const std::function<void(const QString&, int)> use_;
  QComboBox* address_;
  QLineEdit* words_;
  QListWidget* list_;
  QLabel *says_, *about_;
  QPushButton *look_, *try_, *fetch_;
  std::shared_ptr<const Shelf> shelf_;
  ShelfIndex index_;
  std::shared_ptr<Progress> pictures_ = std::make_shared<Progress>();
  std::map<std::string, QImage> pictureOf_;
  bool fetchingPicture_ = false;
  int trial_ = 0;  ///< the gesture of what is tried on
};

}  // namespace dusk
