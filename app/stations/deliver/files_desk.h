#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"

class QListWidget;

namespace dusk {

/// The files that are asked for: a list with what each will be, and the fields of the one in hand.
class FilesDesk : public Desk {
  Q_OBJECT
 public:
  explicit FilesDesk(Workbench& bench);

 private:
  void addName();
  void addShown();
  void addAlpha();
  void addNumbers();
  void addPasses();
  void fillList();
  /// The file in hand, in any state of the document; nullptr where there is none.
  const Deliverable* inHand(const Project& p) const;
  Deliverable* inHand(Project& p) const;
  /// A choice among what there is for it; away where that is one thing.
  void varied(const QString& label, const QString& tip,
              const std::function<QStringList(const Deliverable&)>& items,
              const std::function<int(const Shot&, const Deliverable&)>& get,
              const std::function<void(Shot&, Deliverable&, int)>& set);
  /// A number of it, away where `has` does not hold.
  void fileNumber(const QString& label, const Range& range, const QString& tip,
                  const std::function<bool(const Deliverable&)>& has,
                  const std::function<double(const Deliverable&)>& get,
                  const std::function<void(Deliverable&, double)>& set);

  QListWidget* list_;
};

}  // namespace dusk
