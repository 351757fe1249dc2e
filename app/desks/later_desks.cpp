// The desks of Blend and Deliver.
#include <QtWidgets>

#include "app/desks/desks.h"
#include "app/desks/shot_desk.h"

namespace dusk {
namespace {

/// One light's strength and colour in the mix.
class LightRow : public Desk {
 public:
  LightRow(Session& session, const std::string& group, const QString& label) : Desk(session, {}, {}) {
    const auto mixOf = [group](const Project& p) {
      const auto& mix = p.shots[0].blend.mix;
      const auto found = mix.find(group);
      return found == mix.end() ? LightMix{} : found->second;
    };
    const auto set = [group](Project& p, const LightMix& m) {
      auto& mix = p.shots[0].blend.mix;
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
        [](const Project& p) { return std::optional(p.shots[0].blend.white); },
        [](Project& p, const Vec3d& c) { p.shots[0].blend.white = c; });
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

Desk* makeBlendDesk(Session& session) { return new BlendDesk(session); }

DeliverDesk::DeliverDesk(Session& session, Errands& errands)
    : Desk(session, "Deliver",
           "Writes the shot at the photo's own size. The headless program makes the same pixels from the "
           "same file.") {
  heading("What");
  const auto wanted = [](const Project& p, DeliverableKind kind) {
    return std::any_of(p.shots[0].deliverables.begin(), p.shots[0].deliverables.end(),
                       [&](const Deliverable& d) { return d.kind == kind; });
  };
  const auto kind = [&](const char* label, const char* tip, DeliverableKind which, const char* ending) {
    toggle(
        label, tip, [=](const Project& p) { return std::optional(wanted(p, which)); },
        [=](Project& p, bool on) {
          auto& list = p.shots[0].deliverables;
          std::erase_if(list, [&](const Deliverable& d) { return d.kind == which; });
          if (on) list.push_back({which, p.shots[0].id + ending});
        });
  };
  kind("PNG, 8 bit, in the view", "The finished picture as it is seen", DeliverableKind::png, ".png");
  kind("EXR with all passes",
       "Multi-part, scene-linear: composite, beauty with alpha, shadow ratio, albedo, normal, depth",
       DeliverableKind::exr, ".exr");
  auto* names = note();
  onRefresh([this, names] {
    QStringList files;
    for (const Deliverable& d : session_.shot().deliverables) files << QString::fromStdString(d.fileName);
    names->setText(files.isEmpty() ? "Nothing asked for." : files.join("\n"));
  });
  number(
      "Samples", {1, 4096, 16, 0, ""}, "Light paths per pixel",
      [](const Project& p) { return std::optional(double(p.shots[0].render.samples)); },
      [](Project& p, double v) { p.shots[0].render.samples = int(v); });
  heading("Where");
  folder_ = note();
  button("Choose a folder…", "Where the files go", [&errands] { emit errands.chooseFolder(); });
  start_ = button(
      "Deliver", "Renders at full size and writes the files", [&errands] { emit errands.deliver(); }, true);
  start_->setObjectName("primary");
  bar_ = new QProgressBar;
  bar_->setTextVisible(false);
  bar_->setRange(0, 1000);
  bar_->setAccessibleName("Delivery progress");
  add(bar_);
  cancel_ = button("Cancel", "Ends the delivery; nothing half written is left",
                   [&errands] { emit errands.cancelDelivery(); });
  result_ = note();
  stretch();
  setRunning(false);
}

void DeliverDesk::setFolder(const QString& folder) {
  folder_->setText(folder.isEmpty() ? "in a folder \"delivered\" beside the project"
                                    : QDir::toNativeSeparators(folder));
}

void DeliverDesk::setRunning(bool running) {
  start_->setEnabled(!running);
  bar_->setVisible(running);
  cancel_->setVisible(running);
  if (running) bar_->setValue(0);
}

void DeliverDesk::setProgress(double fraction, double secondsLeft) {
  bar_->setValue(int(fraction * 1000));
  result_->setText(secondsLeft < 0
                       ? "Getting ready…"
                       : QString("%1 %, about %2 left")
                             .arg(int(fraction * 100))
                             .arg(secondsLeft > 90 ? QString("%1 min").arg(int(secondsLeft / 60 + 0.5))
                                                   : QString("%1 s").arg(int(secondsLeft + 0.5))));
}

void DeliverDesk::setResult(const QString& text) { result_->setText(text); }

}  // namespace dusk
