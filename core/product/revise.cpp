#include "core/product/revise.h"

#include <algorithm>

#include "core/product/hull.h"

namespace dusk {
namespace {

constexpr double leastLikeness = 0.8;

/// What can be compared of a shape, in the model's frame.
struct Shape {
  double volume = 0, area = 0;
  Box box;
};

Shape shapeOf(const Model& model, const Part& part) {
  const Mass mass = massOf(model.meshOf(part), part.place);
  return {mass.volume, mass.area, model.boxOf(part)};
}

double ratio(double a, double b) {
  const double high = std::max(a, b);
  return high > 0 ? std::min(a, b) / high : 1;
}

double likeness(const Shape& a, const Shape& b) {
  const Vec3d sa = a.box.size(), sb = b.box.size();
  const double size = std::max(sa.length(), sb.length());
  double all = ratio(a.volume, b.volume) * ratio(a.area, b.area);
  if (all < leastLikeness * leastLikeness * leastLikeness) return 0;
  for (int i = 0; i < 3; ++i) all *= ratio(sa[i] + 1e-6 * size, sb[i] + 1e-6 * size);
  // A centre that has gone by the part's own size makes the half of it.
  const double gone = (a.box.middle() - b.box.middle()).length() / std::max(size, 1e-300);
  return std::cbrt(all) / (1 + gone);
}

template <typename Value>
void carry(std::map<std::string, Value>& of, const std::map<std::string, std::string>& to,
           const std::set<std::string>& before) {
  std::map<std::string, Value> result;
  for (auto& [path, value] : of)
    if (const auto now = to.find(path); now != to.end())
      result[now->second] = value;
    else if (!before.contains(path))
      result[path] = value;  // said of a group
  of = std::move(result);
}

}  // namespace

std::vector<PartFate> compareModels(const Model& before, const Model& after) {
  std::vector<int> to(before.parts.size(), -1);
  std::vector<bool> taken(after.parts.size(), false);
  std::vector<PartFate> fates;
  const auto pair = [&](size_t i, size_t k, PartFate::Kind kind, double like) {
    to[i] = int(k), taken[k] = true;
    fates.push_back({kind, before.parts[i].path, after.parts[k].path, like, true});
  };
  std::map<std::string, size_t> byPath;
  for (size_t k = 0; k < after.parts.size(); ++k) byPath.emplace(after.parts[k].path, k);
  for (size_t i = 0; i < before.parts.size(); ++i)
    if (const auto same = byPath.find(before.parts[i].path); same != byPath.end())
      pair(i, same->second, PartFate::kept, 1);

  std::map<std::string, std::pair<std::vector<size_t>, std::vector<size_t>>> byName;
  for (size_t i = 0; i < before.parts.size(); ++i)
    if (to[i] < 0) byName[before.parts[i].name].first.push_back(i);
  for (size_t k = 0; k < after.parts.size(); ++k)
    if (!taken[k]) byName[after.parts[k].name].second.push_back(k);
  for (const auto& [name, both] : byName)
    if (both.first.size() == 1 && both.second.size() == 1)
      pair(both.first[0], both.second[0], PartFate::kept, 1);

  struct Pair {
    double like;
    size_t i, k;
  };
  std::vector<Pair> pairs;
  std::vector<std::pair<size_t, Shape>> rest;
  for (size_t k = 0; k < after.parts.size(); ++k)
    if (!taken[k]) rest.emplace_back(k, shapeOf(after, after.parts[k]));
  for (size_t i = 0; i < before.parts.size() && !rest.empty(); ++i) {
    if (to[i] >= 0) continue;
    const Shape shape = shapeOf(before, before.parts[i]);
    for (const auto& [k, other] : rest)
      if (const double like = likeness(shape, other); like >= leastLikeness) pairs.push_back({like, i, k});
  }
  std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.like > b.like; });
  for (const Pair& p : pairs)
    if (to[p.i] < 0 && !taken[p.k]) pair(p.i, p.k, PartFate::guessed, p.like);

  for (size_t i = 0; i < before.parts.size(); ++i)
    if (to[i] < 0) fates.push_back({PartFate::gone, before.parts[i].path, "", 0, true});
  for (size_t k = 0; k < after.parts.size(); ++k)
    if (!taken[k]) fates.push_back({PartFate::fresh, "", after.parts[k].path, 0, true});
  return fates;
}

Project revised(Project project, const std::string& productId, const AssetRef& model,
                const std::vector<PartFate>& fates) {
  Product* product = byId(project.products, productId);
  if (!product) return project;
  std::map<std::string, std::string> to;
  std::set<std::string> before;
  for (const PartFate& fate : fates) {
    if (!fate.before.empty()) before.insert(fate.before);
    if (!fate.before.empty() && !fate.after.empty() && (fate.kind == PartFate::kept || fate.accepted))
      to[fate.before] = fate.after;
  }
  product->model = model;
  carry(product->surfaceOfPart, to, before);
  carry(product->moves, to, before);
  carry(product->roles, to, before);
  carry(product->names, to, before);
  carry(product->groupOfPart, to, before);
  std::map<std::string, bool> hidden;
  for (const std::string& path : product->hiddenParts) hidden[path] = true;
  carry(hidden, to, before);
  product->hiddenParts.clear();
  for (const auto& [path, is] : hidden) product->hiddenParts.insert(path);
  for (Decal& decal : product->decals) {
    std::map<std::string, bool> on;
    for (const std::string& path : decal.parts) on[path] = true;
    carry(on, to, before);
    decal.parts.clear();
    for (const auto& [path, is] : on) decal.parts.insert(path);
  }
  return project;
}

}  // namespace dusk
