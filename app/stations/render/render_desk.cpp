#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "app/widgets/look.h"
#include "app/widgets/shot_desk.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// The passes by name, to flip through; those with nothing in them are marked.
class PassList : public QListWidget {
 public:
  explicit PassList(Preview& preview) : preview_(preview) {
    setAccessibleName(words("Passes"));
    setToolTip(words("Shows one pass in the picture; Page up and Page down flip through them"));
    setFixedHeight(9 * rowHeight + 2 * frameWidth());
    setUniformItemSizes(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* now) {
      if (now) preview_.showPass(now->data(Qt::UserRole).toString().toStdString());
    });
    connect(&preview, &Preview::frameReady, this,
            [this](const std::shared_ptr<const Frame>& f) { follow(*f); });
    fill({});
  }

 protected:
  /// The picture may have come while nobody saw the list, and be the last one for long.
  void showEvent(QShowEvent* e) override {
    QListWidget::showEvent(e);
    list();
  }

 private:
  void follow(const Frame& frame) {
    if (frame.named) newest_ = frame.named;
    list();
    const std::string shown = preview_.shownPass();
    const QSignalBlocker quiet(this);
    for (int i = 0; i < count(); ++i)
      if (item(i)->data(Qt::UserRole).toString().toStdString() == shown && currentRow() != i)
        setCurrentRow(i);
  }

  void list() {
    const auto passes = newest_.lock();
    if (!passes || !isVisible()) return;
    QStringList rows;
    for (const NamedPass& p : *passes) rows << QString::fromStdString(p.name) + (p.empty ? "\n" : "");
    if (rows != rows_) rows_ = rows, fill(*passes);
  }

  void fill(const std::vector<NamedPass>& passes) {
    const QSignalBlocker quiet(this);
    clear();
    const auto row = [this](const QString& text, const QString& name, const QString& tip) {
      auto* item = new QListWidgetItem(text, this);
      item->setData(Qt::UserRole, name);
      item->setToolTip(tip);
      item->setSizeHint({0, rowHeight});
      return item;
    };
    row(words("the picture"), {}, words("The photo with the product in it"));
    for (const NamedPass& p : passes) {
      const QString name = QString::fromStdString(p.name), about = QString::fromStdString(p.about);
      auto* item = row(p.empty ? name + words("  ·  nothing in it") : name, name, about);
      if (!p.empty) continue;
      item->setForeground(look::muted());
      QFont slanted = font();
      slanted.setItalic(true);
      item->setFont(slanted);
    }
    if (passes.empty())
      row(words("the passes come with the next picture…"), "?", {})->setFlags(Qt::NoItemFlags);
    setCurrentRow(0);
  }

  static constexpr int rowHeight = 20;
  Preview& preview_;
  std::weak_ptr<const std::vector<NamedPass>> newest_;  ///< the picture's; not kept alive by a list
  QStringList rows_;
};

class RenderDesk : public ShotDesk {
 public:
  explicit RenderDesk(Workbench& bench)
      : ShotDesk(
            bench.session, words("Render"),
            words(
                "The picture on screen comes from the same tracer that writes the files: coarse first, then "
                "finer.")),
        preview_(bench.preview) {
    heading(words("Look at"));
    add(new PassList(bench.preview));
    onScreen();
    heading(words("Sampling"));
    whole(words("Samples"), {1, 4096, 16, 0, ""},
          words("Light paths per pixel: noise halves with four times as many"), &RenderSettings::samples);
    number(
        words("Noise target"), {0, 50, 0.5, 1, "%"},
        words("A spot is done when its error, once denoised, is below this share of its brightness; 0: all "
              "samples "
              "everywhere"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).render.noiseTarget * 100); },
        [this](Project& p, double v) { session_.shotIn(p).render.noiseTarget = v / 100; });
    shotNumber(words("Denoise"), {0, 1, 0.05, 2, "", true},
               words("How much of the remaining noise is taken out; 0 leaves it. Traced anew only with a "
                     "noise target"),
               &Shot::render, &RenderSettings::denoise);
    beginFold(words("Depth of field"), session_.shot().focus.on);
    depthOfField();
    endFold();
    beginFold(words("Extra passes"), false);
    extraPasses();
    endFold();
    beginFold(words("Paths of light"), false);
    paths();
    endFold();
    stretch();
  }

 private:
  void whole(const char* label, const Range& range, const char* tip, int RenderSettings::*member) {
    number(
        label, range, tip,
        [=, this](const Project& p) { return std::optional(double(session_.shotIn(p).render.*member)); },
        [=, this](Project& p, double v) { session_.shotIn(p).render.*member = int(v); });
  }

  void onScreen() {
    heading(words("On screen"));
    beginRow();
    auto* detail = new QComboBox;
    detail->addItems({words("every pixel"), words("half as fine"), words("a quarter as fine")});
    detail->setAccessibleName(words("Detail on screen"));
    detail->setToolTip(words("Coarser is done sooner; files are always made with every pixel"));
    connect(detail, &QComboBox::activated, this, [this](int i) {
      ScreenDetail now = preview_.detail();
      now.divisor = 1 << i;
      preview_.setDetail(now);
    });
    add(detail);
    auto* pause = new QPushButton(words("Pause"));
    pause->setCheckable(true);
    pause->setToolTip(words("Holds the tracer; the picture stays as it is"));
    connect(pause, &QPushButton::toggled, this, [this](bool on) { preview_.hold(Preview::Hold::asked, on); });
    add(pause);
    endRow();
    beginRow();
    forNextDrag(words("Part of the picture…"), words("Drag a rectangle in the picture: only that is refined"),
                Session::NextDrag::region);
    button(words("All of it"), words("Refines the whole picture again"), [this] {
      ScreenDetail now = preview_.detail();
      now.region = {};
      preview_.setDetail(now);
    });
    endRow();
  }

  void depthOfField() {
    toggle(
        words("Blurred away from the focus"), words("As a lens does at this f-number"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).focus.on); },
        [this](Project& p, bool on) { session_.shotIn(p).focus.on = on; });
    shotNumber(words("f-number"), {0.5, 64, 0.1, 1, ""}, words("The smaller, the less is sharp"),
               &Shot::focus, &Focus::fNumber);
    shotNumber(words("Focus"), {0.05, 1000, 0.05, 2, "m"},
               words("Distance along the optical axis that is sharp"), &Shot::focus, &Focus::distanceM);
    beginRow();
    forNextDrag(words("Pick in the picture"), words("Click what is to be sharp on the product"),
                Session::NextDrag::focus);
    button(words("On the product"), words("Focuses on the foot of the product in hand"), [this] {
      const Placement* p = session_.placement();
      if (!p || !session_.shot().vantage.solved) return;
      const Camera& c = session_.shot().vantage.camera;
      const double away = (Vec3d(p->xM, p->yM, planeHeightM(session_.shot(), *p)) - c.position).dot(c.axes.z);
      if (away > 0)
        session_.editShot(words("focus on the product"), [away](Shot& s) { s.focus.distanceM = away; });
    });
    endRow();
    shotNumber(words("Sensor"), {1, 200, 0.5, 1, "mm"}, words("Width of the sensor the photo was taken with"),
               &Shot::focus, &Focus::sensorWidthMm);
    number(
        words("Blades"), {0, 16, 1, 0, ""}, words("Of the diaphragm; below 3 it is round"),
        [this](const Project& p) { return std::optional(double(session_.shotIn(p).focus.blades)); },
        [this](Project& p, double v) { session_.shotIn(p).focus.blades = int(v); });
    shotNumber(words("Blades' turn"), {-180, 180, 1, 0, "°"}, words("How the diaphragm is turned"),
               &Shot::focus, &Focus::bladeTurnDegrees);
  }

  void extraPasses() {
    extra(words("Occlusion"), words("How free the near surroundings of each point are"), "occlusion");
    shotNumber(words("As far as"), {0.01, 10, 0.05, 2, "m"}, words("What is farther does not count as near"),
               &Shot::render, &RenderSettings::occlusionM);
    extra(words("Clay"), words("Every part in one matte grey: a second render for a delivery"), "clay");
    auto* one = new QComboBox;
    one->setAccessibleName(words("All parts in one surface"));
    one->setToolTip(words("A further render for a delivery, with every part in the same surface"));
    add(one);
    const std::string prefix = "surface:";
    connect(one, &QComboBox::activated, this, [=, this](int) {
      const std::string id = one->currentData().toString().toStdString();
      session_.edit(words("choose a pass in one surface"), [&](Project& p) {
        auto& extra = session_.shotIn(p).render.extraPasses;
        std::erase_if(extra, [&](const std::string& e) { return e.starts_with(prefix); });
        if (!id.empty()) extra.insert(prefix + id);
      });
    });
    onRefresh([=, this] {
      const QSignalBlocker quiet(one);
      one->clear();
      one->addItem(words("no pass in one surface"), QString());
      for (const Surface& s : session_.project().surfaces) {
        one->addItem(words("all in ") + QString::fromStdString(s.name), QString::fromStdString(s.id));
        if (session_.shot().render.extraPasses.contains(prefix + s.id))
          one->setCurrentIndex(one->count() - 1);
      }
    });
    toggle(
        words("Write empty passes, too"), words("Else those with nothing in them are left out, and said"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).render.emptyPasses); },
        [this](Project& p, bool on) { session_.shotIn(p).render.emptyPasses = on; });
  }

  void paths() {
    whole(words("Bounces"), {0, 32, 1, 0, ""}, words("How often light may bounce in all"),
          &RenderSettings::bounces);
    whole(words("Diffuse bounces"), {0, 32, 1, 0, ""}, words("How often of those off matte surfaces"),
          &RenderSettings::diffuseBounces);
    whole(words("Mirror bounces"), {0, 32, 1, 0, ""}, words("How often of those in mirrors"),
          &RenderSettings::mirrorBounces);
    whole(words("Glass surfaces"), {0, 64, 1, 0, ""}, words("How many sides of glass light may pass"),
          &RenderSettings::glassSides);
    toggle(
        words("Caustics, approximate"),
        words("Light that sharp surfaces throw onto matte ones; off is quieter"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).render.caustics); },
        [this](Project& p, bool on) { session_.shotIn(p).render.caustics = on; });
    shotNumber(
        words("Limit bright bounces"), {0, 1000, 1, 1, ""},
        words("Caps single bright bounces, which loses their light; 0 caps none. Direct light never is"),
        &Shot::render, &RenderSettings::clampIndirect);
    whole(words("Seed"), {1, 99999, 1, 0, ""},
          words("The same seed and samples give the same picture to the last bit"), &RenderSettings::seed);
  }

  void extra(const char* label, const char* tip, const char* pass) {
    toggle(
        label, tip,
        [=, this](const Project& p) {
          return std::optional(session_.shotIn(p).render.extraPasses.contains(pass));
        },
        [=, this](Project& p, bool on) {
          if (on)
            session_.shotIn(p).render.extraPasses.insert(pass);
          else
            session_.shotIn(p).render.extraPasses.erase(pass);
        });
  }

  Preview& preview_;
};

}  // namespace

Desk* makeRenderDesk(Workbench& bench) { return new RenderDesk(bench); }

}  // namespace dusk
