#pragma once
#include <QComboBox>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

namespace dusk {

/// The Product desk in parts: what came in, where it stands, the part in hand, and the height references.
class ProductDesk : public Desk {
 public:
  explicit ProductDesk(Workbench& bench);

 private:
  void buildProduct(Workbench& bench);
  void buildFile();
  void buildPlace();
  void buildPart();
  void buildReferences();

  /// There is nothing to be done by it without a product in the shot.
  void forProduct(QPushButton* button);
  void showFacts();
  void showStanding();
  void settle();
  /// A field of the placement in hand, in metres or degrees.
  void placedLength(const char* label, const char* tip, double Placement::*field);
  void placedAngle(const char* label, const Range& range, const char* tip, double Placement::*field);

  /// What a move of the part in hand applies to: the part, or its group.
  std::vector<std::string> movedPaths() const;
  /// How the part in hand is moved now, as a value to be changed.
  PartMove moveNow(const Project& project) const;
  void changeMove(Project& project, const std::function<void(PartMove&)>& change);
  struct Hinge {
    QString text;
    Vec3d point, direction;
  };
  std::vector<Hinge> hinges() const;
  void refreshHinges();

  QLabel *facts_ = nullptr, *standing_ = nullptr, *part_ = nullptr;
  QPushButton* correct_ = nullptr;
  QComboBox *inHand_ = nullptr, *hinge_ = nullptr;
  std::vector<Hinge> hinges_;
  bool wholeGroup_ = false;
};

}  // namespace dusk
