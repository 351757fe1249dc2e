#include "app/stations/surface/below_desk.h"

#include "app/stations/light/lamp_desk.h"
#include "core/base/words.h"
#include "core/colour/view.h"
#include "core/light/units.h"
#include "core/product/hull.h"

namespace dusk {
namespace {
double brightness(const Vec3d& c) { return double(luminance(toFloat(c))); }
}  // namespace

BelowDesk::BelowDesk(Session& session) : Desk(session, {}, {}) {
  coat();
  body();
  below();
  glow();
}

void BelowDesk::field(const char* label, const Range& range, const char* tip, double Surface::*member,
                      double perUnit) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        return s ? std::optional(s->*member / perUnit) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Surface* s = session_.surfaceInHand(p)) s->*member = v * perUnit;
      });
}

void BelowDesk::tint(const char* label, const char* tip, Vec3d Surface::*member) {
  colour(
      label, tip,
      [=, this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        return s ? std::optional(s->*member) : std::nullopt;
      },
      [=, this](Project& p, const Vec3d& c) {
        if (Surface* s = session_.surfaceInHand(p)) s->*member = c;
      });
}

void BelowDesk::coat() {
  beginFold(words("Coat, flakes, brushing and film"), false);
  tint(words("Coat colour"), words("What a coloured clearcoat leaves of the light below it"),
       &Surface::coatColour);
  field(words("Flakes"), {0, 1, 0.05, 2, "", true, 0},
        words("Share that metal or pearl flakes in the lacquer cover"), &Surface::flakes);
  field(words("Flake's size"), {0.01, 5, 0.02, 2, "mm"}, words("Across one flake"), &Surface::flakeMm);
  field(words("Flakes' tilt"), {0, 60, 1, 0, "°"},
        words("How askew they lie: 5 a calm lacquer, 20 a lively one"), &Surface::flakeTiltDegrees);
  tint(words("Flake colour"), words("What the flakes mirror"), &Surface::flakeColour);
  field(words("Brushing angle"), {-180, 180, 5, 0, "°"}, words("Direction of the brushing"),
        &Surface::anisotropyTurnDegrees);
  field(words("Film's IOR"), {1, 3, 0.01, 2, ""}, words("Index of refraction of a thin film"),
        &Surface::filmIor);
  endFold();
}

void BelowDesk::body() {
  beginFold(words("Inside of glass and liquids"), false);
  field(words("IOR"), {1, 3, 0.01, 2, ""}, words("Index of refraction: 1.33 water, 1.5 glass and lacquer"),
        &Surface::ior);
  toggle(
      words("Thin-walled"), words("A pane or a bubble: light goes straight through, nothing is inside"),
      [this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        return s ? std::optional(s->thinWalled) : std::nullopt;
      },
      [this](Project& p, bool on) {
        if (Surface* s = session_.surfaceInHand(p)) s->thinWalled = on;
      });
  tint(words("Dye"), words("Colour that white light has left after the depth below"),
       &Surface::absorptionColour);
  field(words("Depth"), {0, 1e5, 1, 1, "mm"}, words("How far light goes for the dye to show so; 0: clear"),
        &Surface::absorptionDepthM, 0.001);
  field(words("Cloudy after"), {0, 1e5, 1, 1, "mm"},
        words("How far light goes before what floats in it scatters it: milk 1, murky water 300; 0: clear"),
        &Surface::scatterDepthM, 0.001);
  tint(words("Cloud colour"), words("What is left of light at each scattering"), &Surface::scatterColour);
  field(words("Abbe number"), {0, 100, 1, 0, ""},
        words("Parts colours at edges: 60 crown glass, 30 flint, 0 not at all"), &Surface::abbe);
  number(
      words("Goes before"), {-1000, 1000, 1, 0, ""},
      words("Where bodies overlap, the one with the higher number is there: glass 1 over the liquid 0 in it"),
      [this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        return s ? std::optional(double(s->priority)) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Surface* s = session_.surfaceInHand(p)) s->priority = int(v);
      });
  endFold();
}

void BelowDesk::below() {
  beginFold(words("Light below the surface"), false);
  const char* const labels[] = {words("Red reaches"), words("Green reaches"), words("Blue reaches")};
  for (int c = 0; c < 3; ++c)
    number(
        labels[c], {0, 1000, 0.1, 2, "mm"},
        words("How far light of this colour goes below between two scatterings"),
        [=, this](const Project& p) {
          const Surface* s = session_.surfaceInHand(p);
          return s ? std::optional(s->subsurfaceMm[c]) : std::nullopt;
        },
        [=, this](Project& p, double v) {
          if (Surface* s = session_.surfaceInHand(p)) s->subsurfaceMm[c] = v;
        });
  field(words("Goes onwards"), {-0.95, 0.95, 0.05, 2, ""},
        words("Whether scattered light goes on (1), back (-1) or all ways (0), here and in cloudy bodies"),
        &Surface::scatterForward);
  endFold();
}

double BelowDesk::areaM2() const {
  const Product* product = session_.product();
  const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
  if (!model) return 0;
  if (measured_ == model && measuredPart_ == session_.selectedPart()) return areaM2_;
  measured_ = model, measuredPart_ = session_.selectedPart(), areaM2_ = 0;
  for (const Part& part : model->parts) {
    if (part.path != measuredPart_) continue;
    areaM2_ += massOf(model->meshOf(part), part.place).area * product->metresPerUnit * product->metresPerUnit;
  }
  return areaM2_;
}

void BelowDesk::glowField(const char* label, const Range& range, const char* tip,
                          std::function<double()> perRadiance) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        const double per = perRadiance();
        return s && per > 0 ? std::optional(brightness(s->emission) * per) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        Surface* s = session_.surfaceInHand(p);
        const double per = perRadiance();
        if (!s || per <= 0) return;
        const double now = brightness(s->emission), wanted = v / per;
        s->emission = now > 0 ? s->emission * (wanted / now) : Vec3d(wanted);
      });
}

void BelowDesk::glow() {
  beginFold(words("Light it gives off"), false);
  const auto nits = [this] { return whiteNitsOf(session_); };
  const auto lumens = [this] { return pi * areaM2() * whiteNitsOf(session_); };
  glowField(words("Luminance"), {0, 1e9, 10, 1, "cd/m²"},
            words("How bright it looks, at the exposure of this photo"), nits);
  glowField(words("Luminous flux"), {0, 1e9, 10, 1, "lm"},
            words("All the light that the whole part in hand gives off, as on a lamp's box"), lumens);
  glowField(
      words("Radiant power"), {0, 1e7, 0.1, 3, "W"},
      words("The same as power of daylight-white light; a lamp's box says what it draws, which is more"),
      [lumens] { return lumens() / lumenPerWatt; });
  number(
      words("Kelvin"), {1667, 25000, 100, 0, "K"},
      words("Gives its light the colour of a glow of this temperature"),
      [this](const Project& p) {
        const Surface* s = session_.surfaceInHand(p);
        return s && brightness(s->emission) > 0 ? std::optional(nearestKelvin(s->emission)) : std::nullopt;
      },
      [this](Project& p, double v) {
        Surface* s = session_.surfaceInHand(p);
        if (!s) return;
        const Vec3d white = toDouble(kelvinColour(v));
        s->emission = white * (brightness(s->emission) / brightness(white));
      });
  endFold();
}

}  // namespace dusk
