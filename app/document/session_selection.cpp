// What is in hand.
#include <algorithm>

#include "app/document/session.h"

namespace dusk {

void Session::setStation(Station station) {
  if (inGesture() || station == hand_.station) return;
  hand_.station = station;
  emit stationChanged();
}

void Session::select(std::string Selection::*member, const std::string& id) {
  if (hand_.*member == id) return;
  hand_.*member = id;
  emit selectionChanged();
}

void Session::selectPart(const std::string& path, const std::string& placementId) {
  const auto has = [&](const Placement& p) {
    const Product* of = byId(project().products, p.productId);
    const auto model = of ? assets_->loadedModel(*of) : nullptr;
    return model && std::any_of(model->parts.begin(), model->parts.end(),
                                [&](const Part& part) { return part.path == path; });
  };
  std::string at = placementId.empty() ? hand_.placement : placementId;
  if (!path.empty() && placementId.empty())
    if (const Placement* now = placement(); !now || !has(*now))
      for (const Placement& p : shot().placements)
        if (has(p)) {
          at = p.id;
          break;
        }
  if (hand_.part == path && hand_.placement == at) return;
  hand_.part = path, hand_.placement = at;
  emit selectionChanged();
}

void Session::selectPlacement(const std::string& id) {
  if (hand_.placement == id && hand_.part.empty()) return;
  hand_.placement = id, hand_.part.clear();
  emit selectionChanged();
}

const Placement* Session::placement() const {
  const auto& all = shot().placements;
  if (const Placement* p = byId(all, hand_.placement)) return p;
  // What was brought in, before the pieces that are made for it.
  for (const Placement& p : all)
    if (const Product* of = byId(project().products, p.productId); of && of->piece.kind.empty()) return &p;
  return all.empty() ? nullptr : &all.front();
}

const Product* Session::product() const {
  const auto& all = project().products;
  if (const Placement* p = placement())
    if (const Product* of = byId(all, p->productId)) return of;
  return all.empty() ? nullptr : &all.front();
}

Placement* Session::placementIn(Shot& shot) const {
  const Placement* p = placement();
  return p ? byId(shot.placements, p->id) : nullptr;
}

Product* Session::productIn(Project& project) const {
  const Product* p = product();
  return p ? byId(project.products, p->id) : nullptr;
}

std::vector<std::string> Session::partsInHand(const std::string& path) const {
  const auto& all = hand_.together;
  return std::find(all.begin(), all.end(), path) == all.end() ? std::vector{path} : all;
}

void Session::takeBlend(const BlendPlace& place) {
  if (place == hand_.blend) return;
  hand_.blend = place;
  emit selectionChanged();
}

void Session::selectFile(int index) {
  if (index == hand_.file) return;
  hand_.file = index;
  emit selectionChanged();
}

void Session::takeFeed(const FeedPlace& place) {
  if (hand_.feed == place) return;
  hand_.feed = place;
  emit selectionChanged();
}

const Surface* Session::surfaceInHand(const Project& in) const {
  const Product* mine = product();
  const Product* of = mine ? byId(in.products, mine->id) : nullptr;
  if (!of) return nullptr;
  const auto given = of->surfaceOfPart.find(hand_.part);
  return given == of->surfaceOfPart.end() ? nullptr : byId(in.surfaces, given->second);
}

Surface* Session::surfaceInHand(Project& in) const {
  return const_cast<Surface*>(surfaceInHand(std::as_const(in)));
}

const Decal* Session::decalInHand(const Project& in) const {
  const Product* mine = product();
  const Product* of = mine ? byId(in.products, mine->id) : nullptr;
  return of ? byId(of->decals, hand_.decal) : nullptr;
}

Decal* Session::decalInHand(Project& in) const { return const_cast<Decal*>(decalInHand(std::as_const(in))); }

void Session::setNextDrag(NextDrag drag) {
  if (drag == hand_.nextDrag) return;
  hand_.nextDrag = drag;
  emit selectionChanged();
}

void Session::setShownUnit(int index) {
  if (index < 0 || index >= int(shownUnits().size()) || index == unit_) return;
  unit_ = index;
  storeUnit(index);
  emit selectionChanged();
}

}  // namespace dusk
