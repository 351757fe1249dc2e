#pragma once
#include <QWidget>

#include "app/stations/missing.h"

class QLabel;
class QPushButton;

namespace dusk {

class Session;

/// Over a desk: what its work is missing, and the way to where that is made. Not there where nothing is.
class NeedRow : public QWidget {
  Q_OBJECT
 public:
  explicit NeedRow(Session& session);

 private:
  void refresh();

  Session& session_;
  std::optional<Missing> missing_;
  QLabel* text_;
  QPushButton* go_;
};

}  // namespace dusk
