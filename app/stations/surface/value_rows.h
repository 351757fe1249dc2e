#pragma once
#include <map>

#include "app/stations/surface/feed_list.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/trace/scene.h"

class QToolButton;

namespace dusk {

/// The values of the surface in hand, or of one of its coats, a row each: name, what it comes to across the
/// part, and the value below all feeds. A row opens downwards into its feeds; one is open at a time.
class ValueRows : public Desk {
  Q_OBJECT
 public:
  explicit ValueRows(Workbench& bench);

 private:
  struct Row {
    SurfaceValue value;
    bool ofMask;
    QToolButton* opener;
    QLabel* strip;
    FeedList* feeds;
  };
  void colourRow(SurfaceValue value, const QString& label, const QString& tip, Vec3d Surface::*member);
  void shareRow(SurfaceValue value, const QString& label, const QString& tip, double Surface::*member,
                const Range& range = {0, 1, 0.02, 2, ""});
  void rareRows();
  void feedsOnly(SurfaceValue value, bool ofMask, const QString& label, const QString& tip);
  void glowRow();
  void addRow(SurfaceValue value, bool ofMask, const QString& label, QWidget* holder);
  void chooseLayer();
  void coatButtons();
  void open(const Row& row);
  void showRows();
  void askForStrips();
  Surface* layer(Project& p) const;
  const Surface* layer(const Project& p) const;
  const Coat* coat(const Project& p) const;
  Coat* coat(Project& p) const;
  int coatIndex() const { return session_.feedInHand().coat; }

  Workbench& bench_;
  std::vector<Row> rows_;
  FeedEditor* editor_;
  std::shared_ptr<const Scene> scene_, stripsOf_;
  std::string stripsPart_;
  bool stripping_ = false, closed_ = true;
};

}  // namespace dusk
