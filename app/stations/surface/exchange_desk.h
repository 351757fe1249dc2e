#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// Surfaces from and to material files, and the whole product in its surfaces as a model file.
class ExchangeDesk : public Desk {
  Q_OBJECT
 public:
  explicit ExchangeDesk(Workbench& bench);

 private:
  void save(const QString& file);
  void saveProduct(const QString& file);
  Workbench& bench_;
};

}  // namespace dusk
