// What the colour popover takes from the picture: the photo's light at a point, and what colour is there.
#include "app/window/main_window.h"
#include "core/base/words.h"
#include "core/proof/balance.h"
#include "core/surface/made_surface.h"
#include "core/trace/lit_colour.h"

namespace dusk {

/// The photo's own light where the picture shows it, whatever stands over it.
std::optional<Vec3d> MainWindow::photoAt(const QPoint& global, int side) const {
  const QPoint at = picture_->mapFromGlobal(global);
  if (!picture_->isVisible() || !picture_->rect().contains(at) || !hasPlate(session_.shot())) return {};
  const auto plate = session_.assets()->plate(session_.shot());
  const auto mean =
      plate ? patchOfPlate(**plate, session_.shot().vantage.camera, picture_->toPlate(at), side / 2.0)
            : std::nullopt;
  return mean ? std::optional(toDouble(*mean)) : std::nullopt;
}

/// What a surface there would have to be coloured, to look as the photo does; said where that is not known.
std::optional<Vec3d> MainWindow::litAt(const QPoint& global, int side) {
  const auto seen = photoAt(global, side);
  const auto frame = picture_->frame();
  if (!seen || !frame || !frame->scene) return {};
  BsdfParameters like;
  if (const Surface* s = session_.surfaceInHand(session_.project())) like = parametersOf(*s);
  const auto lit =
      colourAsLit(*frame->scene, like, picture_->toPlate(picture_->mapFromGlobal(global)), toFloat(*seen));
  if (!lit)
    return session_.refuse(
               words("What is there is not known: click the ground, or put a stand-in over the thing.")),
           std::nullopt;
  if (!lit->isPossible())
    session_.refuse(
        words("The photo is brighter there than white would be in this light: the light is off, or it shines "
              "by itself."));
  else
    session_.say(
        QString(words("As lit there, give or take %1 %2"))
            .arg(100 * maxComponent(lit->sigma) / std::max(0.01f, maxComponent(lit->base)), 0, 'f', 1)
            .arg(lit->bySun > 0.3 ? QString(words("%; %1 % of its light is the sun's: mind shadows on it"))
                                        .arg(100 * lit->bySun, 0, 'f', 0)
                                  : QString("%")));
  Vec3d base;
  for (int c = 0; c < 3; ++c) base[c] = std::clamp(double(lit->base[c]), 0.0, 1.0);
  return base;
}

}  // namespace dusk
