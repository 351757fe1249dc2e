#pragma once
#include <map>

#include "app/widgets/desk.h"

class QVBoxLayout;

namespace dusk {

/// The measures of the piece in hand; away while that is a model file's.
class PieceDesk : public QWidget {
  Q_OBJECT
 public:
  explicit PieceDesk(Session& session);

 private:
  void refresh();
  Session& session_;
  QVBoxLayout* column_;
  std::map<std::string, Desk*> desks_;  ///< by kind, made when one is in hand first
};

}  // namespace dusk
