#include "core/variant/edit.h"

#include <algorithm>

namespace dusk {

std::pair<const VariantAxis*, const VariantOption*> optionIn(const Project& project, const std::string& id) {
  for (const VariantAxis& axis : project.axes)
    if (const VariantOption* option = byId(axis.options, id)) return {&axis, option};
  return {nullptr, nullptr};
}

std::pair<VariantAxis*, VariantOption*> optionIn(Project& project, const std::string& id) {
  const auto [axis, option] = optionIn(std::as_const(project), id);
  return {const_cast<VariantAxis*>(axis), const_cast<VariantOption*>(option)};
}

std::string freshOptionId(const Project& project) {
  for (int n = 1;; ++n)
    if (const std::string id = "option-" + std::to_string(n); !optionIn(project, id).second) return id;
}

std::string addAxis(Project& project, const std::string& name) {
  const std::string id = freshId(project.axes, "axis");
  VariantOption first{freshOptionId(project), "As it is"};
  project.axes.push_back({id, name, {std::move(first)}});
  return id;
}

std::string addOption(Project& project, const std::string& axisId, const std::string& like) {
  VariantAxis* axis = byId(project.axes, axisId);
  if (!axis) return {};
  VariantOption option{freshOptionId(project), "Option " + std::to_string(axis->options.size() + 1)};
  if (const VariantOption* other = byId(axis->options, like))
    option.changes = other->changes, option.name = other->name + " copy";
  axis->options.push_back(option);
  return option.id;
}

void removeOption(Project& project, const std::string& id) {
  const auto [axis, option] = optionIn(project, id);
  if (!axis) return;
  for (Shot& shot : project.shots) {
    const auto chosen = shot.choice.find(axis->id);
    if (chosen != shot.choice.end() && (chosen->second == id || axis->options.size() == 1))
      shot.choice.erase(chosen);
  }
  std::erase_if(project.excluded, [&](const ExcludedPair& p) { return p.one == id || p.other == id; });
  const std::string axisId = axis->id;
  std::erase_if(axis->options, [&](const VariantOption& o) { return o.id == id; });
  if (axis->options.empty())
    std::erase_if(project.axes, [&](const VariantAxis& a) { return a.id == axisId; });
}

void setExcluded(Project& project, const std::string& one, const std::string& other, bool on) {
  const auto a = optionIn(project, one), b = optionIn(project, other);
  if (!a.first || !b.first || a.first == b.first) return;
  const auto same = [&](const ExcludedPair& p) {
    return (p.one == one && p.other == other) || (p.one == other && p.other == one);
  };
  std::erase_if(project.excluded, same);
  if (on) project.excluded.push_back({std::min(one, other), std::max(one, other)});
}

}  // namespace dusk
