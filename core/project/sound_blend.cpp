#include "core/project/check.h"
#include "core/project/correction_kinds.h"

namespace dusk {
namespace {

void look(Check& c, const std::vector<Mask>& masks) {
  c.holds(masks.size() <= 64, "has more than 64 masks on one thing");
  for (const Mask& m : masks) {
    c.holds(m.points.size() <= 100'000, "has a mask of more than 100,000 points");
    for (const MaskPoint& p : m.points)
      c.in("mask's point", p.at, -farPx, farPx), c.in("mask's feather", p.feather, 0, 1e5);
    c.in("brush's width", m.widthPx, 0, 1e5), c.in("mask's near end", m.from, -1e6, 1e6);
    c.in("mask's far end", m.to, -1e6, 1e6), c.in("mask's soft border", m.soft, 0, 1e6);
  }
}

void look(Check& c, const BlendRow& row) {
  c.in("row's strength", row.strength, 0, 1), look(c, row.masks);
  c.holds(row.corrections.size() <= 64, "has a row of more than 64 corrections");
  for (const Correction& k : row.corrections) {
    const CorrectionKindInfo& info = infoOf(k.kind);
    c.in("correction's strength", k.strength, 0, 1), look(c, k.masks);
    for (const auto& [name, value] : k.values) {
      const auto field = std::find_if(info.fields.begin(), info.fields.end(),
                                      [&](const CorrectionField& f) { return f.name == name; });
      c.holds(field != info.fields.end(),
              std::string("has a ") + info.name + " with a '" + name.substr(0, 60) + "', which it has not");
      if (field != info.fields.end()) c.in(field->name, value, field->low, field->high);
    }
    c.holds(k.curve.size() <= 64, "has a tone curve of more than 64 points");
    for (const Vec2d& p : k.curve) c.in("curve's point", p, -1, 4);
  }
}

void lookFound(Check& c, const BlendSettings& b) {
  c.in("softness", b.lens.softPx, 0, 100), c.in("halo", b.lens.halo, -1, 5),
      c.in("halo's reach", b.lens.haloPx, 0.1, 100);
  c.in("fringe", b.lens.fringe, -100, 100), c.in("vignette", b.lens.vignette, -100, 100);
  c.holds(b.grain.sigma.size() <= 256, "has grain at more than 256 brightnesses");
  for (const Vec3d& s : b.grain.sigma) c.in("grain", s, 0, 255);
  c.holds(b.grain.correlation.empty() || b.grain.correlation.size() == size_t(GrainLook::lags),
          "has a grain's neighbourhood that is not 9 by 9");
  for (const double v : b.grain.correlation) c.in("grain's correlation", v, -1, 1);
  c.in("grain's correlation of channels", b.grain.channels, -1, 1);
  for (const auto* steps : {&b.blocks.brightness, &b.blocks.colour}) {
    c.holds(steps->empty() || steps->size() == 64, "has blocks that are not 8 by 8");
    for (const int step : *steps) c.in("step of the blocks", step, 0, 65535);
  }
  for (const int step : b.blocks.colourStep) c.in("blocks' step of colour", step, 1, 2);
}

void lookLoop(Check& c, const std::string& of, const std::vector<Vec2d>& loop) {
  c.holds(loop.size() <= 100'000, "has a " + of + " of more than 100,000 points");
  for (const Vec2d& p : loop) c.in((of + "'s point").c_str(), p, -farPx, farPx);
}

}  // namespace

void look(Check& c, const BlendSettings& b) {
  c.in("exposure in EV", b.exposureEv, -60, 60), c.in("warmth", b.warmth, -10, 10),
      c.in("white", b.white, 0, 1e6);
  c.in("shadow strength", b.shadowStrength, 0, 100),
      c.in("reflection strength", b.reflectionStrength, 0, 100);
  c.in("shadow tint", b.shadowTint, -1e6, 1e6), c.in("veil", b.veil, -1, 1);
  for (const auto& [light, mix] : b.mix)
    c.in("light's EV", mix.ev, -60, 60), c.in("light's mired", mix.mired, -1000, 1000);
  for (const auto& [name, row] : b.rows) look(c, row);
  lookFound(c, b);
  c.holds(b.layers.size() <= 256, "has more than 256 layers");
  for (const ExtraLayer& l : b.layers) {
    c.in("layer's size", l.size, 1e-4, 100), c.in("layer's margin", l.margin, -10, 10);
    c.in("layer's colour", l.colour, -1e6, 1e6), c.in("layer's colour", l.end, -1e6, 1e6);
    c.in("gradient's end", l.from, -100, 100), c.in("gradient's end", l.to, -100, 100);
    c.in("page", l.page, 1, 10'000), look(c, l.row);
  }
  c.holds(b.cutOuts.size() <= 256, "has more than 256 cut-outs");
  for (const CutOut& k : b.cutOuts) {
    c.in("cut-out's border", k.softPx, 0, 200), c.in("cut-out's distance", k.standsAtM, 0, far);
    lookLoop(c, "cut-out", k.loop);
    for (const auto* lines : {&k.keeps, &k.leaves})
      for (const std::vector<Vec2d>& line : *lines) lookLoop(c, "line over a cut-out", line);
  }
  c.in("reference's opacity", b.reference.opacity, 0, 1),
      c.in("reference's scale", b.reference.scale, 1e-3, 1e3);
  c.in("reference's place", b.reference.shift, -100, 100);
}

void lookCleanUps(Check& c, const Shot& shot) {
  for (const CleanUp& k : shot.cleanUps) {
    c.in("clean-up's margin", k.marginPx, 0, 1000), c.in("clean-up's choice", k.choice, 0, 1'000'000);
    c.in("place a clean-up is filled from", k.from.value_or(Vec2d(0)), -farPx, farPx);
    c.in("clean-up's horizon", k.horizon, -farPx, farPx), lookLoop(c, "clean-up", k.loop);
  }
}

}  // namespace dusk
