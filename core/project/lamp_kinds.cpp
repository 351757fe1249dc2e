#include "core/project/lamp_kinds.h"

#include "core/base/words.h"

#include <algorithm>

namespace dusk {
namespace {

constexpr LampKindInfo lampTable[] = {
    {LampKind::sun, "sun", marked("Sun"), "sun", LampBody::distant, false, false, true, 0},
    {LampKind::area, "area", marked("Area light"), "rectangle", LampBody::rectangle},
    {LampKind::disc, "disc", marked("Disc"), "disc", LampBody::disc},
    {LampKind::sphere, "sphere", marked("Ball"), "ball", LampBody::ball, false, false, true, 5, 0.08},
    {LampKind::spot, "spot", marked("Spot"), "spot", LampBody::disc, true, false, true, 7, 0.04},
    {LampKind::photo, "photo", marked("Picture lamp"), "rectangle with a picture", LampBody::rectangle, false,
     true},
    {LampKind::card, "card", marked("Card"), "card", LampBody::rectangle, false, false, false},
};

}  // namespace

std::span<const LampKindInfo> lampKinds() { return lampTable; }

const LampKindInfo& infoOf(LampKind kind) {
  return *std::find_if(std::begin(lampTable), std::end(lampTable) - 1,
                       [&](const LampKindInfo& k) { return k.kind == kind; });
}

const LampKindInfo* lampKindNamed(std::string_view name) {
  const auto found = std::find_if(std::begin(lampTable), std::end(lampTable),
                                  [&](const LampKindInfo& k) { return k.name == name; });
  return found == std::end(lampTable) ? nullptr : found;
}

}  // namespace dusk
