#pragma once
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/project/blend_edit.h"

class QPushButton;

namespace dusk {

/// What can be set of a row of the stack: what is its own, its corrections as a line of chips in the order
/// they act, the fields of the one in hand, and its masks. Made anew when another thing is in hand.
class RowPanel : public Desk {
  Q_OBJECT
 public:
  RowPanel(Workbench& bench, const BlendPlace& place);

  /// What it was made for: when that is another, another panel is needed.
  static QString signature(const Shot& shot, const BlendPlace& place);
  /// The keyboard goes on where it was: at the mask or correction in hand, or where one is added.
  void focusHand();

 signals:
  /// The mask in hand is to stay with another thing (see MaskHold).
  void holdWanted(int hold);

 private:
  using RowEdit = std::function<void(BlendRow&)>;
  void editRow(const QString& what, const RowEdit& change);
  void own();
  void lightFields();
  void productFields();
  void lensFields();
  void blendNumber(const char* label, const Range& range, const char* tip,
                   const std::function<double&(BlendSettings&)>& of);
  void layerFields();
  void chips();
  void correctionFields(const Correction& c);
  void curveFields(const std::function<const Correction*(const Project&)>& get,
                   const std::function<Correction&(Project&)>& in);
  void masks();
  void maskFields(const Mask& m);
  void layerOfMask();
  void takeTable();
  const BlendRow& row(const Project& p) const { return rowNamed(session_.shotIn(p).blend, place_.row); }
  const BlendRow& row() const { return row(session_.project()); }
  void editMask(const QString& what, const std::function<void(Mask&)>& change);
  void maskNumber(const char* label, const Range& range, const char* tip, double Mask::*member);

  Workbench& bench_;
  BlendPlace place_;
  QPushButton* hand_ = nullptr;  ///< stands for the mask or correction in hand
  QPushButton* more_ = nullptr;  ///< adds a mask
};

}  // namespace dusk
