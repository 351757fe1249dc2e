#include "app/stations/surface/fit_desk.h"

#include <QtWidgets>

#include "app/widgets/colours.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/surface/made_surface.h"
#include "core/trace/compile.h"

namespace dusk {

FitDesk::FitDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  beginFold(words("From a photo of the real thing"), false);
  note(
      words("Let the product stand where the real one stands in the photo, then frame a patch of one part: a "
            "highlight "
            "and plain places in it."));
  forNextDrag(words("Fit to the photo"),
              words("Drag a frame in the picture: colour, roughness, lacquer and metal are found by "
                    "tracing that patch until it agrees"),
              NextDrag::fitPatch);
  words_ = note();
  words_->setAccessibleName(words("What was found"));
  words_->hide();
  pictures_ = new QLabel;
  pictures_->setAccessibleName(words("Photo, fit, and what is left"));
  pictures_->setToolTip(
      words("The patch in the photo, as it was fitted, and four times what is left between them"));
  pictures_->hide();
  add(pictures_);
  endFold();
  connect(&bench, &Workbench::fitWanted, this, &FitDesk::fit);
}

Result<FitDesk::Answer> FitDesk::fitted(const Project& project, size_t shot, AssetStore& assets,
                                        GeometryCache& cache, const Vec2d& corner, const Vec2d& opposite,
                                        Progress& progress) {
  auto compiled = compile(project, shot, assets, cache, progress);
  if (!compiled) return compiled.error();
  const Scene& scene = compiled->scene;
  auto patch = fitPatchOf(scene, corner, opposite);
  if (!patch) return patch.error();
  const Model& model = scene.geometry->instances()[patch->instance].geometry->model();
  Answer answer;
  answer.part = model.parts[patch->part].path, answer.placement = scene.placementIds[patch->instance];
  Surface from;
  for (const Placement& placement : project.shots[shot].placements)
    if (const Product* product = byId(project.products, placement.productId);
        product && placement.id == answer.placement) {
      const Surface* worn = surfaceOf(project, *product, model.parts[patch->part]);
      from = worn ? *worn : surfaceFromFile(model.materialOf(model.parts[patch->part]));
    }
  from.feeds.clear(), from.coats.clear(), from.flakes = 0;
  auto fit = fitSurface(scene, *patch, from, progress);
  if (!fit) return fit.error();
  answer.fit = std::move(*fit), answer.patch = std::move(*patch);
  return answer;
}

void FitDesk::fit(const Vec2d& corner, const Vec2d& opposite) {
  bench_.jobs.run<Answer>(
      {words("Fitting the surface"), "fit"},
      [project = session_.project(), shot = session_.shotIndex(), assets = session_.assets(),
       cache = session_.geometry(), corner, opposite](Progress& progress) {
        return fitted(project, shot, *assets, *cache, corner, opposite, progress);
      },
      [this](Answer& answer) {
        session_.selectPart(answer.part, answer.placement);
        session_.edit(words("fit a surface to the photo"), [&](Project& p) {
          Product* product = session_.productIn(p);
          if (!product) return;
          Surface s = answer.fit.surface;
          s.id = freshId(p.surfaces, "surface");
          s.name = words("fitted, ") + answer.part.substr(answer.part.rfind('/') + 1);
          product->surfaceOfPart[answer.part] = s.id;
          p.surfaces.push_back(std::move(s));
        });
        show(answer);
      });
}

void FitDesk::show(const Answer& answer) {
  const SurfaceFit& f = answer.fit;
  const auto with = [](const FitValue& v) {
    return QString("%L1 ± %L2").arg(v.value, 0, 'f', 2).arg(std::max(0.005, v.sigma), 0, 'f', 2);
  };
  QString text =
      QString(words("%1, %2. Roughness %3."))
          .arg(f.metalness.value > 0.5 ? words("Metal") : words("Not metal"),
               f.clearcoat.value > 0 ? words("lacquered (") + with(f.clearcoat) + ")" : words("bare"),
               with(f.roughness));
  text += QString(words(" Colour ± %1. Left: %2 (CIEDE2000)."))
              .arg(std::max({f.colour[0].sigma, f.colour[1].sigma, f.colour[2].sigma}), 0, 'f', 3)
              .arg(f.error, 0, 'f', 1);
  for (const std::string& doubt : f.doubts) text += " " + QString::fromStdString(doubt);
  words_->setText(text);
  words_->show();
  // Three pictures of the patch, side by side, each pixel a small square.
  const auto& at = answer.patch.pixels;
  Vec2d low = at.front(), high = at.front();
  for (const Vec2d& p : at)
    for (int i = 0; i < 2; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  const int side = look::px(80);
  const double scale = side / std::max({high.x - low.x, high.y - low.y, 1.0});
  const double square = scale * std::sqrt((high.x - low.x) * (high.y - low.y) / double(at.size())) + 1.5;
  QImage image(3 * side + 2 * look::px(6), side, QImage::Format_ARGB32);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  for (size_t i = 0; i < at.size(); ++i) {
    const Rgb left = f.fitted[i] - answer.patch.seen[i];
    const Vec3d shown[] = {toDouble(answer.patch.seen[i]), toDouble(f.fitted[i]),
                           Vec3d(0.18) + toDouble(left) * 4.0};
    for (int k = 0; k < 3; ++k)
      painter.fillRect(QRectF((at[i].x - low.x) * scale + k * (side + look::px(6)), (at[i].y - low.y) * scale,
                              square, square),
                       shownColour(shown[k]));
  }
  painter.end();
  pictures_->setPixmap(QPixmap::fromImage(image));
  pictures_->show();
}

}  // namespace dusk
