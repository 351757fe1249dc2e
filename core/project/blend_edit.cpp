#include "core/project/blend_edit.h"

#include "core/base/words.h"
#include "core/project/by_id.h"

namespace dusk {

ExtraLayer* layerOf(BlendSettings& blend, const std::string& row) {
  return row.starts_with(layerRow) ? byId(blend.layers, row.substr(layerRow.size())) : nullptr;
}
const ExtraLayer* layerOf(const BlendSettings& blend, const std::string& row) {
  return row.starts_with(layerRow) ? byId(blend.layers, row.substr(layerRow.size())) : nullptr;
}

BlendRow* rowNamed(BlendSettings& blend, const std::string& name) {
  if (!name.starts_with(layerRow)) return &blend.rows[name];
  ExtraLayer* layer = layerOf(blend, name);
  return layer ? &layer->row : nullptr;
}

const BlendRow& rowNamed(const BlendSettings& blend, const std::string& name) {
  static const BlendRow none;
  if (!name.starts_with(layerRow)) return rowOf(blend, name);
  const ExtraLayer* layer = layerOf(blend, name);
  return layer ? layer->row : none;
}

std::vector<Mask>& masksAt(BlendRow& row, int correction) {
  return correction >= 0 && size_t(correction) < row.corrections.size()
             ? row.corrections[size_t(correction)].masks
             : row.masks;
}
const std::vector<Mask>& masksAt(const BlendRow& row, int correction) {
  return masksAt(const_cast<BlendRow&>(row), correction);
}

BlendRole roleOfRow(const std::string& name) {
  if (name.starts_with(lightRow)) return BlendRole::product;
  if (name.starts_with(layerRow)) return BlendRole::front;
  for (const BlendRoleInfo& info : blendRoles())
    if (info.name == name) return info.role;
  return BlendRole::view;
}

std::vector<StackLine> stackLines(const BlendSettings& blend,
                                  const std::vector<std::pair<std::string, std::string>>& lights) {
  std::vector<StackLine> lines;
  for (const BlendRoleInfo& info : blendRoles()) {
    if (info.role == BlendRole::product)
      for (auto light = lights.rbegin(); light != lights.rend(); ++light)
        lines.push_back({std::string(lightRow) + light->first, light->second, 1});
    lines.push_back({info.name, words(info.title), 0});
    for (const ExtraLayer& layer : blend.layers)
      if (layer.above == info.role) lines.push_back({std::string(layerRow) + layer.id, layer.name, 0});
  }
  return lines;
}

BlendSettings viewOnly(const BlendSettings& blend) {
  BlendSettings only;
  only.view = blend.view, only.config = blend.config;
  return only;
}

void dropIdleRows(BlendSettings& blend) {
  std::erase_if(blend.rows, [](const auto& entry) { return entry.second == BlendRow{}; });
}

Mask newMask(MaskKind kind, int width, int height) {
  Mask m;
  m.kind = kind;
  const double w = width, h = height;
  if (kind == MaskKind::outline)
    for (const Vec2d& at : {Vec2d(0.35, 0.35), {0.65, 0.35}, {0.65, 0.65}, {0.35, 0.65}})
      m.points.push_back({{at.x * w, at.y * h}, 0.03 * w});
  if (kind == MaskKind::brush)
    m.points = {{{0.3 * w, h / 2}, 0.02 * w}, {{0.7 * w, h / 2}, 0.02 * w}}, m.widthPx = 0.06 * w;
  if (kind == MaskKind::straight) m.points = {{{w / 2, 0.2 * h}, 0}, {{w / 2, 0.8 * h}, 0}};
  if (kind == MaskKind::round) m.points = {{{w / 2, h / 2}, 0}, {{0.8 * w, h / 2}, 0}};
  if (kind == MaskKind::hue) m.from = 0, m.to = 60, m.soft = 30;
  if (kind == MaskKind::depth) m.from = 0.5, m.to = 2, m.soft = 0.2;
  if (kind == MaskKind::facing) m.from = 0, m.to = 0.3, m.soft = 0.2;
  return m;
}

}  // namespace dusk
