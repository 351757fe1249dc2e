#include "app/preview/preview.h"

#include "app/jobs/aside.h"
#include "app/preview/blended.h"
#include "app/preview/preview_state.h"
#include "app/preview/quick_blend.h"
#include "app/preview/shadow_watch.h"
#include "core/base/guard.h"
#include "core/base/memory.h"
#include "core/base/words.h"
#include "core/blend/stack.h"
#include "core/project/changes.h"

namespace dusk {

Preview::Preview(QObject* parent)
    : QObject(parent),
      blended_(std::make_unique<Blended>()),
      quick_(std::make_unique<QuickBlend>()),
      shadows_(std::make_unique<ShadowWatch>()) {
  qRegisterMetaType<std::shared_ptr<const Frame>>();
  qRegisterMetaType<std::shared_ptr<const Proofs>>();
  showing_.setMaxThreadCount(3);  // one shows, one that is outdated ends, one measures
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
  showing_.waitForDone();
}

Project Preview::live() const {
  const std::lock_guard lock(mutex_);
  return live_;
}

namespace {

/// Whether what moves while they are open is the same.
bool areAlike(const std::optional<OpenShutter>& a, const std::optional<OpenShutter>& b, size_t shot) {
  if (!a || !b) return !a && !b;
  return a->momentSeconds == b->momentSeconds && a->kept.shots[shot].motion == b->kept.shots[shot].motion &&
         a->kept.axes == b->kept.axes && !changes(a->kept, shot, b->kept, shot).trace;
}

}  // namespace

void Preview::request(const Project& project, size_t shot, std::shared_ptr<AssetStore> assets,
                      std::shared_ptr<GeometryCache> cache, const QSize& size, const QRect& area,
                      const QRect& visible, std::optional<OpenShutter> shutter) {
  auto request = std::make_shared<Request>();
  request->project = project, request->shot = shot;
  request->assets = std::move(assets), request->cache = std::move(cache);
  request->modelChanges = request->assets->modelChanges(), request->shutter = std::move(shutter);
  request->whole = size.expandedTo({16, 16});
  request->area = area.isEmpty() ? QRect(QPoint(0, 0), request->whole) : area;
  request->width = request->area.width(), request->height = request->area.height();
  const std::lock_guard lock(mutex_);
  request->detail = detail_;
  const Shot* was = byId(live_.shots, project.shots[shot].id);
  const Changes since = was ? changes(live_, size_t(was - live_.shots.data()), project, shot) : Changes{};
  live_ = project;
  const auto& now = waiting_ ? waiting_ : running_;
  const bool sameTrace = now && now->project.shots[now->shot].id == project.shots[shot].id &&
                         !changes(now->project, now->shot, project, shot).trace &&
                         areAlike(now->shutter, request->shutter, shot) && now->whole == request->whole &&
                         now->area.contains(visible.isEmpty() ? request->area : visible) &&
                         now->assets == request->assets && now->modelChanges == request->modelChanges;
  if (!sameTrace) {
    if (running_) running_->progress->cancel();
    waiting_ = std::move(request);
    latest_.reset(), measured_.reset();  // of another scene
    wake_.notify_all();
    return;
  }
  if (latest_) developAgain();
  // What is measured against has changed, what is seen has not.
  if (measured_ && since.proofs && !since.blend)
    (void)runAside(&showing_, [this, measured = measured_] {
      tell(guarded(words("measuring the picture"),
                   [&]() -> Outcome { return measureAgain(*measured), done(); }));
    });
}

void Preview::stop() {
  const std::lock_guard lock(mutex_);
  if (running_) running_->progress->cancel();
  if (developing_) developing_->cancel();
  waiting_.reset(), running_.reset(), latest_.reset(), measured_.reset();
  const std::lock_guard handing(handing_);
  handed_.reset();
}

std::shared_ptr<const Frame> Preview::frame() const {
  const std::lock_guard lock(handing_);
  return handed_;
}

bool Preview::leavesRoom() const {
  constexpr int enough = 8;
  const auto newest = frame();
  return isHeld() || !newest || newest->scene->geometry->empty() ||
         newest->samples >= std::min(enough, newest->wanted);
}

void Preview::hold(Hold why, bool on) {
  if (on)
    held_ |= unsigned(why);
  else
    held_ &= ~unsigned(why);
}

std::optional<Shot> Preview::liveShot(const std::string& id) const {
  const std::lock_guard lock(mutex_);
  const Shot* shot = byId(live_.shots, id);
  return shot ? std::optional(*shot) : std::nullopt;
}

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

template <typename T>
void Preview::want(T& now, const T& wanted) {
  const std::lock_guard lock(mutex_);
  if (wanted == now) return;
  now = wanted;
  if (latest_) developAgain();
}

template <typename T>
T Preview::wanted(const T& now) const {
  const std::lock_guard lock(mutex_);
  return now;
}

void Preview::showPass(const std::string& name) { want(pass_, name); }
std::string Preview::shownPass() const { return wanted(pass_); }

void Preview::measureTones(bool scopes, bool ends) {
  const bool hadScopes = scopes_.exchange(scopes), hadEnds = ends_.exchange(ends);
  if (hadScopes == scopes && hadEnds == ends) return;
  const std::lock_guard lock(mutex_);
  if (latest_) developAgain();
}

void Preview::compareWith(const std::optional<Compared>& other) { want(compared_, other); }
std::optional<Compared> Preview::compared() const { return wanted(compared_); }

void Preview::showShare(const std::optional<ShownShare>& share) { want(share_, share); }
std::optional<ShownShare> Preview::shownShare() const { return wanted(share_); }

std::optional<ProductSeen> Preview::productSeen() const {
  const auto latest = wanted(latest_);
  if (!latest || !latest->passes) return {};
  const BlendInput input = blendInput(*latest);
  BlendFrame frame;
  frame.whole = input.area, frame.width = input.wholeWidth, frame.height = input.wholeHeight;
  return dusk::productSeen(*latest->passes, frame);
}

/// Shows what there is as it is wanted now; a finished film is developed anew where its noise is to be taken
/// out otherwise, or its passes are asked for. Called with the mutex held.
void Preview::developAgain() {
  if (developing_) developing_->cancel();
  auto progress = developing_ = std::make_shared<Progress>();
  (void)runAside(&showing_, [this, progress] {
    tell(guarded(words("showing the picture"), [&]() -> Outcome { return developAnew(*progress), done(); }));
  });
}

void Preview::developAnew(const Progress& progress) {
  std::shared_ptr<const Latest> latest;
  {
    const std::lock_guard lock(mutex_);
    latest = latest_;
  }
  if (!latest) return;  // another scene is being traced
  const auto shot = liveShot(latest->stage->shotId);
  if (!shot) return;
  const double strength = shot->render.denoise;
  const bool stale = strength != latest->strength || (browsing_ && !latest->named) ||
                     (needsAllPasses(shot->blend) && !latest->byLight);
  if (showQuickly(*latest, progress)) {
    // The hand goes on: it is shown finely once it rests.
    for (int i = 0; i < 12 && !progress.cancelled(); ++i)
      std::this_thread::sleep_for(std::chrono::milliseconds(5));
    if (progress.cancelled()) return;
  }
  show(*latest, &progress);
  if (!latest->film || !stale) return;
  auto anew = std::make_shared<Latest>(
      developed(*latest, *latest->film, strength, browsing_ || needsAllPasses(shot->blend), progress));
  if (progress.cancelled()) return;
  {
    const std::lock_guard lock(mutex_);
    if (latest_ != latest) return;
    latest_ = anew;
  }
  show(*anew);
}

void Preview::tell(const Outcome& outcome) {
  if (!outcome && outcome.error().kind != ErrorKind::cancelled)
    emit failed(QString::fromStdString(outcome.error().message));
}

void Preview::run() {
  giveWay();
  for (;;) {
    std::shared_ptr<const Request> request;
    {
      std::unique_lock lock(mutex_);
      const auto isAsked = [&] { return ending_ || waiting_; };
      constexpr auto rest = std::chrono::seconds(5);
      if (!wake_.wait_for(lock, rest, isAsked)) {
        // What pictures on their way took is not needed while nobody works.
        lock.unlock();
        giveBackSheets();
        giveBackFreed();
        lock.lock();
        wake_.wait(lock, isAsked);
      }
      if (ending_) return;
      request = running_ = std::move(waiting_);
      waiting_.reset();
    }
    // `running_` stays: it says what the passes on screen belong to.
    tell(guarded(words("making the picture"), [&]() -> Outcome { return serve(request), done(); }));
  }
}

void Preview::serve(const std::shared_ptr<const Request>& request) {
  const auto stage = prepare(*request, prepared_);
  if (!stage) return;
  prepared_ = stage;  // kept also when the trace is cut short: its plate need not be made again
  const Before before = ofSameShape(*request, *stage);
  std::shared_ptr<const Passes> last = before.picture;
  const bool begun = last ? coarse(stage, *request, {8}, last, [&](auto now) { return before.dressed(*now); })
                          : coarse(stage, *request, {8, 4}, last);
  if (begun) refine(stage, request, before, last);
}

}  // namespace dusk
