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

Mask newMask(MaskKind kind, int width, int height, const ProductSeen& seen) {
  Mask m;
  m.kind = kind;
  const double w = width, h = height;
  const auto within = [&](double x, double y) {
    return Vec2d(std::clamp(x, 0.01, 0.99) * w, std::clamp(y, 0.01, 0.99) * h);
  };
  const Vec2d middle = (seen.from + seen.to) / 2, half = (seen.to - seen.from) / 2;
  const auto at = [&](double x, double y) { return within(middle.x + x * half.x, middle.y + y * half.y); };
  const double across = half.x * 2 * w;
  if (kind == MaskKind::outline)
    for (const Vec2d& corner : {at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)})
      m.points.push_back({corner, std::max(2.0, 0.1 * across)});
  if (kind == MaskKind::brush) {
    const double feather = std::max(2.0, 0.05 * across);
    m.points = {{at(-1.3, 0), feather}, {at(1.3, 0), feather}}, m.widthPx = std::max(4.0, 0.2 * across);
  }
  if (kind == MaskKind::straight) m.points = {{at(0, -1), 0}, {at(0, 1), 0}};
  if (kind == MaskKind::round) {
    // On the side where the frame has room for it.
    const double reach = 1.3 * std::hypot(half.x * w, half.y * h), side = middle.x > 0.5 ? -1 : 1;
    m.points = {{at(0, 0), 0}, {within(middle.x + side * reach / w, middle.y), 0}};
  }
  if (kind == MaskKind::hue) m.from = 0, m.to = 60, m.soft = 30;
  if (kind == MaskKind::depth) {
    const double deep = std::max(seen.farM - seen.nearM, 0.01);
    m.from = seen.nearM, m.to = seen.nearM + deep / 2, m.soft = deep / 4;
  }
  if (kind == MaskKind::facing) m.from = 0, m.to = 0.3, m.soft = 0.2;
  return m;
}

}  // namespace dusk
