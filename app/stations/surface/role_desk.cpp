#include "app/stations/surface/role_desk.h"

#include "core/base/words.h"
#include "core/product/model.h"

namespace dusk {

RoleDesk::RoleDesk(Session& session) : Desk(session, {}, {}) {
  beginFold(words("In the picture"), false);
  doing(words("Only catches"),
        words("It stands for what the photo shows there: it catches shadows and bounce, blocks and reflects "
              "for that, and never shows"),
        &PartRole::catcher);
  doing(words("Seen"), words("The camera sees it"), &PartRole::seen);
  doing(words("In mirrors"), words("It is seen in mirrors and through glass"), &PartRole::mirrored);
  doing(words("Throws a shadow"), words("It keeps light from the place and from other parts"),
        &PartRole::shadow);
  doing(words("Gets others' light"), words("Light that other parts and the place send back reaches it, too"),
        &PartRole::lit);
  doing(words("In the alpha"), words("It covers in the alpha of what is handed over; else it is only added"),
        &PartRole::alpha);
  number(
      words("Bounce"), {0, 5, 0.1, 2, "×", true, 1},
      words("Of its colour that it throws on the place: a trim. 1 is what physics says, 0 throws none"),
      [this](const Project& p) {
        const auto role = now(p);
        return role ? std::optional(role->bounce) : std::nullopt;
      },
      [this](Project& p, double v) { changeRole(p, [&](PartRole& role) { role.bounce = v; }); });
  endFold();
}

std::optional<PartRole> RoleDesk::now(const Project& p) const {
  const Product* mine = session_.product();
  const Product* product = mine ? byId(p.products, mine->id) : nullptr;
  if (!product || session_.selectedPart().empty()) return {};
  return roleOf(*product, session_.selectedPart());
}

void RoleDesk::doing(const char* label, const char* tip, bool PartRole::*member) {
  toggle(
      label, tip,
      [=, this](const Project& p) {
        const auto role = now(p);
        return role ? std::optional((*role).*member) : std::nullopt;
      },
      [=, this](Project& p, bool on) { changeRole(p, [&](PartRole& role) { role.*member = on; }); });
}

void RoleDesk::changeRole(Project& p, const std::function<void(PartRole&)>& change) const {
  Product* product = session_.productIn(p);
  if (!product) return;
  for (const std::string& path : session_.partsInHand(session_.selectedPart())) {
    PartRole role = roleOf(*product, path);
    change(role);
    product->roles.erase(path);
    if (!(roleOf(*product, path) == role)) product->roles[path] = role;
  }
}

}  // namespace dusk
