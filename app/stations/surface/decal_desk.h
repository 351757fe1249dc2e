#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// What is printed on the product in hand: a row each, the last on top, and the fields of the one in hand.
class DecalDesk : public Desk {
  Q_OBJECT
 public:
  explicit DecalDesk(Workbench& bench);

 private:
  void list(Workbench& bench);
  void fields();
  void finish();
  void field(
      const QString& label, const Range& range, const QString& tip, double Decal::*member,
      bool (*has)(const Decal&) = [](const Decal&) { return true; });
  void finishField(const QString& label, const QString& tip, std::optional<double> Decal::*member);
  const Decal* now(const Project& p) const;
  void move(int by);

  QListWidget* list_;
};

}  // namespace dusk
