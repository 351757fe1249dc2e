// The product before the place: it is what people look at while they try things.
#include "app/preview/preview_state.h"
#include "core/project/changes.h"
#include "core/trace/denoise.h"
#include "core/trace/dressed_anew.h"
#include "core/trace/render.h"

namespace dusk {
namespace {

/// Where there is any of the product, and so many pixels around.
std::vector<unsigned char> aroundProduct(const Picture& alpha, int around) {
  std::vector<unsigned char> mask(alpha.pixels.size());
  std::transform(alpha.pixels.begin(), alpha.pixels.end(), mask.begin(), [](float a) { return a > 0; });
  return grown(mask, alpha.width, around);
}

/// What there is of the film, over a coarse picture of the rest.
std::shared_ptr<const Passes> over(const Passes& fine, const Film& film,
                                   const std::shared_ptr<const Passes>& coarse) {
  auto both = std::make_shared<Passes>(*coarse);
  for (int y = 0; y < film.height(); ++y)
    for (int x = 0; x < film.width(); ++x)
      if (const Film::Pixel* p = film.pixel(x, y); p && p->count > 0) putOver(*both, fine, y, x, x + 1);
  return both;
}

}  // namespace

std::shared_ptr<const Passes> Preview::Before::dressed(const Passes& coarse) const {
  auto now = std::make_shared<Passes>(*picture);
  for (size_t i = 0; i < changed.size(); ++i) {
    const float alpha = picture->alpha.pixels[i], there = coarse.alpha.pixels[i];
    if (changed[i] && alpha > 0 && there > 0)
      for (size_t c = i * 3; c < i * 3 + 3; ++c)
        now->beauty.pixels[c] = coarse.beauty.pixels[c] * alpha / there;
  }
  return now;
}

Preview::Before Preview::ofSameShape(const Request& request, const Stage& stage) const {
  if (!calm_ || !calmFor_ || calmFor_->whole != request.whole || calmFor_->area != request.area ||
      calmFor_->assets != request.assets || calmFor_->modelChanges != request.modelChanges ||
      request.detail != ScreenDetail{} || calm_->width() != request.width ||
      calm_->height() != request.height)
    return {};
  Project before = calmFor_->project;
  const Project& now = request.project;
  const Shot& shot = now.shots[request.shot];
  const Shot* was = byId(before.shots, shot.id);
  if (!was) return {};
  // What glows lights the place.
  const auto glows = [](const Surface& s) { return s.emission != Vec3d(0, 0, 0); };
  if (std::any_of(now.surfaces.begin(), now.surfaces.end(), glows) ||
      std::any_of(before.surfaces.begin(), before.surfaces.end(), glows))
    return {};
  const auto index = size_t(was - before.shots.data());
  before.surfaces = now.surfaces;
  for (Product& p : before.products)
    if (const Product* same = byId(now.products, p.id)) p.surfaceOfPart = same->surfaceOfPart;
  if (changes(before, index, now, request.shot).trace) return {};
  const Smaller whole(stage, request, 1);
  Before found{calm_, dressedAnew(calmFor_->project, now, shot, whole.scene, *request.progress)};
  for (size_t i = 0; i < found.changed.size(); ++i)
    if (calm_->alpha.pixels[i] <= 0) found.changed[i] = 0;  // the place stays
  return found;
}

/// Of a set, or what else fills the picture, few samples are there for some seconds: it is shown smaller,
/// with more of them and without their noise, until it is calm at full size.
bool Preview::calmSmaller(const std::shared_ptr<const Stage>& stage, const Request& request, Pace& pace,
                          std::shared_ptr<const Passes>& last, const Merge& merge) {
  constexpr int samples = 4;
  for (const int step : {4, 2}) {
    const Smaller small(*stage, request, step);
    Film film(small.width, small.height, small.scene.lights->groups());
    if (!render(small.scene, film, samples, *request.progress)) return false;
    const auto shot = liveShot(stage->shotId);
    if (!shot) return false;
    const auto begun = Clock::now();
    last = merge(atSize(denoised(film, shot->render.denoise, *request.progress, false, Care::quick),
                        request.width, request.height));
    if (request.progress->cancelled()) return false;
    pace.denoised(Pace::secondsSince(begun));
    offer({stage, last}, request);
  }
  return true;
}

/// What is on the way to the first samples of all: the product alone, at full size, shown as it comes and
/// soon without its noise. The place about it comes at half the size - or, where only parts of products are
/// made of something else, stays as it was, and so do the other parts. `last` is the picture so far.
bool Preview::goAhead(const std::shared_ptr<const Stage>& stage, const Request& request, const Scene& scene,
                      const Before& before, Film& film, Pace& pace, std::shared_ptr<const Passes>& last) {
  if (!last || request.detail.divisor != 1 || !film.window.empty()) return true;
  const bool sameShape = before.picture != nullptr;
  const std::vector<unsigned char> mask = sameShape ? before.changed : aroundProduct(last->alpha, 6);
  const auto around = size_t(std::count(mask.begin(), mask.end(), 1));
  if (around == 0) return sameShape || coarse(stage, request, {2}, last);
  if (around * 4 > mask.size())
    return calmSmaller(stage, request, pace, last,
                       [&](auto now) { return sameShape ? before.dressed(*now) : now; });
  const int most = std::min(sameShape ? 48 : 16, request.project.shots[request.shot].render.samples);
  const double longest = sameShape ? 4 : 0.7;  // seconds; the place is waited for, too
  const auto begun = Clock::now();
  Passes fine;
  int developedAt = 0;
  const auto develop = [&](double strength) {
    const auto from = Clock::now();
    fine = denoised(film, strength, *request.progress, false, Care::quick);
    if (strength > 0) pace.denoised(Pace::secondsSince(from)), developedAt = film.passesAhead;
  };
  const auto present = [&] {
    const auto shot = liveShot(stage->shotId);
    if (!shot || request.progress->cancelled()) return false;
    const bool calm = pace.mayDenoise(film.passesAhead);
    if (calm || (film.passesAhead <= 2 && !sameShape && !pace.isCalm())) {
      develop(calm ? shot->render.denoise : 0);
      if (request.progress->cancelled()) return false;
      offer({.stage = stage, .passes = over(fine, film, last)}, request);
    }
    return Pace::secondsSince(begun) < longest;
  };
  if (!renderAhead(scene, film, mask, most, *request.progress, present)) return false;
  const auto shot = liveShot(stage->shotId);
  if (shot && developedAt < film.passesAhead) develop(shot->render.denoise);
  if (request.progress->cancelled()) return false;
  if (!sameShape)
    return coarse(stage, request, {2}, last, [&](auto place) { return over(fine, film, place); });
  last = over(fine, film, last);
  offer({.stage = stage, .passes = last}, request);
  return true;
}

}  // namespace dusk
