// The product before the place: it is what people look at while they try things.
#include "app/preview/preview_state.h"
#include "core/project/changes.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"

namespace dusk {
namespace {

/// Where there is any of the product, and so many pixels around; empty where there is none.
std::vector<unsigned char> aroundProduct(const Picture& alpha, int around) {
  const int w = alpha.width, h = alpha.height;
  std::vector<unsigned char> across(alpha.pixels.size()), mask(alpha.pixels.size());
  bool any = false;
  for (int y = 0; y < h; ++y)
    for (int x = 0; x < w; ++x)
      if (alpha.at(x, y)[0] > 0) {
        any = true;
        std::fill(&across[size_t(y) * size_t(w) + size_t(std::max(0, x - around))],
                  &across[size_t(y) * size_t(w) + size_t(std::min(w - 1, x + around))] + 1, 1);
      }
  if (!any) return {};
  for (int y = 0; y < h; ++y)
    for (int v = std::max(0, y - around); v <= std::min(h - 1, y + around); ++v)
      for (int x = 0; x < w; ++x)
        mask[size_t(y) * size_t(w) + size_t(x)] |= across[size_t(v) * size_t(w) + size_t(x)];
  return mask;
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

std::shared_ptr<const Passes> dressed(const Passes& before, const Passes& coarse) {
  auto now = std::make_shared<Passes>(before);
  for (size_t i = 0; i < before.alpha.pixels.size(); ++i) {
    const float alpha = before.alpha.pixels[i], there = coarse.alpha.pixels[i];
    if (alpha > 0 && there > 0)
      for (size_t c = i * 3; c < i * 3 + 3; ++c)
        now->beauty.pixels[c] = coarse.beauty.pixels[c] * alpha / there;
  }
  return now;
}

/// The last calm picture, where the request asks for the same but for what the products are made of: nothing
/// but those need be looked at anew at once.
std::shared_ptr<const Passes> Preview::ofSameShape(const Request& request) const {
  if (!calm_ || !calmFor_ || calmFor_->whole != request.whole || calmFor_->area != request.area ||
      calmFor_->assets != request.assets || calmFor_->modelChanges != request.modelChanges ||
      request.detail != ScreenDetail{} || calm_->width() != request.width ||
      calm_->height() != request.height)
    return nullptr;
  Project before = calmFor_->project;
  const Project& now = request.project;
  const Shot& shot = now.shots[request.shot];
  const Shot* was = byId(before.shots, shot.id);
  if (!was) return nullptr;
  // What glows lights the place.
  const auto glows = [](const Surface& s) { return s.emission != Vec3d(0, 0, 0); };
  if (std::any_of(now.surfaces.begin(), now.surfaces.end(), glows) ||
      std::any_of(before.surfaces.begin(), before.surfaces.end(), glows))
    return nullptr;
  const auto index = size_t(was - before.shots.data());
  before.surfaces = now.surfaces;
  for (Product& p : before.products)
    if (const Product* same = byId(now.products, p.id)) p.surfaceOfPart = same->surfaceOfPart;
  return changes(before, index, now, request.shot).trace ? nullptr : calm_;
}

/// Of a set, or what else fills the picture, few samples are there for some seconds: it is shown smaller,
/// with more of them and without their noise, until it is calm at full size.
bool Preview::calmSmaller(const std::shared_ptr<const Stage>& stage, const Request& request, Pace& pace,
                          std::shared_ptr<const Passes>& last) {
  constexpr int samples = 4;
  for (const int step : {4, 2}) {
    const Smaller small(*stage, request, step);
    Film film(small.width, small.height, small.scene.lights->groups());
    if (!render(small.scene, film, samples, *request.progress)) return false;
    const auto shot = liveShot(stage->shotId);
    if (!shot) return false;
    const auto begun = Clock::now();
    last = atSize(denoised(film, shot->render.denoise, *request.progress, false, Care::quick), request.width,
                  request.height);
    if (request.progress->cancelled()) return false;
    pace.denoised(Pace::secondsSince(begun));
    offer({stage, last}, request);
  }
  return true;
}

/// The first passes of the product alone, at full size, shown as they come and soon without their noise. The
/// place about it stays as it was, where only the product is made of something else; else it comes at half
/// the size. `last` is the picture so far.
bool Preview::goAhead(const std::shared_ptr<const Stage>& stage, const Request& request, const Scene& scene,
                      bool sameShape, Film& film, Pace& pace, std::shared_ptr<const Passes>& last) {
  if (!last || request.detail.divisor != 1 || !film.window.empty()) return true;
  const std::vector<unsigned char> mask = aroundProduct(last->alpha, sameShape ? 0 : 6);
  if (mask.empty()) return coarse(stage, request, {2}, last);
  const auto around = size_t(std::count(mask.begin(), mask.end(), 1));
  if (!sameShape && around * 4 > mask.size()) return calmSmaller(stage, request, pace, last);
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
