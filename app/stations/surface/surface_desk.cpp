#include <QtWidgets>

#include "app/document/clipboard.h"
#include "app/stations/parts.h"
#include "app/stations/shelf_panel.h"
#include "app/stations/surface/apply_surface.h"
#include "app/stations/surface/below_desk.h"
#include "app/stations/surface/decal_desk.h"
#include "app/stations/surface/exchange_desk.h"
#include "app/stations/surface/fit_desk.h"
#include "app/stations/surface/flat_desk.h"
#include "app/stations/surface/library_panel.h"
#include "app/stations/surface/material_jobs.h"
#include "app/stations/surface/own_surfaces.h"
#include "app/stations/surface/role_desk.h"
#include "app/stations/surface/value_rows.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {

class SurfaceDesk : public Desk {
 public:
  explicit SurfaceDesk(Workbench& bench)
      : Desk(bench.session, words("Surface"),
             words("Drag a surface onto a part in the picture, look, undo, try the next.")) {
    auto* library = new LibraryPanel(session_);
    add(library);
    connect(library, &LibraryPanel::taken, this, [this](const QString& id) {
      applySurface(session_, id.toStdString(), session_.selectedPart());
      noteUsed(id);
    });
    onRefresh([library] { library->refresh(); });
    part_ = note();
    onRefresh([this] { showPart(); });
    partButtons();
    add(new ValueRows(bench));
    overall();
    beginFold(words("Prints"), true);
    add(new DecalDesk(bench));
    endFold();
    add(new BelowDesk(session_));
    add(new RoleDesk(session_));
    add(new FitDesk(bench));
    add(new FlatDesk(bench));
    elsewhere(library);
    add(new ExchangeDesk(bench));
    beginFold(words("A shelf on the network"), false);
    add(new ShelfPanel(bench, ShelfKind::surface, [&bench](const QString& file, int gesture) {
      openMaterialFile(bench, file, gesture);
    }));
    endFold();
    stretch();
  }

 private:
  const Surface* now(const Project& p) const { return session_.surfaceInHand(p); }
  Surface* now(Project& p) const { return session_.surfaceInHand(p); }

  void partButtons() {
    beginRow();
    button(words("Separate copy"),
           words("Gives the part in hand a surface of its own, like the one it has or like its file says, "
                 "with its "
                 "pictures"),
           [this] { giveOwnSurface(session_); });
    auto* file =
        button(words("As in the file"), words("Takes the surface away: the file's own look shows"), [this] {
          const auto parts = session_.partsInHand(session_.selectedPart());
          session_.edit(words("take a surface away"), [&](Project& p) {
            if (Product* product = session_.productIn(p))
              for (const std::string& part : parts) product->surfaceOfPart.erase(part);
          });
        });
    endRow();
    onRefresh([=, this] { file->setEnabled(now(session_.project()) != nullptr); });
  }

  void elsewhere(LibraryPanel* library) {
    beginFold(words("Copy, keep, replace"), false);
    beginRow();
    auto* copy =
        button(words("Copy surface"), words("The surface as text, for other parts and projects"), [this] {
          Clip clip;
          if (const Surface* s = now(session_.project())) clip.surfaces.push_back(*s);
          copyToClipboard(session_, std::move(clip));
        });
    button(words("Paste surface"), words("Gives the part in hand the surface that was copied"),
           [this] { pasteSurface(session_, session_.selectedPart()); });
    endRow();
    beginRow();
    auto* keep = button(
        words("To the shelf"), words("Puts the surface on the shelf, under My own, for other projects"),
        [this] {
          const Surface* s = now(session_.project());
          const auto kept = s ? keepOwnSurface(*s, *session_.assets()) : done();
          session_.say(kept ? words("Kept under My own.") : QString::fromStdString(kept.error().message),
                       !kept);
        });
    auto* everywhere =
        button(words("Replace"), words("Every part that has this surface gets the one chosen on the shelf"),
               [this, library] { replaceSurface(session_, library->chosen()); });
    endRow();
    auto* all = button(words("Select all that wear it"),
                       words("Every part of this product with this surface is taken in hand together"),
                       [this] { selectBySurface(session_); });
    endFold();
    onRefresh([=, this] {
      for (QPushButton* b : {copy, keep, everywhere, all}) b->setEnabled(now(session_.project()) != nullptr);
    });
  }

  /// What is moved together: too shiny, too perfect.
  void overall() {
    number(
        words("Shine"), {0, 1, 0.05, 2, "", true},
        words("Too shiny, or not enough: roughness, clearcoat and mirror together"),
        [this](const Project& p) { return now(p) ? std::optional(shineOf(*now(p))) : std::nullopt; },
        [this](Project& p, double v) {
          if (Surface* s = now(p)) *s = withShine(*s, v);
        });
    number(
        words("Used"), {0, 1, 0.05, 2, "", true, 0},
        words("From new to used: edges, dust, smudges and waves together; each by itself below"),
        [this](const Project& p) {
          if (!now(p)) return std::optional<double>();
          const Use use = useOf(*now(p));
          return std::optional(std::max({use.edges, use.dust, use.smudges, use.waves}));
        },
        [this](Project& p, double v) {
          if (Surface* s = now(p)) *s = withUse(*s, {v, v, v, v * 0.6});
        });
    beginFold(words("What use did to it"), false);
    useField(words("Worn edges"), words("Bare metal where hands and corners meet"), &Use::edges);
    useField(words("Dust"), words("On what looks up"), &Use::dust);
    useField(words("Smudges"), words("Where it was wiped or held: the shine differs"), &Use::smudges);
    useField(words("Waves"), words("The slow wobble of things that were cast, moulded or bent"), &Use::waves);
    endFold();
  }

  void useField(const char* label, const char* tip, double Use::*member) {
    number(
        label, {0, 1, 0.05, 2, "", true, 0}, tip,
        [=, this](const Project& p) { return now(p) ? std::optional(useOf(*now(p)).*member) : std::nullopt; },
        [=, this](Project& p, double v) {
          Surface* s = now(p);
          if (!s) return;
          Use use = useOf(*s);
          use.*member = v;
          *s = withUse(*s, use);
        });
  }

  void showPart() {
    const std::string& path = session_.selectedPart();
    if (path.empty())
      return part_->setText(words("No part in hand: click one in the picture or in the cast."));
    const Surface* s = now(session_.project());
    int shared = 0;
    if (s)
      for (const Product& product : session_.project().products)
        for (const auto& [part, surface] : product.surfaceOfPart) shared += surface == s->id;
    part_->setText(QString("<b>%1</b><br>%2%3")
                       .arg(QString::fromStdString(path.substr(path.rfind('/') + 1)).toHtmlEscaped(),
                            s ? QString::fromStdString(s->name).toHtmlEscaped() : words("as in the file"),
                            shared > 1 ? QString(words(", shared by %1 parts")).arg(shared) : ""));
  }

  QLabel* part_;
};

}  // namespace

Desk* makeSurfaceDesk(Workbench& bench) { return new SurfaceDesk(bench); }

}  // namespace dusk
