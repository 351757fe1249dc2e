#include "app/preview.h"

#include <QtConcurrent>
#include <chrono>

#include "app/images.h"
#include "core/blend/blend.h"
#include "core/deliver/pass_view.h"
#include "core/project/changes.h"
#include "core/trace/denoise.h"
#include "core/trace/render.h"
#include "core/vantage/camera.h"

namespace dusk {

using Clock = std::chrono::steady_clock;

struct Preview::Request {
  Project project;
  size_t shot;
  std::shared_ptr<AssetStore> assets;
  std::shared_ptr<GeometryCache> cache;
  int width, height;
  int refinements = 0;  ///< the models' state
  ScreenDetail detail;
  Clock::time_point asked = Clock::now();
  std::shared_ptr<Progress> progress = std::make_shared<Progress>();
};

/// What is made once per traced state; immutable.
struct Preview::Stage {
  std::shared_ptr<const Scene> scene;
  std::shared_ptr<AssetStore> assets;
  std::vector<std::string> notes;
  int width, height;
  size_t shot;
  std::shared_ptr<const Picture> plateFrom;
  std::string view;
  std::shared_ptr<const Picture> plate, shownPlate;  ///< at screen size
  QImage bare;
  Clock::time_point asked;
};

/// The newest passes and where they came from: enough to blend a picture at any time.
struct Preview::Latest {
  std::shared_ptr<const Stage> stage;
  std::shared_ptr<const Passes> passes;             ///< as large as the screen's picture
  std::shared_ptr<const Passes> byLight = nullptr;  ///< with each light's own; when lights are mixed
  int samples = 0;
  bool finished = false;
  std::shared_ptr<const Film> film = nullptr;      ///< once it is finished
  std::shared_ptr<const Passes> coarse = nullptr;  ///< shown outside the region
  double strength = 0;                             ///< of the denoising in `passes`
  std::shared_ptr<const std::vector<NamedPass>> named = nullptr;
};

Preview::Preview(QObject* parent) : QObject(parent) {
  qRegisterMetaType<std::shared_ptr<const Frame>>();
  qRegisterMetaType<std::shared_ptr<const Proofs>>();
  thread_ = std::thread([this] { run(); });
}

Preview::~Preview() {
  {
    const std::lock_guard lock(mutex_);
    ending_ = true;
    if (running_) running_->progress->cancel();
    if (developing_) developing_->cancel();
  }
  wake_.notify_all();
  thread_.join();
  QThreadPool::globalInstance()->waitForDone();
}

Project Preview::live() const {
  const std::lock_guard lock(mutex_);
  return live_;
}

void Preview::request(const Project& project, size_t shot, std::shared_ptr<AssetStore> assets,
                      std::shared_ptr<GeometryCache> cache, const QSize& size) {
  auto request = std::make_shared<Request>();
  request->project = project, request->shot = shot;
  request->assets = std::move(assets), request->cache = std::move(cache);
  request->refinements = request->assets->refinements();
  request->width = std::max(size.width(), 16), request->height = std::max(size.height(), 16);
  const std::lock_guard lock(mutex_);
  request->detail = detail_;
  live_ = project;
  const auto& now = waiting_ ? waiting_ : running_;
  const bool sameTrace = now && !changes(now->project, project, shot).trace && now->width == request->width &&
                         now->height == request->height && now->assets == request->assets &&
                         now->refinements == request->refinements;
  if (!sameTrace) {
    if (running_) running_->progress->cancel();
    waiting_ = std::move(request);
    wake_.notify_all();
  } else if (latest_) {
    developAgain();
  }
}

void Preview::setPaused(bool paused) { paused_ = paused; }

ScreenDetail Preview::detail() const {
  const std::lock_guard lock(mutex_);
  return detail_;
}

void Preview::setDetail(const ScreenDetail& detail) {
  const std::lock_guard lock(mutex_);
  if (detail == detail_) return;
  detail_ = detail;
  const auto& now = waiting_ ? waiting_ : running_;
  if (!now) return;
  auto again = std::make_shared<Request>(*now);
  again->project = live_, again->detail = detail;
  again->asked = Clock::now(), again->progress = std::make_shared<Progress>();
  if (running_) running_->progress->cancel();
  waiting_ = std::move(again);
  wake_.notify_all();
}

void Preview::browsePasses(bool on) {
  if (browsing_.exchange(on) == on) return;
  const std::lock_guard lock(mutex_);
  if (!on) pass_.clear();
  if (latest_) developAgain();
}

void Preview::showPass(const std::string& name) {
  const std::lock_guard lock(mutex_);
  if (name == pass_) return;
  pass_ = name;
  if (latest_) developAgain();
}

std::string Preview::shownPass() const {
  const std::lock_guard lock(mutex_);
  return pass_;
}

/// Shows what there is as it is wanted now; a finished film is developed anew where its noise is to be taken
/// out otherwise, or its passes are asked for. Called with the mutex held.
void Preview::developAgain() {
  if (developing_) developing_->cancel();
  auto progress = developing_ = std::make_shared<Progress>();
  (void)QtConcurrent::run([this, progress, latest = latest_] {
    const Shot shot = live().shots[latest->stage->shot];
    const double strength = shot.render.denoise;
    const bool stale = strength != latest->strength || (browsing_ && !latest->named) ||
                       (isMixed(shot.blend) && !latest->byLight);
    if (!latest->film || !stale) return show(*latest);
    show(*latest);
    auto anew = std::make_shared<Latest>(
        developed(*latest, *latest->film, strength, browsing_ || isMixed(shot.blend), *progress));
    if (progress->cancelled()) return;
    {
      const std::lock_guard lock(mutex_);
      if (latest_ != latest) return;
      latest_ = anew;
    }
    show(*anew);
  });
}

void Preview::run() {
  for (;;) {
    std::shared_ptr<const Request> request;
    {
      std::unique_lock lock(mutex_);
      wake_.wait(lock, [&] { return ending_ || waiting_; });
      if (ending_) return;
      request = running_ = std::move(waiting_);
      waiting_.reset();
    }
    serve(request);  // `running_` stays: it says what the passes on screen belong to
  }
}

void Preview::serve(const std::shared_ptr<const Request>& request) {
  const auto stage = prepare(*request, prepared_);
  if (!stage) return;
  prepared_ = stage;  // kept also when the trace is cut short: its plate need not be made again
  std::shared_ptr<const Passes> last;
  if (coarse(stage, *request, last)) refine(stage, *request, last);
}

std::shared_ptr<const Preview::Stage> Preview::prepare(const Request& request,
                                                       const std::shared_ptr<const Stage>& before) {
  const Shot& shot = request.project.shots[request.shot];
  const auto view = request.assets->view(shot.blend.view);
  if (!view) return nullptr;
  auto compiled = compile(request.project, request.shot, *request.assets, *request.cache, *request.progress);
  if (!compiled) return nullptr;
  auto scene = std::make_shared<Scene>(std::move(compiled->scene));
  if (scene->camera.width > 0) scene->camera = resized(scene->camera, request.width, request.height);
  if (!shot.vantage.solved)  // without a camera nothing can be placed in the photo
    scene->geometry =
        std::make_shared<PlacedGeometry>(request.cache->device(), std::vector<PlacedGeometry::Instance>{});
  auto stage = std::make_shared<Stage>();
  stage->scene = scene, stage->assets = request.assets, stage->notes = std::move(compiled->notes);
  stage->width = request.width, stage->height = request.height, stage->shot = request.shot;
  stage->plateFrom = scene->plate, stage->view = shot.blend.view, stage->asked = request.asked;
  if (before && before->plateFrom == scene->plate && before->view == stage->view &&
      before->width == stage->width && before->height == stage->height) {
    stage->plate = before->plate, stage->shownPlate = before->shownPlate, stage->bare = before->bare;
  } else if (scene->plate) {
    stage->plate = std::make_shared<Picture>(resized(*scene->plate, request.width, request.height));
    stage->shownPlate = std::make_shared<Picture>(displayed(*stage->plate, **view));
    stage->bare = toImage(*stage->shownPlate);
  }
  return stage;
}

namespace {

/// Coarse passes brought to the picture's size; only what the blend needs.
std::shared_ptr<const Passes> atSize(Passes from, int width, int height) {
  if (from.width() == width && from.height() == height) return std::make_shared<Passes>(std::move(from));
  auto to = std::make_shared<Passes>();
  to->beauty = resized(from.beauty, width, height);
  to->alpha = resized(from.alpha, width, height);
  to->ratio = resized(from.ratio, width, height);
  if (!from.reflection.empty()) to->reflection = resized(from.reflection, width, height);
  // Interpolating between ones must give one, or the whole plate would count as changed.
  for (float& r : to->ratio.pixels)
    if (std::abs(r - 1) < 1e-5f) r = 1;
  return to;
}

}  // namespace

/// Pictures at an eighth, a quarter and half the size: the first is there before the eye misses it.
bool Preview::coarse(const std::shared_ptr<const Stage>& stage, const Request& request,
                     std::shared_ptr<const Passes>& last) {
  if (stage->scene->geometry->empty()) return true;
  for (const int step : {8, 4, 2}) {
    if (step <= request.detail.divisor && last) break;
    Scene scene = *stage->scene;
    const int w = std::max(8, request.width / step), h = std::max(8, request.height / step);
    scene.camera = resized(stage->scene->camera, w, h);
    Film film(w, h, scene.lights->groups());
    const auto begun = Clock::now();
    if (!render(scene, film, 1, *request.progress)) return false;
    // The first picture is calmer with two samples, where there is time for that.
    if (step == 8 && Clock::now() - begun < std::chrono::milliseconds(10) &&
        !render(scene, film, 2, *request.progress))
      return false;
    last = atSize(film.resolve(), request.width, request.height);
    show({stage, last});
  }
  return !request.progress->cancelled();
}

/// What the film has come to, without its noise, as large as the picture; with all passes where those are
/// looked at.
Preview::Latest Preview::developed(Latest latest, const Film& film, double strength, bool all,
                                   const Progress& progress) const {
  Passes passes = denoised(film, strength, progress, all);
  latest.strength = strength;
  latest.byLight = nullptr;
  if (all && film.window.empty() && film.width() == latest.stage->width)
    latest.byLight = std::make_shared<const Passes>(passes);
  latest.named =
      all ? std::make_shared<const std::vector<NamedPass>>(namedPasses(passes, *latest.stage->scene))
          : nullptr;
  auto shown = atSize(std::move(passes), latest.stage->width, latest.stage->height);
  if (latest.coarse && !film.window.empty()) {
    const double s = double(shown->width()) / film.width();
    const auto edge = [s](int v, int limit) { return std::clamp(int(v * s), 0, limit); };
    const int x0 = edge(film.window.x0, shown->width()), x1 = edge(film.window.x1, shown->width());
    auto both = std::make_shared<Passes>(*latest.coarse);
    if (!shown->reflection.empty() && both->reflection.empty())
      both->reflection = Picture::rgb(both->width(), both->height());
    for (int y = edge(film.window.y0, shown->height()); y < edge(film.window.y1, shown->height()); ++y)
      for (const auto member : {&Passes::beauty, &Passes::alpha, &Passes::ratio, &Passes::reflection}) {
        const Picture& from = (*shown).*member;
        if (!from.empty() && x1 > x0)
          std::copy(from.at(x0, y), from.at(x0, y) + size_t(x1 - x0) * from.channels.size(),
                    ((*both).*member).at(x0, y));
      }
    shown = both;
  }
  latest.passes = shown;
  return latest;
}

void Preview::refine(const std::shared_ptr<const Stage>& stage, const Request& request,
                     const std::shared_ptr<const Passes>& coarse) {
  int nextMeasure = stage->scene->geometry->empty() ? 1 : 4;
  auto lastShown = Clock::now();
  const int wanted = request.project.shots[request.shot].render.samples;
  const int w = std::max(8, request.width / request.detail.divisor),
            h = std::max(8, request.height / request.detail.divisor);
  Scene scene = *stage->scene;
  if (scene.camera.width > 0) scene.camera = resized(scene.camera, w, h);
  auto film = std::make_shared<Film>(w, h, scene.lights->groups());
  if (const QRectF r = request.detail.region; !r.isEmpty())
    film->window = {int(r.left() * w), int(r.top() * h), int(std::ceil(r.right() * w)),
                    int(std::ceil(r.bottom() * h))};
  const auto present = [&](bool last) {
    const int n = film->passesDone;
    // The noise is taken out once there is something to tell it by; that takes its time, so seldom.
    const double strength = last || n >= 16 ? live().shots[request.shot].render.denoise : 0;
    if (last || n <= 2 ||
        Clock::now() - lastShown > std::chrono::milliseconds(strength > 0 || browsing_ ? 1500 : 250)) {
      Latest made{.stage = stage, .samples = n, .finished = last};
      made.coarse = coarse;
      if (last) made.film = film;
      auto latest = std::make_shared<Latest>(developed(std::move(made), *film, strength,
                                                       browsing_ || isMixed(live().shots[request.shot].blend),
                                                       *request.progress));
      if (request.progress->cancelled()) return false;
      {
        const std::lock_guard lock(mutex_);
        latest_ = latest;
      }
      show(*latest);
      lastShown = Clock::now();
    }
    if (n >= nextMeasure || last) {
      Latest raw{.stage = stage, .samples = n};
      raw.coarse = coarse;
      measure(developed(std::move(raw), *film, 0, false, *request.progress));
      nextMeasure *= 4;
    }
    while (paused_ && !request.progress->cancelled())
      std::this_thread::sleep_for(std::chrono::milliseconds(20));
    return !request.progress->cancelled();
  };
  // A noise target may be met before the last sample: the end is known only once it is there.
  if (render(scene, *film, wanted, *request.progress,
             [&] { return film->passesDone >= wanted || present(false); }) &&
      !request.progress->cancelled())
    present(true);
}

void Preview::show(const Latest& latest) {
  const Stage& stage = *latest.stage;
  const Project project = live();
  const Shot& shot = project.shots[stage.shot];
  const auto view = stage.assets->view(stage.view);
  if (!view) return;
  auto frame = std::make_shared<Frame>();
  const std::string wanted = shownPass();
  std::shared_ptr<const Passes> passes = latest.passes;
  if (latest.byLight && isMixed(shot.blend))
    passes = std::make_shared<Passes>(mixed(*latest.byLight, shot.blend));
  if (browsing_ && latest.named) {
    frame->named = latest.named;
    for (const NamedPass& pass : *latest.named)
      if (pass.name == wanted) frame->pass = &pass;
  }
  frame->picture = toImage(
      frame->pass ? dusk::shownPass(*frame->pass, **view)
                  : blendForDisplay(shot, *passes, stage.plate.get(), stage.shownPlate.get(), **view));
  frame->bare = stage.bare.isNull() ? frame->picture : stage.bare;
  frame->scene = stage.scene, frame->passes = latest.passes;
  frame->samples = latest.samples;
  frame->wanted = latest.finished ? latest.samples : shot.render.samples;
  frame->notes = stage.notes;
  frame->secondsSinceEdit = std::chrono::duration<double>(Clock::now() - stage.asked).count();
  emit frameReady(frame);
}

void Preview::measure(const Latest& latest) {
  const Stage& stage = *latest.stage;
  const Project project = live();
  const Shot& shot = project.shots[stage.shot];
  auto proofs = std::make_shared<Proofs>();
  proofs->findings = prove(project, stage.shot, *stage.assets, nullptr);
  proofs->shadows = compareShadows(shot, *stage.assets);
  const auto view = stage.assets->view(stage.view);
  if (view && stage.plate && !stage.scene->geometry->empty()) {
    const Passes& passes = *latest.passes;
    const Picture shown = blendForDisplay(shot, passes, stage.plate.get(), stage.shownPlate.get(), **view);
    proofs->edges = compareEdges(shown, passes);
    if (proofs->edges.product) proofs->productEdge = enlarged(shown, proofs->edges.product->at, 9, 6);
    if (proofs->edges.photo) proofs->photoEdge = enlarged(shown, proofs->edges.photo->at, 9, 6);
    if (const auto finding = edgeFinding(proofs->edges)) proofs->findings.push_back(*finding);
    if (const auto cut = catcherFinding(shot, passes)) proofs->findings.push_back(*cut);
  }
  emit proofsReady(proofs);
}

}  // namespace dusk
