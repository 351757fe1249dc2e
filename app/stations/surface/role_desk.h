#pragma once
#include "app/widgets/desk.h"

namespace dusk {

/// What the parts in hand do in the picture beside looking like their surface.
class RoleDesk : public Desk {
  Q_OBJECT
 public:
  explicit RoleDesk(Session& session);

 private:
  /// Of the part in hand.
  std::optional<PartRole> now(const Project& p) const;
  void doing(const char* label, const char* tip, bool PartRole::*member);
  void changeRole(Project& p, const std::function<void(PartRole&)>& change) const;
};

}  // namespace dusk
