#include "app/stations/surface/print_jobs.h"

#include <QApplication>
#include <QFileInfo>

#include "app/jobs/linked.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/picture/write.h"
#include "core/surface/drawn.h"
#include "core/surface/unrolled.h"

namespace dusk {
namespace fs = std::filesystem;
namespace {

/// What was linked, and how wide it is by its own word; 0 where it does not say.
struct PrintRead {
  AssetRef ref;
  double widthMm = 0;
};

Result<PrintRead> readPrint(AssetStore& assets, const fs::path& file, Progress& progress) {
  const auto link = linked<Texture>(
      assets, file, [&](const AssetRef& ref) { return assets.texture(ref, true, 1, progress); });
  if (!link) return link.error();
  PrintRead read{link->ref, 0};
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

void takePrint(Workbench& bench, const QString& file, const PictureView::Spot& spot) {
  Session& session = bench.session;
  bench.jobs.run<PrintRead>(
      {words("Reading ") + QFileInfo(file).fileName(), "print"},
      [assets = session.assets(), path = pathOf(file)](Progress& progress) {
        return readPrint(*assets, path, progress);
      },
      [&session, spot, name = QFileInfo(file).completeBaseName()](PrintRead& read) {
        std::string id;
        session.selectPart(spot.pick.part, spot.pick.placement);
        session.edit(
            words("print on ") + QString::fromStdString(spot.pick.part.substr(spot.pick.part.rfind('/') + 1)),
            [&](Project& p) {
              Product* product = session.productIn(p);
              const auto model = product ? session.assets()->loadedModel(*product) : nullptr;
              if (!model) return;
              const double unitMm = product->metresPerUnit * 1000;
              Decal decal;
              decal.id = id = freshId(product->decals, "decal"), decal.name = name.toStdString();
              decal.picture = read.ref, decal.parts = {spot.pick.part};
              const Vec3d up = product->up == UpAxis::x   ? Vec3d(1, 0, 0)
                               : product->up == UpAxis::y ? Vec3d(0, 1, 0)
                                                          : Vec3d(0, 0, 1);
              decal.axis = up;
              layDecal(decal, spot, *model, unitMm);
              double across = 1e9;  // never larger than the part
              for (const Part& part : model->parts)
                if (part.path == spot.pick.part) {
                  const Vec3d size = model->boxOf(part).size() * unitMm;
                  across = std::max({size.x, size.y, size.z});
                }
              decal.widthMm =
                  std::round((read.widthMm > 0 ? std::min(read.widthMm, 3 * across) : across / 3) * 10) / 10;
              decal.roughness = 0.45;
              product->decals.push_back(decal);
            });
        session.selectDecal(id);
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

void choosePrint(Workbench& bench) {
  const QString file =
      chooseFile(QApplication::activeWindow(), words("Choose what to print"), FileKind::print);
  if (!file.isEmpty()) emit bench.printWanted(file);
}

}  // namespace dusk
