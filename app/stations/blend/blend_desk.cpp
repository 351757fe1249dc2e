#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "app/widgets/shot_desk.h"

namespace dusk {
namespace {

/// One light's strength and colour in the mix.
class LightRow : public Desk {
 public:
  LightRow(Session& session, const std::string& group, const QString& label) : Desk(session, {}, {}) {
    const auto mixOf = [group, this](const Project& p) {
      const auto& mix = session_.shotIn(p).blend.mix;
      const auto found = mix.find(group);
      return found == mix.end() ? LightMix{} : found->second;
    };
    const auto set = [group, this](Project& p, const LightMix& m) {
      auto& mix = session_.shotIn(p).blend.mix;
      if (m == LightMix{})
        mix.erase(group);
      else
        mix[group] = m;
    };
    number(
        label, {-8, 8, 0.1, 2, "EV", true}, "How strong this light is; 0 as traced",
        [=](const Project& p) { return std::optional(mixOf(p).ev); },
        [=](Project& p, double v) {
          LightMix m = mixOf(p);
          m.ev = v, set(p, m);
        });
    number(
        "  its warmth", {-200, 200, 5, 0, "mired", true}, "Shift of its colour: above 0 warmer",
        [=](const Project& p) { return std::optional(mixOf(p).mired); },
        [=](Project& p, double v) {
          LightMix m = mixOf(p);
          m.mired = v, set(p, m);
        });
  }
};

class BlendDesk : public ShotDesk {
 public:
  explicit BlendDesk(Session& session)
      : ShotDesk(session, "Blend",
                 "plate × shadow ratio, the product over it. Nothing is traced anew for a change here.") {
    heading("Product");
    shotNumber("Exposure", {-6, 6, 0.05, 2, "EV", true}, "Brightness of the product against the photo",
               &Shot::blend, &BlendSettings::exposureEv);
    shotNumber("Warmth", {-1, 1, 0.02, 2, "", true},
               "White balance of the product: below 0 bluer, above 0 warmer (1 = 100 mired)", &Shot::blend,
               &BlendSettings::warmth);
    colour(
        "White", "What the product is multiplied by, per channel: white leaves it",
        [this](const Project& p) { return std::optional(session_.shotIn(p).blend.white); },
        [this](Project& p, const Vec3d& c) { session_.shotIn(p).blend.white = c; });
    button("As rendered", "Exposure, warmth and white back to what was traced", [this] {
      session_.editShot("blend as rendered", [](Shot& shot) {
        shot.blend.exposureEv = shot.blend.warmth = 0, shot.blend.white = Vec3d(1, 1, 1);
      });
    });
    heading("Balance");
    note(
        "A patch of the photo and one of the product that should look alike: grey against grey, white "
        "against white.");
    beginRow();
    forNextDrag("In the photo", "Click or drag over the patch to match", Session::NextDrag::photoPatch);
    forNextDrag("On the product", "Click or drag over the patch that should look like it",
                Session::NextDrag::productPatch);
    endRow();
    balance_ = note();
    onRefresh([this] { showBalance(); });
    heading("Lights");
    note("Each light by itself, after rendering: no new tracing.");
    lights_ = new QWidget;
    new QVBoxLayout(lights_);
    lights_->layout()->setContentsMargins(0, 0, 0, 0);
    add(lights_);
    onRefresh([this] { showLights(); });
    note("Hold B over the picture to see the bare plate.");
    stretch();
  }

 private:
  void showBalance() {
    const BlendSettings& b = session_.shot().blend;
    balance_->setText(QString("Product × %1 EV, white %2 %3 %4")
                          .arg(b.exposureEv, 0, 'f', 2)
                          .arg(b.white.x, 0, 'f', 3)
                          .arg(b.white.y, 0, 'f', 3)
                          .arg(b.white.z, 0, 'f', 3));
  }
  /// Rows for the lights that shine now; made anew only when those change.
  void showLights() {
    const Shot& shot = session_.shot();
    std::vector<std::pair<std::string, QString>> names{{"surroundings", "Surroundings"}};
    if (shot.surroundings.sunApart) names.push_back({"sun", "Its sun"});
    for (const Lamp& l : shot.lamps)
      if (l.on) names.push_back({l.id, QString::fromStdString(l.name)});
    if (names == names_) return;
    names_ = names;
    while (QLayoutItem* item = lights_->layout()->takeAt(0)) {
      item->widget()->deleteLater();
      delete item;
    }
    for (const auto& [id, label] : names) lights_->layout()->addWidget(new LightRow(session_, id, label));
  }

  QLabel* balance_;
  QWidget* lights_;
  std::vector<std::pair<std::string, QString>> names_;
};

}  // namespace

Desk* makeBlendDesk(Workbench& bench) { return new BlendDesk(bench.session); }

}  // namespace dusk
