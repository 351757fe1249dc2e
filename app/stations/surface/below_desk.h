#pragma once
#include "app/widgets/desk.h"
#include "core/product/model.h"

namespace dusk {

/// What of the surface in hand feeds do not give: its coat's colour and flakes, the body behind it, what
/// light does below it, and the light it gives off in the units of lamps.
class BelowDesk : public Desk {
  Q_OBJECT
 public:
  explicit BelowDesk(Session& session);

 private:
  void coat();
  void body();
  void below();
  void glow();
  void field(const char* label, const Range& range, const char* tip, double Surface::*member,
             double perUnit = 1);
  void tint(const char* label, const char* tip, Vec3d Surface::*member);
  /// Square metres of the part in hand; 0 while its model is not there.
  double areaM2() const;
  void glowField(const char* label, const Range& range, const char* tip, std::function<double()> perRadiance);

  mutable std::shared_ptr<const Model> measured_;
  mutable std::string measuredPart_;
  mutable double areaM2_ = 0;
};

}  // namespace dusk
