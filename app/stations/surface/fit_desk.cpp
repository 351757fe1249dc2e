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
  pictures_ = new QWidget;
  pictures_->setAccessibleName(words("Photo, fit, and what is left"));
  pictures_->setToolTip(
      words("The patch in the photo, as it was fitted, and four times what is left between them"));
  auto* grid = new QGridLayout(pictures_);
  grid->setContentsMargins(0, 0, 0, look::px(8));
  const QString captions[] = {words("photo"), words("fitted"), words("left × 4")};
  for (int k = 0; k < 3; ++k) {
    auto* caption = new QLabel(captions[k]);
    look::setRole(*caption, "caption");
    grid->addWidget(patches_[k] = new QLabel, 0, k, Qt::AlignLeft | Qt::AlignBottom);
    grid->addWidget(caption, 1, k);
  }
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
  // Three pictures of the patch, each pixel of it a small square.
  const auto& at = answer.patch.pixels;
  Vec2d low = at.front(), high = at.front();
  for (const Vec2d& p : at)
    for (int i = 0; i < 2; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  const Vec2d size = high - low;
  const double scale = look::px(80) / std::max({size.x, size.y, 1.0}),
               square = scale * std::sqrt(size.x * size.y / double(at.size())) + 1.5,
               dpr = devicePixelRatioF();
  for (int k = 0; k < 3; ++k) {
    QPixmap drawn((QSizeF(size.x, size.y) * scale + QSizeF(square, square)).toSize() * dpr);
    drawn.setDevicePixelRatio(dpr);
    drawn.fill(Qt::transparent);
    QPainter painter(&drawn);
    for (size_t i = 0; i < at.size(); ++i) {
      const Vec3d seen = toDouble(answer.patch.seen[i]), made = toDouble(f.fitted[i]);
      painter.fillRect(QRectF((at[i].x - low.x) * scale, (at[i].y - low.y) * scale, square, square),
                       shownColour(k == 0   ? seen
                                   : k == 1 ? made
                                            : Vec3d(0.18) + (made - seen) * 4.0));
    }
    painter.end();
    patches_[k]->setPixmap(drawn);
  }
  pictures_->show();
}

}  // namespace dusk
