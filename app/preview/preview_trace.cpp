// The preview's thread at work: what is made of a request, coarse first.
#include "app/preview/beside.h"
#include "app/preview/blended.h"
#include "app/preview/images.h"
#include "app/preview/preview_state.h"
#include "app/preview/quick_blend.h"
#include "app/preview/screen.h"
#include "core/base/words.h"
#include "core/blend/stack.h"
#include "core/deliver/pass_view.h"
#include "core/deliver/shutter.h"
#include "core/project/blend_edit.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/trace/resized_passes.h"
#include "core/vantage/camera.h"

namespace dusk {

namespace {

Project inOurView(Project project, size_t shot) {
  project.shots[shot].blend.view = BlendSettings{}.view, project.shots[shot].blend.config = {};
  return project;
}

}  // namespace

std::shared_ptr<const Preview::Stage> Preview::prepare(const Request& request,
                                                       const std::shared_ptr<const Stage>& before) {
  const auto asked = request.assets->view(request.project.shots[request.shot].blend);
  std::optional<Project> ours;
  if (!asked) ours = inOurView(request.project, request.shot);
  const Project& project = ours ? *ours : request.project;
  const Shot& shot = project.shots[request.shot];
  const auto view = ours ? request.assets->view(shot.blend) : asked;
  if (!view) return nullptr;
  auto compiled =
      compile(project, request.shot, *request.assets, *request.cache, *request.progress, Models::loaded);
  if (!compiled) return nullptr;
  auto scene = std::make_shared<Scene>(std::move(compiled->scene));
  const QRect& at = request.area;
  if (scene->camera.width > 0)
    scene->camera = cropped(resized(scene->camera, request.whole.width(), request.whole.height()), at.x(),
                            at.y(), at.width(), at.height());
  if (!shot.vantage.solved)  // without a camera nothing can be placed in the photo
    scene->geometry =
        std::make_shared<PlacedGeometry>(request.cache->device(), std::vector<PlacedGeometry::Instance>{});
  auto stage = std::make_shared<Stage>();
  stage->scene = scene, stage->assets = request.assets, stage->notes = std::move(compiled->notes);
  if (!asked) stage->notes.push_back(asked.error().message + words(" It is shown in plain sRGB."));
  stage->whole = request.whole, stage->area = at;
  stage->width = request.width, stage->height = request.height, stage->shotId = shot.id;
  stage->plateFrom = scene->plate, stage->view = viewOnly(shot.blend), stage->asked = request.asked;
  if (before && before->plateFrom == scene->plate && before->view == stage->view &&
      before->whole == stage->whole && before->area == stage->area) {
    stage->plate = before->plate, stage->shownPlate = before->shownPlate, stage->bare = before->bare;
  } else if (scene->plate) {
    auto plate =
        request.assets->plateArea(shot, request.whole.width(), request.whole.height(),
                                  {at.left(), at.top(), at.left() + at.width(), at.top() + at.height()});
    if (!plate) return nullptr;
    stage->plate = std::make_shared<Picture>(std::move(*plate));
    stage->shownPlate = std::make_shared<Picture>(displayed(*stage->plate, **view));
    stage->bare = toImage(*stage->shownPlate);
  }
  if (stage->picture().width() > 0 && stage->plate) takePlate(*scene, stage->plate, shot, *request.assets);
  return stage;
}

std::shared_ptr<const Passes> atSize(Passes from, int width, int height) {
  if (from.width() == width && from.height() == height) return std::make_shared<Passes>(std::move(from));
  from.albedo = from.normal = from.position = from.facing = from.occlusion = {};
  from.groups.clear(), from.covers.clear();
  return std::make_shared<Passes>(resized(from, width, height));
}

void putOver(Passes& to, const Passes& from, int y, int x0, int x1) {
  if (x1 <= x0) return;
  if (!from.reflection.empty() && to.reflection.empty())
    to.reflection = Picture::rgb(to.width(), to.height());
  for (const auto member :
       {&Passes::beauty, &Passes::alpha, &Passes::ratio, &Passes::reflection, &Passes::depth})
    if (const Picture& picture = from.*member; !picture.empty() && !(to.*member).empty())
      std::copy_n(picture.at(x0, y), size_t(x1 - x0) * picture.channels.size(), (to.*member).at(x0, y));
}

Preview::Smaller::Smaller(const Stage& stage, const Request& request, int divisor)
    : width(std::max(8, request.width / divisor)),
      height(std::max(8, request.height / divisor)),
      scene(*stage.scene) {
  if (scene.camera.width > 0) scene.camera = resized(scene.camera, width, height);
}

bool Preview::Smaller::openShutter(const Request& request) {
  constexpr int moments = 24;  // of a film's many: no more are told apart on the way to a calm picture
  if (!request.shutter || scene.camera.width <= 0) return true;
  if (!dusk::openShutter(request.shutter->kept, request.project, request.shot, request.shutter->momentSeconds,
                         *request.assets, *request.cache, scene, *request.progress, moments))
    return false;
  const QRect& at = request.area;
  for (auto& moment : scene.during) {
    Scene then = *moment;
    then.camera = resized(cropped(resized(then.plateCamera, request.whole.width(), request.whole.height()),
                                  at.x(), at.y(), at.width(), at.height()),
                          width, height);
    moment = std::make_shared<const Scene>(std::move(then));
  }
  return true;
}

/// Pictures at an eighth, a quarter and half the size: the first is there before the eye misses it.
bool Preview::coarse(const std::shared_ptr<const Stage>& stage, const Request& request,
                     std::initializer_list<int> steps, std::shared_ptr<const Passes>& last,
                     const Merge& merge) {
  if (stage->scene->geometry->empty()) return true;
  for (const int step : steps) {
    if (step <= request.detail.divisor && last) break;
    const Smaller small(*stage, request, step);
    Film film(small.width, small.height, small.scene.lights->groups());
    const auto begun = Clock::now();
    if (!render(small.scene, film, 1, *request.progress)) return false;
    // The first picture is calmer with two samples, where there is time for that; the last is looked at for a
    // while.
    const bool twice = step == 8 ? Clock::now() - begun < std::chrono::milliseconds(10) : step == 2;
    if (twice && !render(small.scene, film, 2, *request.progress)) return false;
    const double strength = step == 2 ? request.project.shots[request.shot].render.denoise : 0;
    last = merge(atSize(denoised(film, strength, *request.progress, false, Care::quick), request.width,
                        request.height));
    offer({stage, last}, request);
  }
  return !request.progress->cancelled();
}

/// Shows what there is before the film is: it is what is blended anew until then.
void Preview::offer(Latest early, const Request& request) {
  const auto latest = std::make_shared<const Latest>(std::move(early));
  {
    const std::lock_guard lock(mutex_);
    if (request.progress->cancelled()) return;
    latest_ = latest;
  }
  show(*latest);
}

/// What the film has come to, without its noise, as large as the picture; with all passes where those are
/// looked at.
Preview::Latest Preview::developed(Latest latest, const Film& film, double strength, bool all,
                                   const Progress& progress, Care care) const {
  Passes passes = denoised(film, strength, progress, all, care);
  latest.strength = strength;
  latest.byLight = nullptr;
  if (all && film.window.empty() && film.width() == latest.stage->width)
    latest.byLight = std::make_shared<const Passes>(passes);
  latest.named =
      all ? std::make_shared<const std::vector<NamedPass>>(namedPasses(passes, *latest.stage->scene))
          : nullptr;
  auto shown = atSize(std::move(passes), latest.stage->width, latest.stage->height);
  if (latest.coarse) {
    const double s = double(shown->width()) / film.width();
    const auto edge = [s](int v, int limit) { return std::clamp(int(v * s), 0, limit); };
    const int x0 = edge(film.window.x0, shown->width()), x1 = edge(film.window.x1, shown->width());
    auto both = std::make_shared<Passes>(*latest.coarse);
    for (int y = edge(film.window.y0, shown->height()); y < edge(film.window.y1, shown->height()); ++y)
      putOver(*both, *shown, y, x0, x1);
    shown = both;
  }
  if (const PixelArea picture = latest.stage->picture(); picture.width() > 0) {
    auto beyond = std::make_shared<Passes>(*shown);
    beyond->picture = picture;
    shown = std::move(beyond);
  }
  latest.passes = shown;
  return latest;
}

void Preview::refine(const std::shared_ptr<const Stage>& stage, const std::shared_ptr<const Request>& asked,
                     const Before& before, std::shared_ptr<const Passes> coarse) {
  const Request& request = *asked;
  int nextMeasure = stage->scene->geometry->empty() ? 1 : 4;
  auto lastShown = Clock::now();
  const int wanted = request.project.shots[request.shot].render.samples;
  Smaller small(*stage, request, request.detail.divisor);
  if (!small.openShutter(request)) return;
  const auto& [w, h, scene] = small;
  auto film = std::make_shared<Film>(w, h, scene.lights->groups());
  if (const QRectF r = request.detail.region; !r.isEmpty()) {
    // The region is of the whole picture.
    const QSize& whole = request.whole;
    const QRectF in((r.x() * whole.width() - request.area.x()) / request.width,
                    (r.y() * whole.height() - request.area.y()) / request.height,
                    r.width() * whole.width() / request.width, r.height() * whole.height() / request.height);
    const auto edge = [](double v, int limit) { return std::clamp(int(v), 0, limit); };
    film->window = {edge(in.left() * w, w), edge(in.top() * h, h), edge(std::ceil(in.right() * w), w),
                    edge(std::ceil(in.bottom() * h), h)};
  }
  Pace pace;
  if (!goAhead(stage, request, scene, before, *film, pace, coarse)) return;
  const auto outside = film->window.empty() ? nullptr : coarse;
  const auto present = [&](bool last) {
    const int n = film->passesDone;
    const auto shot = liveShot(stage->shotId);
    if (!shot) return false;
    const bool calm = last || pace.mayDenoise(n);
    const double strength = calm ? shot->render.denoise : 0;
    const bool due = Clock::now() - lastShown > std::chrono::milliseconds(browsing_ ? 1500 : 250);
    if (last || (due && (calm || !pace.isCalm())) || (n <= 2 && !pace.isCalm())) {
      Latest made{.stage = stage, .passes = nullptr, .samples = n, .finished = last};
      made.coarse = outside;
      if (last) made.film = film;
      const auto begun = Clock::now();
      auto latest = std::make_shared<Latest>(
          developed(std::move(made), *film, strength, browsing_ || needsAllPasses(shot->blend),
                    *request.progress, last ? Care::thorough : Care::quick));
      if (request.progress->cancelled()) return false;
      if (strength > 0) pace.denoised(Pace::secondsSince(begun));
      if (calm && film->window.empty()) calm_ = latest->passes, calmFor_ = asked;
      {
        const std::lock_guard lock(mutex_);
        if (request.progress->cancelled()) return false;
        latest_ = latest;
      }
      show(*latest);
      lastShown = Clock::now();
    }
    if ((n >= nextMeasure || last) && stage->isWhole()) {
      Latest raw{.stage = stage, .passes = nullptr, .samples = n};
      raw.coarse = outside;
      raw = developed(std::move(raw), *film, 0, false, *request.progress);
      // Once the film is finished they can be made of it again: they are large.
      const auto measured = std::make_shared<Latest>(raw);
      if (last) measured->passes = nullptr, measured->film = film;
      {
        const std::lock_guard lock(mutex_);
        if (request.progress->cancelled()) return false;
        measured_ = measured;
      }
      measure(raw);
      nextMeasure *= 4;
    }
    while (isHeld() && !request.progress->cancelled())
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
    return !request.progress->cancelled();
  };
  // A noise target may be met before the last sample: the end is known only once it is there.
  if (render(scene, *film, wanted, *request.progress,
             [&] { return film->passesDone >= wanted || present(false); }) &&
      !request.progress->cancelled())
    present(true);
}

BlendInput Preview::blendInput(const Latest& latest) const {
  const Stage& stage = *latest.stage;
  const QRect& at = stage.area;
  return {latest.passes,        stage.plate,
          stage.shownPlate,     stage.scene,
          stage.assets,         stage.whole.width(),
          stage.whole.height(), {at.left(), at.top(), at.left() + at.width(), at.top() + at.height()}};
}

/// What a frame is compared with, as large as that; nothing when the frame is outdated.
std::optional<QImage> Preview::otherState(const Compared& other, const Stage& stage, const Shot& shot,
                                          const BlendInput& input, Frame& frame,
                                          const std::function<bool()>& isOutdated) {
  std::optional<QImage> made;
  if (other.of == Compared::Of::plate) {
    made = stage.bare;
  } else if (other.of == Compared::Of::reference) {
    auto laid = referenceOver(*stage.assets, shot.blend.reference, frame.picture, stage.whole, stage.area);
    if (!laid) frame.notes.push_back(laid.error().message);
    made = laid ? *laid : frame.picture;
  } else {
    Shot then = shot;
    then.blend = other.blend;
    // The view stays: the plate came in by it.
    then.blend.view = shot.blend.view, then.blend.config = shot.blend.config;
    std::vector<std::string> ignored;
    const auto blended = blended_->image(Blended::State::other, then, input, **stage.assets->view(stage.view),
                                         {}, ignored, isOutdated);
    if (!blended) return {};
    made = blended->picture;
  }
  return made && other.as == Compared::As::difference ? differenceOf(frame.picture, *made) : made;
}

void Preview::show(const Latest& latest, const Progress* outdated) {
  const uint64_t turn = ++framesBegun_;  // before anything is read that may change
  const Stage& stage = *latest.stage;
  const auto view = stage.assets->view(stage.view);
  if (!view) return;
  const auto frame = std::make_shared<Frame>();
  const std::string wanted = shownPass();
  if (browsing_ && latest.named) {
    frame->named = latest.named;
    for (const NamedPass& pass : *latest.named)
      if (pass.name == wanted) frame->pass = &pass;
  }
  frame->notes = stage.notes;
  const auto shot = liveShot(stage.shotId);
  if (!shot) return;
  if (frame->pass) {
    frame->picture = toImage(dusk::shownPass(*frame->pass, **view));
  } else {
    BlendInput input = blendInput(latest);
    if (latest.byLight) input.passes = latest.byLight;
    const auto isOutdated = [&] { return outdated && outdated->cancelled(); };
    const auto made = blended_->image(Blended::State::present, *shot, input, **view, shownShare(),
                                      frame->notes, isOutdated);
    if (!made) return;
    frame->picture = made->picture, frame->plain = made->plain;
    quick_->fine(made->picture, made->seconds, *shot, input);
    if (const auto other = compared()) {
      const auto beside = otherState(*other, stage, *shot, input, *frame, isOutdated);
      if (!beside) return;
      frame->compared = *other, frame->other = *beside;
    }
    const CodeView codes = codeView(frame->picture);
    if (scopes_)
      frame->scopes = std::make_shared<const Scopes>(
          scopesOf(codes, *latest.passes, *shot, input.wholeWidth, input.wholeHeight, input.area));
    if (ends_) frame->ends = std::make_shared<const std::vector<CodeEnd>>(codeEnds(codes, *latest.passes));
  }
  hand(frame, latest, *shot, turn);
}

/// While the blend is pulled at and takes too long to keep up: what it comes to, less finely. False where the
/// fine picture is there in time, or something is looked at that must be fine.
bool Preview::showQuickly(const Latest& latest, const Progress& outdated) {
  constexpr double rest = 0.4;  // seconds, between two pulls
  const auto now = Clock::now();
  const int step = quick_->step(std::chrono::duration<double>(now - pulledAt_.exchange(now)).count() > rest);
  if (step < 2 || browsing_ || ends_ || compared() || shownShare()) return false;
  const uint64_t turn = ++framesBegun_;
  const Stage& stage = *latest.stage;
  const auto view = stage.assets->view(stage.view);
  const auto shot = liveShot(stage.shotId);
  if (!view || !shot) return false;
  BlendInput input = blendInput(latest);
  if (latest.byLight) input.passes = latest.byLight;
  const auto made = quick_->image(*shot, input, **view, step, [&] { return outdated.cancelled(); });
  if (!made) return true;
  const auto frame = std::make_shared<Frame>();
  frame->picture = *made, frame->quick = true, frame->notes = stage.notes;
  hand(frame, latest, *shot, turn);
  return true;
}

/// The frame with what it is of, unless a later one was handed already.
void Preview::hand(std::shared_ptr<Frame> frame, const Latest& latest, const Shot& shot, uint64_t turn) {
  const Stage& stage = *latest.stage;
  frame->bare = stage.bare.isNull() ? frame->picture : stage.bare;
  frame->scene = stage.scene, frame->passes = latest.passes;
  frame->samples = latest.samples;
  frame->whole = stage.whole, frame->area = stage.area, frame->shotId = stage.shotId;
  frame->wanted = latest.finished ? latest.samples : shot.render.samples;
  frame->secondsSinceEdit = std::chrono::duration<double>(Clock::now() - stage.asked).count();
  for (const QImage* image : {&frame->picture, &frame->plain, &frame->bare, &frame->other})
    screen::shown(*image);
  const std::lock_guard lock(handing_);
  if (turn < lastHanded_) return;
  lastHanded_ = turn, handed_ = frame;
  emit frameReady(frame);
}

}  // namespace dusk
