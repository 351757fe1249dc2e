#pragma once
#include <QWidget>

#include "app/document/session.h"
#include "core/project/blend_edit.h"

namespace dusk {

/// Groups and titles of the lights that shine in a shot.
std::vector<std::pair<std::string, std::string>> shiningLights(const Shot& shot);

/// The blend modes by their names on screen, in the order of LayerMode.
QStringList layerModeTitles();

/// The stack as the way of the light: the place at the foot, the view on top. A row's fill is its strength;
/// an eye shows or hides it, a small frame says that it has masks, dots are its corrections.
class StackList : public QWidget {
  Q_OBJECT
 public:
  explicit StackList(Session& session);

  void take(const std::string& row);
  /// A change of one row, made where it is not there yet.
  void edit(const QString& what, const std::string& row, const std::function<void(BlendRow&)>& change,
            int gesture = 0);
  void step(int by);

 private:
  class Row;
  void refresh();
  Session& session_;
  std::vector<Row*> rows_;
};

}  // namespace dusk
