#pragma once
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// The Vantage station's desk: what to draw, what was found and how sure, what is known besides.
class VantageDesk : public Desk {
  Q_OBJECT
 public:
  explicit VantageDesk(Workbench& bench);

 private:
  void buildEdges();
  void buildDrawing();
  void buildSelected();
  void buildKnown();
  void buildLens();
  void buildLensProfiles();
  void buildFrame();
  void buildKept();
  void evidenceNumber(const char* label, const Range& range, const char* tip,
                      std::function<std::optional<double>(const Evidence&)> get,
                      std::function<void(Evidence&, double)> set);
  /// A list of the shot's things by id, away while there are none.
  QListWidget* list(const QString& name,
                    std::function<std::vector<std::pair<std::string, QString>>(const Shot&)> rows);
  void solveAgain(Project& p);
  void showAnswer();
  std::optional<double> wobbleAtProduct() const;

  Workbench& bench_;
  VantageWork& work_;
  QPushButton* find_ = nullptr;
  QLabel *answer_ = nullptr, *advice_ = nullptr, *found_ = nullptr;
  NumberField* boxEdge_ = nullptr;
};

}  // namespace dusk
