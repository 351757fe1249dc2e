#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/plate/camera_desk.h"
#include "app/stations/plate/photo_jobs.h"
#include "app/stations/plate/set_desk.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "core/base/words.h"
#include "core/colour/view.h"
#include "core/light/backdrop.h"
#include "core/light/hand_camera.h"

namespace dusk {
namespace {

class PlateDesk : public Desk {
 public:
  explicit PlateDesk(Workbench& bench)
      : Desk(
            bench.session, words("Plate"),
            words(
                "The photograph the product will stand in. It comes out as it went in: what the product does "
                "not change stays bit for bit.")) {
    button(
        words("Choose a photo…"),
        words("JPEG, PNG, TIFF, EXR, WebP, HEIC, AVIF or camera raw; or drop one on the picture"),
        [&bench] { choosePhoto(bench); }, true);
    heading(words("What the camera wrote"));
    facts_ = note();
    onRefresh([this] { showFacts(); });
    backdrop(bench);
    add(new SetDesk(bench));
    heading(words("How it is shown"));
    QStringList views;
    for (const std::string& name : ColourView::names()) views << QString::fromStdString(name);
    choice(
        words("View"), views,
        words("How light becomes screen colours; the plate enters by its exact inverse"),
        [this](const Project& p) {
          const auto names = ColourView::names();
          if (!session_.shotIn(p).blend.config.file.empty()) return -1;
          return int(std::find(names.begin(), names.end(), session_.shotIn(p).blend.view) - names.begin());
        },
        [this](Project& p, int i) {
          session_.shotIn(p).blend.view = ColourView::names()[size_t(i)],
          session_.shotIn(p).blend.config = {};
        });
    auto* about = note();
    onRefresh([this, about] {
      const std::string& own = session_.shot().blend.config.file.path;
      about->setText(
          own.empty()
              ? words("Plain sRGB undoes what the camera's picture says. Soft shoulder and ACES leave "
                      "room above white for bright reflections. Your own configuration: Blend, View.")
              : QString(words("Shown by %1: Blend, View."))
                    .arg(QFileInfo(QString::fromStdString(own)).fileName().toHtmlEscaped()));
    });
    stretch();
  }

  void showFacts() {
    const Shot& shot = session_.shot();
    if (shot.backdrop.kind != K::photo)
      return facts_->setText(QString(words("<b>made here</b><br>%1 × %2 px"))
                                 .arg(shot.vantage.camera.width)
                                 .arg(shot.vantage.camera.height));
    if (shot.plate.empty()) return facts_->setText(words("No photo yet."));
    const auto photo = session_.assets()->loadedPhoto(shot.plate);
    QString text = QString("<b>%1</b><br>%2 × %3 px")
                       .arg(QString::fromStdString(std::filesystem::path(shot.plate.path).filename().string())
                                .toHtmlEscaped())
                       .arg(shot.vantage.camera.width)
                       .arg(shot.vantage.camera.height);
    if (photo) {
      const PhotoInfo& i = photo->info;
      text += QString(words(", %1 bit")).arg(photo->bitsPerChannel);
      const auto line = [&](bool known, const QString& what) {
        if (known) text += "<br>" + what;
      };
      line(!i.camera.empty(),
           QString::fromStdString(i.camera).toHtmlEscaped() +
               (i.lens.empty() ? "" : ", " + QString::fromStdString(i.lens).toHtmlEscaped()));
      line(i.focalMm > 0,
           QString(words("focal length %1 mm")).arg(i.focalMm, 0, 'g', 4) +
               (i.focalMm35 > 0 ? QString(words(", %1 mm on 35 mm film")).arg(i.focalMm35, 0, 'g', 4) : ""));
      line(i.exposureSeconds > 0,
           QString("%1 s, f/%2, ISO %3")
               .arg(i.exposureSeconds < 0.4 ? QString("1/%L1").arg(std::lround(1 / i.exposureSeconds))
                                            : QString::number(i.exposureSeconds))
               .arg(i.fNumber, 0, 'g', 3)
               .arg(i.iso));
      line(!i.profile.empty(), words("profile: ") + QString::fromStdString(i.profile).toHtmlEscaped());
      line(i.focalMm <= 0, words("no EXIF: the focal length must come from the evidence"));
    }
    facts_->setText(text);
  }

 private:
  using K = BackdropKind;

  void backdrop(Workbench& bench) {
    heading(words("Without a photo"));
    auto* kind = new QComboBox;
    kind->addItems(
        {words("the photo"), words("one colour"), words("two colours"), words("the panorama itself")});
    kind->setToolTip(words("What lies behind the products: the photo, or something made in its place"));
    connect(kind, &QComboBox::activated, this, [this](int i) {
      session_.editBackdrop(words("choose what lies behind"), [i](Backdrop& b) { b.kind = K(i); });
    });
    add(labelled(words("Behind"), kind));
    onRefresh([this, kind] { kind->setCurrentIndex(int(session_.shot().backdrop.kind)); });
    hex(words("Colour"), words("Its code value, exactly as it will be delivered: #rrggbb"), &Backdrop::colour,
        hasColours);
    hex(words("At the top"), words("The code value at the upper border: #rrggbb"), &Backdrop::upper,
        isGraded);
    size(words("Width"), &Backdrop::width, isMade), size(words("Height"), &Backdrop::height, isMade);
    ofCamera(words("Focal length"), {8, 800, 1, 1, "mm"}, words("On 35 mm film"), &Backdrop::focalMm35,
             isMade);
    ofCamera(words("Camera height"), {0.01, 100, 0.05, 2, "m"}, words("Above the ground"),
             &Backdrop::cameraHeightM, isMade);
    ofCamera(words("Camera away"), {0.05, 1000, 0.05, 2, "m"}, words("From the origin, level"),
             &Backdrop::distanceM, isCameraFree);
    ofCamera(words("It looks at"), {0, 100, 0.05, 2, "m"},
             words("Height over the origin that is in the picture's middle"), &Backdrop::aimHeightM, isMade);
    ofCamera(words("It looks to"), {-360, 360, 1, 1, "°"},
             words("Clockwise from run b (+Y), seen from above"), &Backdrop::azimuthDegrees, isMade);
    ofCamera(words("Beside the origin"), {-1000, 1000, 0.05, 2, "m"},
             words("How far along run a (+X) lies what it looks at"), &Backdrop::aimXM, isCameraFree);
    ofCamera(words("Beyond the origin"), {-1000, 1000, 0.05, 2, "m"},
             words("How far along run b (+Y) lies what it looks at"), &Backdrop::aimYM, isCameraFree);
    number(
        words("Walls at"), {0, 500, 0.5, 1, "m"},
        words("How far the panorama's walls are from where it was taken: then the camera may walk about in "
              "it. 0: "
              "far away, and it looks about from there alone"),
        [this](const Project& p) {
          const Shot& shot = session_.shotIn(p);
          return shot.backdrop.kind == K::panorama ? std::optional(shot.surroundings.domeRadiusM)
                                                   : std::nullopt;
        },
        [this](Project& p, double metres) {
          Shot& shot = session_.shotIn(p);
          setWalls(shot, metres);
          setCameraByHand(shot);
        });
    NumberField* lens = number(
        words("Other lens"), {8, 800, 1, 1, "mm"},
        words("Another focal length; the camera moves so that what is looked at keeps its size"),
        [this](const Project& p) {
          return isOf(isCameraFree) ? std::optional(session_.shotIn(p).backdrop.focalMm35) : std::nullopt;
        },
        [this](Project& p, double mm) {
          Shot& shot = session_.shotIn(p);
          swapLens(shot.backdrop, mm);
          setCameraByHand(shot);
        });
    auto* uprights = toggle(
        words("Uprights straight"),
        words("The camera looks level, and its lens is shifted: uprights stay parallel"),
        [this](const Project& p) {
          return isOf(isCameraFree) ? std::optional(session_.shotIn(p).backdrop.uprightsStraight)
                                    : std::nullopt;
        },
        [this](Project& p, bool on) {
          Shot& shot = session_.shotIn(p);
          shot.backdrop.uprightsStraight = on;
          setCameraByHand(shot);
        });
    unlessLocked(lens), unlessLocked(uprights);
    add(new CameraDesk(bench));
    value(words("Sweep bend"), {0, 100, 0.05, 2, "m"},
          words("Radius of the bend between floor and wall; 0: the floor has no end"),
          &Backdrop::sweepRadiusM, hasColours);
    value(words("Wall behind"), {0.01, 1000, 0.05, 2, "m"},
          words("How far behind the origin the wall stands"), &Backdrop::sweepBehindM, hasColours);
    roundFloor();
    auto* hand = button(words("Set the camera by hand"),
                        words("For a photo that tells nothing: focal length and place as typed here"),
                        [this] { session_.editShot(words("set the camera by hand"), setCameraByHand); });
    onRefresh([this, hand, uprights] {
      const Shot& s = session_.shot();
      uprights->setVisible(isOf(isCameraFree));  // as the numbers beside it
      hand->setVisible(s.backdrop.kind == K::photo && !s.plate.empty() && !s.vantage.solved);
    });
  }

  void roundFloor() {
    QToolButton* fold = beginFold(words("Round floor"), false);
    onRefresh([this, fold] { fold->setVisible(isOf(hasColours)); });
    value(words("Floor radius"), {0, 1000, 0.05, 2, "m"},
          words("A round floor of its own colour, which fades into the backdrop's; 0: there is none"),
          &Backdrop::floorRadiusM, hasColours);
    hex(words("Floor colour"),
        words("Its code value where it does not fade, as it will be delivered: #rrggbb"),
        &Backdrop::floorColour, hasRoundFloor);
    value(words("Softness"), {0, 1, 0.05, 2, "", true, 0.6},
          words("The outer part of its radius in which it fades"), &Backdrop::floorSoftness, hasRoundFloor);
    value(words("Floor at a"), {-1000, 1000, 0.05, 2, "m"}, words("Where its middle is along run a (+X)"),
          &Backdrop::floorXM, hasRoundFloor);
    value(words("Floor at b"), {-1000, 1000, 0.05, 2, "m"}, words("Where its middle is along run b (+Y)"),
          &Backdrop::floorYM, hasRoundFloor);
    auto* under = button(
        words("Under the product"), words("Its middle goes to the spot of the product in hand"), [this] {
          if (const Placement* p = session_.placement())
            session_.editBackdrop(words("put the floor under the product"),
                                  [&](Backdrop& b) { b.floorXM = p->xM, b.floorYM = p->yM; });
        });
    onRefresh([this, under] { under->setVisible(isOf(hasRoundFloor) && session_.placement()); });
    endFold();
  }

  /// Of which shots a field tells.
  using Where = bool (*)(const Shot&);
  static bool isMade(const Shot& shot) { return shot.backdrop.kind != K::photo; }
  static bool hasColours(const Shot& shot) { return isEven(shot.backdrop); }
  static bool hasRoundFloor(const Shot& shot) { return hasFloor(shot.backdrop); }
  static bool isGraded(const Shot& shot) { return shot.backdrop.kind == K::gradient; }
  bool isOf(Where where) const { return where(session_.shot()); }
  /// A field that moves the camera.
  void unlessLocked(QWidget* field) {
    onRefresh([this, field] { field->setEnabled(!session_.shot().backdrop.locked); });
  }
  NumberField* value(const char* label, const Range& range, const char* tip, double Backdrop::*member,
                     Where where) {
    return number(
        label, range, tip,
        [=, this](const Project& p) {
          return isOf(where) ? std::optional(session_.shotIn(p).backdrop.*member) : std::nullopt;
        },
        [=, this](Project& p, double v) {
          session_.shotIn(p).backdrop.*member = v;
          setCameraByHand(session_.shotIn(p));
        });
  }
  /// The same of one that moves the camera.
  void ofCamera(const char* label, const Range& range, const char* tip, double Backdrop::*member,
                Where where) {
    unlessLocked(value(label, range, tip, member, where));
  }
  void size(const char* label, int Backdrop::*member, Where where) {
    number(
        label, {16, 20000, 10, 0, "px"}, words("Size of the picture"),
        [=, this](const Project& p) {
          return isOf(where) ? std::optional(double(session_.shotIn(p).backdrop.*member)) : std::nullopt;
        },
        [=, this](Project& p, double v) {
          session_.shotIn(p).backdrop.*member = int(v);
          setCameraByHand(session_.shotIn(p));
        });
  }
  void hex(const char* label, const char* tip, std::string Backdrop::*member, Where where) {
    auto* field = new QLineEdit;
    field->setToolTip(tip);
    field->setMaxLength(7);
    field->setValidator(new QRegularExpressionValidator(QRegularExpression("#[0-9a-fA-F]{6}"), field));
    connect(field, &QLineEdit::editingFinished, this, [this, field, member] {
      session_.editBackdrop(words("set the backdrop's colour"),
                            [&](Backdrop& b) { b.*member = field->text().toLower().toStdString(); });
    });
    QAction* swatch = field->addAction(QIcon(), QLineEdit::TrailingPosition);
    auto* row = labelled(label, field);
    add(row);
    onRefresh([=, this] {
      row->setVisible(isOf(where));
      const QString code = QString::fromStdString(session_.shot().backdrop.*member);
      if (!field->hasFocus()) field->setText(code);
      QPixmap shown(16, 16);
      shown.fill(QColor(code));
      swatch->setIcon(shown);
    });
  }

  QLabel* facts_;
};

}  // namespace

Desk* makePlateDesk(Workbench& bench) { return new PlateDesk(bench); }

}  // namespace dusk
