#include "core/blend/blend.h"
#include "core/blend/combine.h"
#include "core/blend/product_rows.h"
#include "core/blend/stack.h"
#include "core/colour/code_steps.h"

namespace dusk {
namespace {

/// Interleaved values of one row of a sheet.
void interleave(const Sheet& sheet, int y, float* rgb) {
  const float *r = sheet.row(0, y), *g = sheet.row(1, y), *b = sheet.row(2, y);
  for (int i = 0; i < sheet.area.width(); ++i)
    rgb[i * 3] = r[i], rgb[i * 3 + 1] = g[i], rgb[i * 3 + 2] = b[i];
}

/// Light and the plate's own beside it, to tell by which pixels nothing changed.
NodePtr besides(const Stack& stack) {
  if (!stack.plate || !stack.shownPlate) return stack.light;
  return combined({stack.light, stack.plate}, 6, NodeKey("besides"),
                  [](const auto& in, float* const* out, int count, int, int) {
                    for (size_t c = 0; c < 6; ++c) std::copy_n(in[c / 3][c % 3], count, out[c]);
                  });
}

bool isPlate(const Sheet& sheet, int y, int i) {
  for (int c = 0; c < 3; ++c)
    if (sheet.row(c, y)[i] != sheet.row(c + 3, y)[i]) return false;
  return true;
}

}  // namespace

bool needsAllPasses(const BlendSettings& blend) {
  const auto masked = [](const std::vector<Mask>& masks) {
    return std::any_of(masks.begin(), masks.end(),
                       [](const Mask& m) { return m.kind == MaskKind::parts || m.kind == MaskKind::facing; });
  };
  const auto asks = [&](const BlendRow& row) {
    return masked(row.masks) || std::any_of(row.corrections.begin(), row.corrections.end(),
                                            [&](const Correction& c) { return masked(c.masks); });
  };
  if (isMixed(blend) || hasLightRows(blend)) return true;
  for (const auto& [name, row] : blend.rows)
    if (asks(row) || (name == infoOf(BlendRole::glow).name && !row.corrections.empty())) return true;
  return std::any_of(blend.layers.begin(), blend.layers.end(),
                     [&](const ExtraLayer& l) { return asks(l.row); });
}

void tellOfScene(BlendSources& sources, const Scene& scene, const Shot& shot) {
  for (const PartLabel& label : scene.labels) sources.partOfId.push_back(label.path);
  sources.product = plateWorld(shot).product;
}

Picture lightOf(const Stack& stack, const PixelArea& area, Evaluator& evaluator) {
  Picture out = Picture::rgb(area.width(), area.height());
  evaluator.each(stack.light, area, [&](const Sheet& sheet) {
    for (int y = sheet.area.y0; y < sheet.area.y1; ++y)
      interleave(sheet, y, out.at(sheet.area.x0 - area.x0, y - area.y0));
  });
  return out;
}

Picture codesOf(const Stack& stack, const PixelArea& area, const ColourView& view, Evaluator& evaluator) {
  const PixelArea& whole = stack.light->whole;
  Picture out = Picture::rgb(area.width(), area.height());
  evaluator.each(besides(stack), area, [&](const Sheet& sheet) {
    for (int y = sheet.area.y0; y < sheet.area.y1; ++y) {
      float* row = out.at(sheet.area.x0 - area.x0, y - area.y0);
      interleave(sheet, y, row);
      view.toDisplay(row, size_t(sheet.area.width()));
      if (sheet.channels != 6) continue;
      const float* shown = stack.shownPlate->at(sheet.area.x0 - whole.x0, y - whole.y0);
      for (int i = 0; i < sheet.area.width(); ++i)
        if (isPlate(sheet, y, i)) std::copy_n(shown + i * 3, 3, row + i * 3);
    }
  });
  return out;
}

void codes8Of(const Stack& stack, const ColourView& view, Evaluator& evaluator, const TakeCodes& take) {
  const PixelArea& area = stack.light->whole;
  evaluator.each(besides(stack), area, [&](const Sheet& sheet) {
    const int n = sheet.area.width();
    std::vector<uint8_t> codes(size_t(n) * 3);
    for (int y = sheet.area.y0; y < sheet.area.y1; ++y) {
      view.toCodes8(sheet.row(0, y), sheet.row(1, y), sheet.row(2, y), n, codes.data());
      if (sheet.channels == 6) {
        const float* shown = stack.shownPlate->at(sheet.area.x0 - area.x0, y - area.y0);
        for (int i = 0; i < n; ++i)
          if (isPlate(sheet, y, i))
            for (int c = 0; c < 3; ++c) codes[size_t(i * 3 + c)] = nearestCode(shown[i * 3 + c]);
      }
      take(y - area.y0, sheet.area.x0 - area.x0, n, codes.data());
    }
  });
}

}  // namespace dusk
