#pragma once
#include "app/cast/cast.h"

namespace dusk {

/// The foldable panel at the left: the cast under a field that finds parts.
class CastPanel : public QWidget {
  Q_OBJECT
 public:
  explicit CastPanel(Session& session);
  Cast& cast() { return *cast_; }

 protected:
  bool eventFilter(QObject* on, QEvent* e) override;

 private:
  Cast* cast_;
};

}  // namespace dusk
