#include "app/stations/surface/flat_desk.h"

#include <QtWidgets>

#include "app/stations/surface/apply_surface.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/words.h"
#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/light/flatten.h"
#include "core/picture/file_writer.h"
#include "core/product/set/piece_kinds.h"
#include "core/project/by_id.h"
#include "core/set/furnish.h"
#include "core/trace/compile.h"
#include "core/vantage/straighten.h"

namespace dusk {

FlatDesk::FlatDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  beginFold(words("From a level place of the photo"), false);
  note(words("A table, a floor, a pavement: taken as seen from above, at true size, its light taken out."));
  level_ = new QComboBox;
  level_->setAccessibleName(words("It lies on"));
  level_->setToolTip(
      words("The level it is taken from: the ground, or one that was told at the Vantage station"));
  add(labelled(words("It lies on"), level_));
  onRefresh([this] {
    const int before = std::max(0, level_->currentIndex());
    level_->clear();
    level_->addItem(words("the ground"));
    for (const LevelPlane& level : session_.shot().levels) level_->addItem(shown(level.name));
    level_->setCurrentIndex(std::min(before, level_->count() - 1));
  });
  forNextDrag(
      words("Take a surface"),
      words("Drag a frame in the picture: what it shows of that level becomes a surface with its true size"),
      NextDrag::flatPatch);
  endFold();
  connect(&bench, &Workbench::flatWanted, this, &FlatDesk::take);
}

Result<FlatDesk::Taken> FlatDesk::taken(const Shot& shot, AssetStore& assets, double heightM,
                                        const Vec2d& corner, const Vec2d& opposite,
                                        const std::filesystem::path& file) {
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  const bool isLit = !shot.surroundings.panorama.empty() ||
                     std::any_of(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return l.on; });
  const auto lights = isLit ? lightsOf(shot, assets) : nullptr;
  auto flat = flattened(**plate, workingCamera(shot.vantage), lights.get(), heightM, corner, opposite);
  if (!flat) return flat.error();
  for (float& v : flat->colour.pixels) v = srgbEncoded(v);
  PictureFileKind kind;
  kind.width = flat->colour.width, kind.height = flat->colour.height;
  if (const Outcome written = writePicture(file, kind, flat->colour); !written) return written.error();
  const auto link = assets.refer(file);
  if (!link) return link.error();
  Taken result;
  result.sizeMm = flat->sizeMm, result.isLit = flat->isLit;
  result.surface.name = file.stem().string();
  result.surface.roughness = 0.7;  // as most of what lies about; the photo does not tell
  Feed picture;
  picture.kind = FeedKind::picture, picture.picture = *link;
  picture.mapping.kind = MappingKind::box, picture.mapping.sizeMm = flat->sizeMm;
  picture.mapping.shiftMm = flat->sizeMm * -0.5;  // its middle on the part's
  result.surface.feeds[SurfaceValue::baseColour] = {picture};
  return result;
}

double FlatDesk::heightM() const {
  const auto& levels = session_.shot().levels;
  const int at = level_->currentIndex() - 1;
  return at >= 0 && at < int(levels.size()) ? levels[size_t(at)].heightM : 0;
}

void FlatDesk::take(const Vec2d& corner, const Vec2d& opposite) {
  const QString file =
      choosePlace(this, words("Save the surface's picture"), FileKind::print, words("ground.png"), "png");
  if (file.isEmpty()) return;
  bench_.jobs.run<Taken>(
      {words("Taking a surface"), "flat"},
      [shot = session_.shot(), assets = session_.assets(), height = heightM(), corner, opposite,
       file](Progress&) { return taken(shot, *assets, height, corner, opposite, pathOf(file)); },
      [this](Taken& taken) { keep(taken); });
}

void FlatDesk::keep(const Taken& taken) {
  Surface own = taken.surface;
  session_.edit(words("take a surface from the photo"), [&](Project& p) {
    own.id = freshId(p.surfaces, "surface");
    p.surfaces.push_back(own);
  });
  const std::string id = own.id, part = session_.selectedPart();
  std::vector<Answer> answers;
  if (!part.empty())
    answers.push_back({words("Put it on the part in hand"), shown(part.substr(part.rfind('/') + 1)),
                       [this, id] { applySurface(session_, id, session_.selectedPart()); }});
  answers.push_back({words("Lay it down as a slab"),
                     words("A piece of that size, as thick as a board, that wears it"),
                     [this, id, size = taken.sizeMm] { lay(id, size); }});
  QString text = QString(words("%1 is %L2 × %L3 m, as the camera tells."))
                     .arg(shown(own.name))
                     .arg(taken.sizeMm.x / 1000, 0, 'f', 2)
                     .arg(taken.sizeMm.y / 1000, 0, 'f', 2);
  if (!taken.isLit) text += QString(" ") + words("The shot has no light yet: how bright it is was guessed.");
  emit bench_.asked(text, answers);
}

void FlatDesk::lay(const std::string& surface, const Vec2d& sizeMm) {
  session_.edit(words("lay a slab"), [&](Project& p) {
    const std::string id = addPiece(p, session_.shotIndex(), "slab", 0, 0);
    const Placement* placement = byId(session_.shotIn(p).placements, id);
    Product* product = placement ? byId(p.products, placement->productId) : nullptr;
    if (!product) return;
    product->piece.measures["width"] = sizeMm.x / 1000, product->piece.measures["depth"] = sizeMm.y / 1000;
    product->piece.measures["height"] = 0.02, product->piece.measures["rough"] = 0;
    for (const auto& [path, name] : partsOf(product->piece)) product->surfaceOfPart[path] = surface;
  });
}

}  // namespace dusk
