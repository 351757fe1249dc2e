#pragma once
#include <QWidget>

#include "app/document/session.h"

class QToolButton;
class QVBoxLayout;

namespace dusk {

class FeedEditor;

/// The feeds of one value, a row each, the first on top. A row: its eye, a drawing of its kind, its name, its
/// strength as how far it is filled, its size. What is done to rows is one undoable step each.
class FeedList : public QWidget {
  Q_OBJECT
 public:
  /// `place`: which value's; the row in it is not looked at. Its coat may be set later.
  FeedList(Session& session, const FeedPlace& place);
  void setCoat(int coat);
  void refresh();
  /// The editor goes below the row in hand, while that is one of these.
  void host(FeedEditor* editor);
  void add(FeedKind kind);

 private:
  class Row;
  void act(const QString& what, const std::function<void(std::vector<Feed>&)>& change, int gesture = 0);
  void take(int row);
  void remove(int row);
  void move(int row, int by);
  QToolButton* addButton();
  void fillMenu();

  Session& session_;
  FeedPlace place_;
  std::vector<Row*> rows_;
  QVBoxLayout* column_;
  QToolButton* add_;
};

}  // namespace dusk
