#pragma once
#include <QTimer>
#include <QWidget>
#include <map>
#include <memory>

#include "app/document/session.h"
#include "app/preview/preview.h"

class QHBoxLayout;
class QMenu;

namespace dusk {

class Jobs;
class Preview;

/// The shots of the campaign as small pictures on one line, the one in hand risen above it. Click or arrow
/// keys change the shot, drag or Ctrl+arrows its place, F2 renames, Delete takes it away, the context menu
/// has all.
class ShotStrip : public QWidget {
  Q_OBJECT
 public:
  ShotStrip(Session& session, Jobs& jobs, const Preview& preview, QWidget* parent = nullptr);
  /// The picture on screen is the newest of its shot.
  void setFrame(const Frame& frame);
  void add(bool copy);
  void remove();
  void rename();
  /// The shot in hand to the one before or after.
  void step(int by);
  /// The shot in hand itself, along the line.
  void move(int by);
  /// Fills a menu with what can be brought from each other shot.
  void fillBringMenu(QMenu* menu);

 protected:
  void showEvent(QShowEvent*) override;
  void keyPressEvent(QKeyEvent*) override;
  void contextMenuEvent(QContextMenuEvent*) override;

 private:
  class Card;
  friend class Card;
  void rebuild();
  void refresh();
  void drawNext();
  /// The shot that is carried would go to where `x` is on the line; and goes there.
  void aim(int x);
  void drop();
  bool isStale(const Shot& shot) const;

  struct Drawn {
    std::shared_ptr<const Project> of;  ///< what the picture shows
    QImage image;
  };
  Session& session_;
  Jobs& jobs_;
  const Preview& preview_;
  QHBoxLayout* line_;
  std::vector<Card*> cards_;
  std::map<std::string, Drawn> drawn_;
  QTimer later_;
  std::string carried_;  ///< the shot that is being dragged
  int gap_ = -1;         ///< before which card it would go
};

}  // namespace dusk
