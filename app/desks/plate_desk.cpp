#include <QtWidgets>

#include "app/desks/desks.h"
#include "core/colour/view.h"

namespace dusk {
namespace {

class PlateDesk : public Desk {
 public:
  PlateDesk(Session& session, Errands& errands)
      : Desk(session, "Plate",
             "The photograph the product will stand in. It comes out as it went in: what the product does "
             "not change stays bit for bit.") {
    button(
        "Choose a photo…", "JPEG, PNG, TIFF or EXR; or drop one on the picture",
        [&errands] { emit errands.choosePlate(); }, true);
    heading("What the camera wrote");
    facts_ = note();
    onRefresh([this] { showFacts(); });
    heading("How it is shown");
    QStringList views;
    for (const std::string& name : ColourView::names()) views << QString::fromStdString(name);
    choice(
        "View", views, "How light becomes screen colours; the plate enters by its exact inverse",
        [](const Project& p) {
          const auto names = ColourView::names();
          return int(std::find(names.begin(), names.end(), p.shots[0].blend.view) - names.begin());
        },
        [](Project& p, int i) { p.shots[0].blend.view = ColourView::names()[size_t(i)]; });
    note(
        "Plain sRGB undoes what the camera's picture says. Soft shoulder and ACES leave room above white for "
        "bright reflections.");
    stretch();
  }

  void showFacts() {
    const Shot& shot = session_.shot();
    if (shot.plate.empty()) return facts_->setText("No photo yet.");
    const auto photo = session_.assets()->loadedPhoto(shot.plate);
    QString text = QString("<b>%1</b><br>%2 × %3 px")
                       .arg(QString::fromStdString(std::filesystem::path(shot.plate.path).filename().string())
                                .toHtmlEscaped())
                       .arg(shot.vantage.camera.width)
                       .arg(shot.vantage.camera.height);
    if (photo) {
      const PhotoInfo& i = photo->info;
      text += QString(", %1 bit").arg(photo->bitsPerChannel);
      const auto line = [&](bool known, const QString& what) {
        if (known) text += "<br>" + what;
      };
      line(!i.camera.empty(),
           QString::fromStdString(i.camera).toHtmlEscaped() +
               (i.lens.empty() ? "" : ", " + QString::fromStdString(i.lens).toHtmlEscaped()));
      line(i.focalMm > 0,
           QString("focal length %1 mm").arg(i.focalMm, 0, 'g', 4) +
               (i.focalMm35 > 0 ? QString(", %1 mm on 35 mm film").arg(i.focalMm35, 0, 'g', 4) : ""));
      line(i.exposureSeconds > 0,
           QString("%1 s, f/%2, ISO %3")
               .arg(i.exposureSeconds < 0.4 ? QString("1/%1").arg(std::lround(1 / i.exposureSeconds))
                                            : QString::number(i.exposureSeconds))
               .arg(i.fNumber, 0, 'g', 3)
               .arg(i.iso));
      line(!i.profile.empty(), "profile: " + QString::fromStdString(i.profile).toHtmlEscaped());
      line(i.focalMm <= 0, "no EXIF: the focal length must come from the evidence");
    }
    facts_->setText(text);
  }

 private:
  QLabel* facts_;
};

}  // namespace

Desk* makePlateDesk(Session& session, Errands& errands) { return new PlateDesk(session, errands); }

}  // namespace dusk
