#pragma once
#include <QObject>
#include <memory>
#include <set>

#include "core/vantage/find_edges.h"

namespace dusk {

class Job;
class Jobs;
class Session;

/// What a press in the picture draws at the Vantage station.
enum class Drawing { strokeA, strokeB, strokeUp, footprint, pin, length, upright, horizon, origin, level };

/// The Vantage station's work and what is in hand there; nothing of it is part of the document.
class VantageWork : public QObject {
  Q_OBJECT
 public:
  VantageWork(Session& session, Jobs& jobs);

  Drawing drawing() const { return drawing_; }
  void setDrawing(Drawing drawing);
  bool snaps() const { return snaps_; }
  void setSnaps(bool on);

  /// A wire box that stands on the ground, to be moved about as a check. Edge in metres.
  struct Box {
    Vec2d at{0, 0};
    double edgeM = 0.3;
  };
  const std::optional<Box>& box() const { return box_; }
  void setBox(const std::optional<Box>& box);

  /// Which pin or known length the desk's fields belong to; -1 none.
  int pin() const { return pin_; }
  int length() const { return length_; }
  void selectPin(int index);
  void selectLength(int index);

  /// A point picked on the product for the next pin.
  const std::optional<Vec3d>& pinPoint() const { return pinPoint_; }
  void setPinPoint(const std::optional<Vec3d>& world);

  // ---- edges of the photo
  struct Proposal {
    std::vector<Stroke> strokes;
    std::set<std::string> dropped;
    bool bends = false;
    VantageAnswer answer;  ///< what would come of it
  };
  const std::optional<Proposal>& proposal() const { return proposal_; }
  /// The search, while it runs.
  const Job* looking() const;
  void findEdges();
  void cancelFinding();
  /// Puts a proposed stroke in or out.
  void toggle(const std::string& strokeId);
  /// All proposed strokes of `from` become `to`, and those of `to` become `from`.
  void swapRuns(Run from, Run to);
  void takeProposal();
  void dropProposal();

  // ---- strokes
  /// Moves a stroke onto the edge it was meant to follow; says so where there is none.
  void snapStroke(const std::string& id, int gesture);
  void freeStroke(const std::string& id);
  /// Pixels of the photo within which an edge is looked for when `scale` screen pixels show one of them.
  void setReach(double px) { reachPx_ = px; }

  // ---- frame, levels, kept vantages
  void editFrame(const QString& what, const std::function<void(Evidence&)>& change);
  void addLevel(double heightM);
  /// The drawn footprint, of known size, becomes a level plane of its own and leaves the evidence.
  void footprintToLevel();
  void keep();
  void use(const std::string& keptId);
  void forget(const std::string& keptId);

 signals:
  void changed();

 private:
  void judgeProposal();

  Session& session_;
  Jobs& jobs_;
  Drawing drawing_ = Drawing::strokeA;
  bool snaps_ = true;
  std::optional<Box> box_;
  int pin_ = -1, length_ = -1;
  std::optional<Vec3d> pinPoint_;
  double reachPx_ = 10;
  std::optional<Proposal> proposal_;
};

}  // namespace dusk
