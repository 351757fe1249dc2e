#include "app/stations/surface/print_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/picture/write.h"
#include "core/surface/drawn.h"
#include "core/surface/print_room.h"
#include "core/surface/unrolled.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// What was linked, and how wide it is by its own word; 0 where it does not say.
struct PrintRead {
  AssetRef ref;
  double widthMm = 0, proportion = 1;
};

Result<PrintRead> readPrint(AssetStore& assets, const fs::path& file, Progress& progress) {
  const auto link = linked<Texture>(
      assets, file, [&](const AssetRef& ref) { return assets.texture(ref, true, 1, progress); });
  if (!link) return link.error();
  const Texture& pixels = *link->asset;
  PrintRead read{link->ref, 0, double(pixels.height) / std::max(1, pixels.width)};
  if (isDrawing(file))
    if (const auto page = drawn(file, link->ref.hash, 1, progress)) read.widthMm = page->sizeMm.x;
  return read;
}

}  // namespace

void chooseTexture(Workbench& bench) {
  Session& session = bench.session;
  const QString file = chooseFile(QApplication::activeWindow(), words("Choose the picture"), FileKind::print);
  if (file.isEmpty()) return;
  bench.jobs.run<PrintRead>(
      {words("Reading ") + QFileInfo(file).fileName(), "texture"},
      [assets = session.assets(), path = pathOf(file)](Progress& progress) {
        return readPrint(*assets, path, progress);
      },
      [&session, place = session.feedInHand()](PrintRead& read) {
        session.edit(words("choose a picture"), [&](Project& p) {
          if (Surface* s = session.surfaceInHand(p))
            if (Feed* feed = feedAt(*s, place)) feed->picture = read.ref, feed->texture = -1;
        });
      });
}

void layDecal(Decal& decal, const PictureView::Spot& spot, const Model& model, double unitMm) {
  decal.at = spot.at, decal.normal = spot.normal;
  decal.lay = DecalLay::flat;
  for (const Part& part : model.parts) {
    if (part.path != spot.pick.part) continue;
    for (const RoundAxis& axis : part.axes) {
      const Vec3d way = toDouble(axis.direction).normalized(), from = spot.at - toDouble(axis.point);
      const double away = (from - way * from.dot(way)).length();
      if (std::abs(away - double(axis.radius)) > 0.03 * double(axis.radius) + 0.05 / unitMm ||
          std::abs(way.dot(spot.normal)) > 0.2)
        continue;
      decal.lay = DecalLay::wrapped, decal.pivot = toDouble(axis.point), decal.axis = way;
      if (std::max({decal.axis.x, decal.axis.y, decal.axis.z}) <
          -std::min({decal.axis.x, decal.axis.y, decal.axis.z}))
        decal.axis = -decal.axis;  // upwards, to the right or away: not upside down
      return;
    }
  }
}

namespace {

/// As wide as it says, and else a third of its part; no wider than fits on the part there.
void sizePrint(Decal& decal, const PrintRead& read, const Model& model, double unitMm) {
  const std::string& path = *decal.parts.begin();
  const auto part = std::find_if(model.parts.begin(), model.parts.end(),
                                 [&](const Part& each) { return each.path == path; });
  if (part == model.parts.end()) return;
  const Vec3d box = model.boxOf(*part).size() * unitMm;
  decal.widthMm = read.widthMm > 0 ? read.widthMm : std::max({box.x, box.y, box.z}) / 3;
  fitOn(decal, model, *part, unitMm, read.proportion);
  decal.widthMm = std::max(0.1, std::round(decal.widthMm * 10) / 10);
}

}  // namespace

void takePrint(Workbench& bench, const QString& file, const PictureView::Spot& spot) {
  Session& session = bench.session;
  session.selectPart(spot.pick.part, spot.pick.placement);
  const Product* product = session.product();
  const auto model = product ? session.assets()->loadedModel(*product) : nullptr;
  if (!model) return;
  const QString name = QFileInfo(file).completeBaseName();
  Decal decal;
  decal.name = name.toStdString(), decal.parts = {spot.pick.part}, decal.roughness = 0.45;
  decal.axis = product->up == UpAxis::x   ? Vec3d(1, 0, 0)
               : product->up == UpAxis::y ? Vec3d(0, 1, 0)
                                          : Vec3d(0, 0, 1);
  struct Laid {
    Decal decal;
    double saysMm;
  };
  bench.jobs.run<Laid>(
      {words("Reading ") + QFileInfo(file).fileName(), "print"},
      [assets = session.assets(), path = pathOf(file), decal, spot, model,
       unitMm = product->metresPerUnit * 1000](Progress& progress) -> Result<Laid> {
        const auto read = readPrint(*assets, path, progress);
        if (!read) return read.error();
        Decal laid = decal;
        laid.picture = read->ref;
        layDecal(laid, spot, *model, unitMm);
        sizePrint(laid, *read, *model, unitMm);
        return Laid{laid, read->widthMm};
      },
      [&session, spot, name](Laid& laid) {
        session.selectPart(spot.pick.part, spot.pick.placement);
        session.edit(
            words("print on ") + QString::fromStdString(spot.pick.part.substr(spot.pick.part.rfind('/') + 1)),
            [&](Project& p) {
              Product* product = session.productIn(p);
              if (!product) return;
              laid.decal.id = freshId(product->decals, "decal");
              product->decals.push_back(laid.decal);
            });
        session.selectDecal(laid.decal.id);
        if (laid.decal.widthMm < laid.saysMm - 0.1)
          session.say(QString(words("%1 says it is %2 mm wide. It would not fit there: it is %3 mm now."))
                          .arg(name, decimal(laid.saysMm, 1), decimal(laid.decal.widthMm, 1)));
      });
}

namespace {

/// What a template came to: the link to it, and where its page lies.
struct TemplateMade {
  AssetRef ref;
  Unrolled outline;
};

Result<TemplateMade> writeTemplate(AssetStore& assets, const Decal& decal, const Model& model, double unitMm,
                                   const fs::path& file) {
  constexpr double dpi = 300;
  const auto outline = unrolled(decal, model, unitMm, 1);
  if (!outline) return outline.error();
  fs::path pixels = file;
  pixels.replace_extension(".guide.png");
  const std::string svg = templateSvg(*outline, file.stem().string(), templateBleedMm);
  if (auto ok = writeFileAtomically(file, svg); !ok) return ok.error();
  if (auto ok = writePng8(pixels, templatePixels(*outline, templateBleedMm, dpi)); !ok) return ok.error();
  const auto ref = assets.refer(file);
  if (!ref) return ref.error();
  return TemplateMade{*ref, *outline};
}

}  // namespace

void makeTemplate(Workbench& bench) {
  Session& session = bench.session;
  const Decal* decal = session.decalInHand(session.project());
  const Product* product = session.product();
  const auto model = product ? session.assets()->loadedModel(*product) : nullptr;
  if (!decal || !model) return;
  const QString file =
      choosePlace(QApplication::activeWindow(), words("Where the template goes"), FileKind::print,
                  QString::fromStdString(decal->name) + words(" template"), ".svg");
  if (file.isEmpty()) return;
  const double unitMm = product->metresPerUnit * 1000;
  bench.jobs.run<TemplateMade>(
      {words("Unrolling the part"), "template"},
      [assets = session.assets(), decal = *decal, model, unitMm, path = pathOf(file)](Progress&) {
        return writeTemplate(*assets, decal, *model, unitMm, path);
      },
      [&session, decal = *decal, unitMm, file](TemplateMade& made) {
        Decal drawn = decal;
        drawn.picture = made.ref, drawn.page = 1, drawn.mirrored = false;
        drawn.name = QFileInfo(file).completeBaseName().toStdString();
        const Vec2d page = made.outline.size() + Vec2d(2 * templateBleedMm);
        const DecalFrame frame = frameOf(decal, unitMm, 1);
        Vec3f outward;
        drawn.at = toDouble(pointOf(decal, frame,
                                    Vec2f(float(made.outline.middle().x), float(made.outline.middle().y)),
                                    &outward)) /
                   unitMm;
        drawn.normal = toDouble(outward);
        drawn.widthMm = page.x, drawn.heightMm = page.y;
        session.edit(words("print a template"), [&](Project& p) {
          Product* product = session.productIn(p);
          if (!product) return;
          drawn.id = freshId(product->decals, "decal");
          product->decals.push_back(drawn);
        });
        session.selectDecal(drawn.id);
        session.say(words("Draw into ") + QFileInfo(file).fileName() +
                    words(" and save: it shows here. Its guide is never printed."));
      });
}

void takeOffPrint(Session& session) {
  session.edit(words("take a print off"), [&](Project& p) {
    if (Product* product = session.productIn(p))
      std::erase_if(product->decals, [&](const Decal& d) { return d.id == session.selectedDecal(); });
  });
}

float proportionOf(const Session& session, const Decal& decal) {
  if (decal.heightMm > 0) return float(decal.heightMm / decal.widthMm);
  const auto texture = session.assets()->loadedTexture(decal.picture, true, decal.page);
  return texture && texture->width > 0 ? float(texture->height) / float(texture->width) : 1.0f;
}

void choosePrint(Workbench& bench) {
  const QString file =
      chooseFile(QApplication::activeWindow(), words("Choose what to print"), FileKind::print);
  if (!file.isEmpty()) emit bench.printWanted(file);
}

}  // namespace dusk
