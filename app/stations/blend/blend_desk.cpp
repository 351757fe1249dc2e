#include <QtWidgets>

#include "app/jobs/linked.h"
#include "app/stations/blend/clean_desk.h"
#include "app/stations/blend/compare_desk.h"
#include "app/stations/blend/front_desk.h"
#include "app/stations/blend/match_desk.h"
#include "app/stations/blend/row_panel.h"
#include "app/stations/blend/scopes_desk.h"
#include "app/stations/blend/stack_list.h"
#include "app/stations/parts.h"
#include "app/widgets/desk.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"
#include "core/blend/mask.h"
#include "core/project/blend_edit.h"
#include "core/project/by_id.h"

namespace dusk {
namespace {

class BlendDesk : public Desk {
 public:
  explicit BlendDesk(Workbench& bench)
      : Desk(bench.session, words("Blend"),
             words("The light's way, from the place at the foot to the eye. Nothing is traced anew.")),
        bench_(bench) {
    add(new MatchDesk(bench));
    heading(words("Stack"));
    add(new StackList(session_));
    holder_ = new QWidget;
    new QVBoxLayout(holder_);
    holder_->layout()->setContentsMargins(10, 2, 0, 2);
    add(holder_);
    onRefresh([this] { showRow(); });
    beginRow();
    addLayerButton();
    button(words("As rendered"), words("Every row of the blend as it was before anything was done to it"),
           [this] {
             session_.editShot(words("blend as rendered"),
                               [](Shot& shot) { shot.blend = viewOnly(shot.blend); });
           });
    endRow();
    beginFold(words("Compare"), false);
    add(new CompareDesk(bench));
    endFold();
    beginFold(words("Scopes"), false);
    add(new ScopesDesk(bench));
    endFold();
    beginFold(words("Clean plate"), false);
    add(new CleanDesk(bench));
    endFold();
    beginFold(words("In front of the product"), false);
    add(new FrontDesk(bench));
    endFold();
    beginFold(words("Balance by two patches"), false);
    note(
        words("A patch of the photo and one of the product that should look alike: grey against grey, white "
              "against white."));
    beginRow();
    forNextDrag(words("In the photo"), words("Click or drag over the patch to match"),
                Session::NextDrag::photoPatch);
    forNextDrag(words("On the product"), words("Click or drag over the patch that should look like it"),
                Session::NextDrag::productPatch);
    endRow();
    balance_ = note();
    onRefresh([this] { showBalance(); });
    endFold();
    note(words("Hold B over the picture to see the bare plate, C to see what it is compared with."));
    stretch();
  }

 protected:
  void hideEvent(QHideEvent* e) override {
    bench_.preview.showShare({});
    Desk::hideEvent(e);
  }

 private:
  void showBalance() {
    const BlendSettings& b = session_.shot().blend;
    balance_->setText(QString(words("Product × %1 EV, white %2 %3 %4"))
                          .arg(b.exposureEv, 0, 'f', 2)
                          .arg(b.white.x, 0, 'f', 3)
                          .arg(b.white.y, 0, 'f', 3)
                          .arg(b.white.z, 0, 'f', 3));
  }

  /// The panel of the row in hand; made anew only when another thing is.
  void showRow() {
    BlendPlace place = session_.blendInHand();
    if (place.row.starts_with(layerRow) && !layerOf(session_.shot().blend, place.row))
      place = {"view", -1, -1};
    if (const auto share = bench_.preview.shownShare(); share && share->cutOut.empty())
      bench_.preview.showShare(ShownShare{place});
    const QString signature = RowPanel::signature(session_.shot(), place);
    if (signature == shown_) return;
    shown_ = signature;
    const QWidget* const focus = QApplication::focusWidget();
    const bool hasFocus = focus && holder_->isAncestorOf(focus);
    while (QLayoutItem* item = holder_->layout()->takeAt(0)) {
      item->widget()->hide();
      item->widget()->deleteLater();
      delete item;
    }
    auto* panel = new RowPanel(bench_, place);
    connect(panel, &RowPanel::holdWanted, this, [this, place](int hold) { holdMask(place, MaskHold(hold)); });
    holder_->layout()->addWidget(panel);
    if (hasFocus) panel->focusHand();
  }

  /// The mask's points told by what it shall stay with, where they are in the picture now.
  void holdMask(const BlendPlace& place, MaskHold hold) {
    const MaskWorld world = plateWorld(session_.shot());
    bool possible = true;
    session_.editShot(words("what a mask stays with"), [&](Shot& edited) {
      BlendRow* row = rowNamed(edited.blend, place.row);
      if (!row) return;
      Mask& m = masksAt(*row, place.correction)[size_t(place.mask)];
      std::vector<MaskPoint> points = m.points;
      for (MaskPoint& point : points) {
        const auto seen = maskPointInPicture(point.at, m.hold, world);
        const auto held = seen ? maskPointHeld(*seen, hold, world) : std::nullopt;
        if (!held) return void(possible = false);
        point.at = *held;
      }
      m.points = points, m.hold = hold;
    });
    if (!possible)
      session_.refuse(hold == MaskHold::ground
                          ? words("Some of its points do not lie on the ground: draw it below the horizon.")
                          : words("The vantage must be solved and a product placed for that."));
    refreshAll();
  }

  void addLayerButton() {
    auto* more = new QPushButton(words("+ Layer"));
    more->setToolTip(words("A picture, logo, colour or gradient anywhere in the stack"));
    auto* menu = new QMenu(more);
    connect(menu->addAction(words("Picture or logo…")), &QAction::triggered, this,
            [this] { choosePicture(); });
    const auto plain = [this](LayerKind kind, const char* name) {
      ExtraLayer l;
      l.kind = kind, l.name = name, l.mode = LayerMode::multiply, l.row.strength = 0.5;
      addLayer(l);
    };
    connect(menu->addAction(words("Colour")), &QAction::triggered, this,
            [plain] { plain(LayerKind::colour, words("Colour")); });
    connect(menu->addAction(words("Gradient")), &QAction::triggered, this,
            [plain] { plain(LayerKind::gradient, words("Gradient")); });
    more->setMenu(menu);
    add(more);
  }
  void addLayer(ExtraLayer layer) {
    layer.id = freshId(session_.shot().blend.layers, "layer");
    session_.editShot(words("add a layer"), [&](Shot& shot) { shot.blend.layers.push_back(layer); });
    session_.takeBlend({std::string(layerRow) + layer.id, -1, -1});
  }
  void choosePicture() {
    const QString file = chooseFile(this, words("Choose a picture or logo"), FileKind::layer);
    if (file.isEmpty()) return;
    const std::filesystem::path path = pathOf(file);
    bench_.jobs.run<Linked<Texture>>(
        {words("Reading ") + QFileInfo(file).fileName(), "layer"},
        [assets = session_.assets(), path](Progress& progress) {
          return linked<Texture>(
              *assets, path, [&](const AssetRef& ref) { return assets->texture(ref, true, 1, progress); });
        },
        [this, path](Linked<Texture>& read) {
          ExtraLayer l;
          l.name = path.stem().string(), l.file = read.ref, l.anchor = LayerAnchor::bottomRight;
          addLayer(l);
        });
  }

  Workbench& bench_;
  QWidget* holder_;
  QLabel* balance_;
  QString shown_;
};

}  // namespace

Desk* makeBlendDesk(Workbench& bench) { return new BlendDesk(bench); }

}  // namespace dusk
