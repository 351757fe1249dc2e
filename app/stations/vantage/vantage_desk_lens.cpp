// The lens on the Vantage desk: what is solved, and measured lenses by name.
#include <QtWidgets>

#include "app/stations/vantage/vantage_desk.h"
#include "app/widgets/clearing.h"
#include "core/base/words.h"
#include "core/vantage/lens_profiles.h"

namespace dusk {

void VantageDesk::buildLens() {
  beginFold(words("Lens"), true);
  const auto solved = [this](const char* label, const char* tip, bool Evidence::*field) {
    toggle(
        label, tip,
        [field, this](const Project& p) { return std::optional(session_.shotIn(p).evidence.*field); },
        [this, field](Project& p, bool on) {
          session_.shotIn(p).evidence.*field = on;
          solveAgain(p);
        });
  };
  solved(
      words("It bends lines (find k1)"),
      words("Needs strokes of three or more points - snapped ones have them - or long ones near the border"),
      &Evidence::solveK1);
  solved(words("It bends them in waves (find k2 too)"),
         words("For wide lenses, with many strokes out to the corners"), &Evidence::solveK2);
  solved(words("Cropped photo or shift lens"),
         words("The optical axis need not meet the middle of the picture; needs three runs"),
         &Evidence::shifted);
  toggle(
      words("Straighten the plate"),
      words("Takes the lens's bend out of the photo; otherwise the render is bent to the photo, which leaves "
            "the "
            "photo untouched"),
      [this](const Project& p) {
        const Vantage& v = session_.shotIn(p).vantage;
        return v.solved && (v.camera.k1 != 0 || v.camera.k2 != 0 || v.straightened)
                   ? std::optional(v.straightened)
                   : std::nullopt;
      },
      [this](Project& p, bool on) { session_.shotIn(p).vantage.straightened = on; });
  buildLensProfiles();
  endFold();
}

void VantageDesk::buildLensProfiles() {
  auto* profile = note();
  profile->setAccessibleName(words("Lens profile"));
  auto* search = new QLineEdit;
  search->setPlaceholderText(words("Find a measured lens by name"));
  search->setToolTip(words("Words of the lens's name; an empty field lists what EXIF says of this photo"));
  search->setAccessibleName(words("Find a measured lens by name"));
  offerClearing(*search);
  add(search);
  auto* found = new QListWidget;
  found->setAccessibleName(words("Measured lenses"));
  found->setToolTip(words("Press Enter or double-click to take the lens's measured distortion"));
  found->setMaximumHeight(110);
  found->hide();
  add(found);
  auto* none = button(words("Without a profile"), words("Forgets the measured lens"), [this] {
    session_.editEvidence(words("forget the lens profile"), [](Evidence& e) { e.lens.reset(); });
  });
  onRefresh([=, this] {
    const auto& lens = session_.shot().evidence.lens;
    profile->setText(
        lens ? QString(words("<b>%1</b><br>k1 %2, k2 %3; vignetting %4; fringes %5"))
                   .arg(QString::fromStdString(lens->name).toHtmlEscaped())
                   .arg(lens->k1, 0, 'f', 4)
                   .arg(lens->k2, 0, 'f', 4)
                   .arg(lens->vignetting == std::array<double, 3>{} ? words("not measured") : words("known"),
                        lens->redScale == 1 && lens->blueScale == 1 ? words("not measured") : words("known"))
             : QString(words("No lens profile.")));
    none->setVisible(lens.has_value());
  });
  // Matches are looked up on a worker: the first look-up reads all of the data.
  auto matches = std::make_shared<std::vector<LensMatch>>();
  const auto look = [=, this] {
    const QString text = search->text().trimmed();
    const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
    const PhotoInfo info = photo ? photo->info : PhotoInfo{};
    bench_.jobs.run<std::vector<LensMatch>>(
        {words("Looking up lenses"), "lenses", Lane::incoming, true},
        [text = text.toStdString(), info](Progress&) -> Result<std::vector<LensMatch>> {
          return text.empty() ? lensesFor(info) : lensesNamed(text);
        },
        [=](std::vector<LensMatch>& now) {
          *matches = now;
          found->clear();
          for (const LensMatch& m : now) found->addItem(QString::fromStdString(m.name));
          if (now.empty()) {
            auto* item = new QListWidgetItem(
                text.isEmpty() ? words("EXIF names no lens of the data") : words("No lens of that name"),
                found);
            item->setFlags(Qt::NoItemFlags);
          }
          found->show();
        });
  };
  connect(search, &QLineEdit::textEdited, this, look);
  connect(search, &QLineEdit::returnPressed, this, look);
  connect(found, &QListWidget::itemActivated, this, [=, this](QListWidgetItem* item) {
    const size_t row = size_t(found->row(item));
    if (row >= matches->size()) return;
    const Camera& c = session_.shot().vantage.camera;
    const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
    const PhotoInfo info = photo ? photo->info : PhotoInfo{};
    bench_.jobs.run<LensProfile>(
        {words("Reading the lens profile"), words("lens profile"), Lane::incoming, true},
        [match = (*matches)[row], info, w = c.width, h = c.height](Progress&) -> Result<LensProfile> {
          const auto lens = lensProfile(match, info.focalMm, info.fNumber, w, h);
          if (!lens) return Error{words("The data has no distortion measured for that lens.")};
          return *lens;
        },
        [=, this](LensProfile& lens) {
          session_.editEvidence(words("take a lens profile"), [&](Evidence& e) { e.lens = lens; });
          found->hide();
        });
  });
}

}  // namespace dusk
