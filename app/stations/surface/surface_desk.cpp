#include <QtConcurrent>
#include <QtWidgets>

#include "app/document/clipboard.h"
#include "app/stations/parts.h"
#include "app/stations/surface/apply_surface.h"
#include "app/stations/surface/swatches.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "app/widgets/look.h"
#include "core/surface/presets.h"
#include "core/trace/compile.h"

namespace dusk {
namespace {

/// The presets as traced balls; drag one onto a part, or press Enter to give it to the selected part.
class PresetList : public QListWidget {
 public:
  explicit PresetList(QWidget* parent) : QListWidget(parent) {
    setObjectName("presets");
    setAccessibleName("Surface presets");
    setViewMode(IconMode);
    setIconSize({48, 48});
    setGridSize({look::px(82), 58 + look::px(32)});
    setMovement(Static);
    setResizeMode(Adjust);
    setDragEnabled(true);
    setFont(look::small());
    setStyleSheet(QString("QListWidget { background: #252230; border-radius: 6px; font-size: %1px; }")
                      .arg(look::px(11)));
    for (const Surface& s : surfacePresets()) {
      auto* item = new QListWidgetItem(QString::fromStdString(s.name).replace(' ', '\n'), this);
      item->setData(Qt::UserRole, QString::fromStdString(s.id));
      item->setToolTip("Drag onto a part in the picture, or double-click for the selected part");
      item->setTextAlignment(Qt::AlignHCenter | Qt::AlignTop);
      QPixmap blank(96, 96);
      blank.fill(Qt::transparent);
      item->setIcon(blank);
    }
  }
  ~PresetList() override {
    swatches_.cancel();
    swatches_.waitForFinished();
  }

 protected:
  /// The balls are traced when they are first seen, so that they do not slow the start.
  void showEvent(QShowEvent* event) override {
    QListWidget::showEvent(event);
    if (started_) return;
    started_ = true;
    connect(&swatches_, &QFutureWatcher<QImage>::resultReadyAt, this,
            [this](int i) { item(i)->setIcon(QIcon(QPixmap::fromImage(swatches_.resultAt(i)))); });
    swatches_.setFuture(
        QtConcurrent::mapped(surfacePresets(), [](const Surface& s) { return tracedSwatch(s, 96, 24); }));
  }

  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override {
    auto* data = new QMimeData;
    if (!items.isEmpty())
      data->setData("application/x-dusk-surface", items.first()->data(Qt::UserRole).toString().toUtf8());
    return data;
  }

 private:
  QFutureWatcher<QImage> swatches_;
  bool started_ = false;
};

class SurfaceDesk : public Desk {
 public:
  explicit SurfaceDesk(Workbench& bench)
      : Desk(bench.session, "Surface",
             "Drag a surface onto a part in the picture, look, undo, try the next.") {
    auto* presets = new PresetList(this);
    presets->setFixedHeight(276);
    add(presets);
    connect(presets, &QListWidget::itemActivated, this, [this](QListWidgetItem* item) {
      applySurface(session_, item->data(Qt::UserRole).toString().toStdString(), session_.selectedPart());
    });
    part_ = note();
    onRefresh([this] { showPart(); });
    beginRow();
    button("Separate copy",
           "Gives the selected part a surface of its own, so that changes touch no other part",
           [this] { ownCopy(); });
    button("As in the file", "Takes the surface away: the file's own colour shows", [this] {
      const std::string part = session_.selectedPart();
      session_.edit("take a surface away", [&](Project& p) {
        if (Product* product = session_.productIn(p)) product->surfaceOfPart.erase(part);
      });
    });
    endRow();
    beginRow();
    auto* copy =
        button("Copy surface", "The selected part's surface as text, for other parts and projects", [this] {
          Clip clip;
          if (const Surface* s = now(session_.project())) clip.surfaces.push_back(*s);
          copyToClipboard(session_, std::move(clip));
        });
    onRefresh([this, copy] { copy->setEnabled(now(session_.project()) != nullptr); });
    button("Paste surface", "Gives the selected part the surface that was copied",
           [this] { pasteSurface(session_, session_.selectedPart()); });
    endRow();
    colour(
        "Base colour", "Diffuse colour, or the metal's reflection",
        [this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(s->baseColour) : std::nullopt;
        },
        [this](Project& p, const Vec3d& c) {
          if (Surface* s = now(p)) s->baseColour = c;
        });
    share("Metalness", "0 = paint, stone, plastic; 1 = metal", &Surface::metalness);
    share("Roughness", "0 = mirror-like, 1 = matte", &Surface::roughness);
    field("IOR", {1, 3, 0.01, 2, ""}, "Index of refraction: 1.33 water, 1.5 glass and lacquer",
          &Surface::ior);
    share("Transmission", "Share of light that goes into the body, as in glass", &Surface::transmission);
    share("Clearcoat", "A lacquer over everything", &Surface::clearcoat);
    share("Coat roughness", "Roughness of the lacquer", &Surface::clearcoatRoughness);
    beginFold("Brushing and cloth", false);
    share("Brushing", "0 even, 1 as long-brushed metal", &Surface::anisotropy);
    field("Brushing angle", {-180, 180, 5, 0, "°"}, "Direction of the brushing",
          &Surface::anisotropyTurnDegrees);
    share("Sheen", "The bright rim of cloth", &Surface::sheen);
    share("Sheen roughness", "0 a narrow rim, 1 a wide one", &Surface::sheenRoughness);
    endFold();
    beginFold("Inside of glass", false);
    toggle(
        "Thin-walled", "A pane or a bubble: light goes straight through, nothing is inside",
        [this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(s->thinWalled) : std::nullopt;
        },
        [this](Project& p, bool on) {
          if (Surface* s = now(p)) s->thinWalled = on;
        });
    colour(
        "Dye", "Colour that white light has left after the depth below",
        [this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(s->absorptionColour) : std::nullopt;
        },
        [this](Project& p, const Vec3d& c) {
          if (Surface* s = now(p)) s->absorptionColour = c;
        });
    number(
        "Depth", {0, 1e5, 1, 1, "mm"}, "How far light goes for the dye to show so; 0: clear",
        [this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(s->absorptionDepthM * 1000) : std::nullopt;
        },
        [this](Project& p, double v) {
          if (Surface* s = now(p)) s->absorptionDepthM = v / 1000;
        });
    endFold();
    number(
        "Emission", {0, 1000, 0.1, 2, "× white"}, "Light the surface gives off; 1 = photo white",
        [this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(std::max({s->emission.x, s->emission.y, s->emission.z})) : std::nullopt;
        },
        [this](Project& p, double v) {
          Surface* s = now(p);
          if (!s) return;
          const double most = std::max({s->emission.x, s->emission.y, s->emission.z});
          s->emission = most > 0 ? s->emission * (v / most) : Vec3d(v, v, v);
        });
    stretch();
  }

 private:
  /// The surface of the selected part in `p`; nullptr when it shows the file's own.
  template <typename P>
  auto now(P& p) -> decltype(&p.surfaces[0]) {
    const Product* in = session_.product();
    const auto* product = in ? byId(p.products, in->id) : nullptr;
    if (!product) return nullptr;
    const auto given = product->surfaceOfPart.find(session_.selectedPart());
    return given == product->surfaceOfPart.end() ? nullptr : byId(p.surfaces, given->second);
  }

  void field(const char* label, const Range& range, const char* tip, double Surface::*member) {
    number(
        label, range, tip,
        [=, this](const Project& p) {
          const Surface* s = now(p);
          return s ? std::optional(s->*member) : std::nullopt;
        },
        [=, this](Project& p, double v) {
          if (Surface* s = now(p)) s->*member = v;
        });
  }
  void share(const char* label, const char* tip, double Surface::*member) {
    field(label, {0, 1, 0.02, 2, "", true}, tip, member);
  }

  void showPart() {
    const std::string& path = session_.selectedPart();
    if (path.empty()) return part_->setText("No part selected: click one in the picture or in the cast.");
    const Surface* s = now(session_.project());
    int shared = 0;
    if (s)
      for (const Product& product : session_.project().products)
        for (const auto& [part, surface] : product.surfaceOfPart) shared += surface == s->id;
    part_->setText(QString("<b>%1</b><br>%2%3")
                       .arg(QString::fromStdString(path.substr(path.rfind('/') + 1)).toHtmlEscaped(),
                            s ? QString::fromStdString(s->name).toHtmlEscaped() : "as in the file",
                            shared > 1 ? QString(", shared by %1 parts").arg(shared) : ""));
  }

  void ownCopy() {
    const std::string part = session_.selectedPart();
    if (part.empty()) return;
    session_.edit("give a surface of its own", [&](Project& p) {
      Surface copy;
      if (const Surface* s = now(p)) copy = *s;
      copy.id = freshId(p.surfaces, "surface");
      copy.name = "of " + part.substr(part.rfind('/') + 1);
      p.surfaces.push_back(copy);
      if (Product* product = session_.productIn(p)) product->surfaceOfPart[part] = copy.id;
    });
  }

  QLabel* part_;
};

}  // namespace

Desk* makeSurfaceDesk(Workbench& bench) { return new SurfaceDesk(bench); }

}  // namespace dusk
