#pragma once
#include <QImage>
#include <QObject>
#include <QRectF>
#include <QSize>
#include <QThreadPool>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <thread>

#include "app/preview/shown_share.h"
#include "core/blend/scopes.h"
#include "core/deliver/pass_list.h"
#include "core/project/blend_edit.h"
#include "core/proof/prove.h"
#include "core/proof/shadow_look.h"
#include "core/trace/compile.h"
#include "core/trace/denoise.h"
#include "core/trace/film.h"

namespace dusk {

class Blended;
class QuickBlend;
class ShadowWatch;
struct BlendInput;

/// Another state of the blend beside the present one.
struct Compared {
  enum class As { curtain, difference, beside, over };
  enum class Of { blend, plate, reference };
  As as = As::curtain;
  Of of = Of::blend;
  BlendSettings blend{};
  QString name{};
  bool operator==(const Compared&) const = default;
};

/// One state of the picture on screen.
struct Frame {
  QImage picture, bare;  ///< with the product, and the plate alone, display code values
  QImage plain;          ///< the picture with a share of the blend made plain; null: none is asked for
  QImage other;          ///< what it is compared with, as large; none: with nothing
  std::shared_ptr<const std::vector<CodeEnd>> ends;  ///< [pixel], where they are asked for
  std::shared_ptr<const Scopes> scopes;              ///< where they are asked for
  Compared compared;
  bool quick = false;  ///< made at a share of its size, to keep up with a hand; the fine one follows
  QSize whole;         ///< of all of the picture, of which `picture` shows `area`
  QRect area;          ///< may go beyond its border, where there is no photo
  bool isWhole() const { return area.contains(QRect(QPoint(0, 0), whole)); }
  /// Where a place of the picture, in shares of its size, lies in what is shown, in shares of that.
  Vec2d inArea(const Vec2d& share) const {
    return {(share.x * whole.width() - area.x()) / area.width(),
            (share.y * whole.height() - area.y()) / area.height()};
  }
  std::string shotId;
  std::shared_ptr<const Scene> scene;
  std::shared_ptr<const Passes> passes;  ///< may be coarser than the picture
  int samples = 0, wanted = 0;           ///< 0 while still coarse
  double secondsSinceEdit = 0;
  std::vector<std::string> notes;
  /// While passes are looked at: all of them, and the one shown; none shown: the picture.
  std::shared_ptr<const std::vector<NamedPass>> named;
  const NamedPass* pass = nullptr;
};

/// How much of the picture is traced for the screen.
struct ScreenDetail {
  int divisor = 1;  ///< of the picture's size: 1, 2 or 4
  QRectF region{};  ///< as shares of the picture; null: all of it. Outside, it stays coarse.
  bool operator==(const ScreenDetail&) const = default;
};

/// Of a film's picture: what moves while the shutter is open is blurred.
struct OpenShutter {
  Project kept;  ///< the document, of which what is shown is a moment
  double momentSeconds = 0;
};

/// What the proof strip shows, measured on one frame.
struct Proofs {
  std::vector<Finding> findings;
  /// By id; nullptr when that check could not be made.
  const Finding* find(const std::string& id) const { return byId(findings, id); }
  ShadowComparison shadows;
  EdgeComparison edges;
  std::shared_ptr<const ShadowLook> shadow;  ///< where a gnomon marks one
  std::string shotId;
  QImage productEdge, photoEdge;  ///< small crops around them, enlarged
};

/// Renders the shot for the screen on a thread of its own: coarse first, then finer, then sample after
/// sample. A request that changes what is traced ends the old one at once; one that only changes the blend is
/// shown from the passes there are, while the tracing goes on.
class Preview : public QObject {
  Q_OBJECT
 public:
  explicit Preview(QObject* parent = nullptr);
  ~Preview() override;

  /// `size` in device pixels of the whole picture, of which only `area` is made; where what is there already
  /// covers `visible`, that is enough. Null: all of it. The coarse pictures are as with a shut `shutter`.
  void request(const Project& project, size_t shot, std::shared_ptr<AssetStore> assets,
               std::shared_ptr<GeometryCache> cache, const QSize& size, const QRect& area = {},
               const QRect& visible = {}, std::optional<OpenShutter> shutter = {});
  /// Ends what is being traced, and forgets it.
  void stop();
  /// Why the tracing is held: it was asked for, both cores are wanted elsewhere, or nobody sees the picture.
  /// It is for as long as there is any reason; edits are still followed, as far as a first picture.
  enum class Hold : unsigned { asked = 1, delivery = 2, unseen = 4 };
  void hold(Hold why, bool on);
  bool isHeld() const { return held_ != 0; }
  void setDetail(const ScreenDetail& detail);
  ScreenDetail detail() const;
  /// Whether frames bring all passes, which takes memory and some time.
  void browsePasses(bool on);
  /// Shows one pass in place of the picture; empty: the picture.
  void showPass(const std::string& name);
  std::string shownPass() const;
  /// Frames bring another state along; nothing: no more.
  void compareWith(const std::optional<Compared>& other);
  std::optional<Compared> compared() const;
  /// Frames make plain what masks or a cut-out take; nothing: no more.
  void showShare(const std::optional<ShownShare>& share);
  std::optional<ShownShare> shownShare() const;
  /// The newest frame; nullptr: none, or nothing is shown any more.
  std::shared_ptr<const Frame> frame() const;
  /// Whether the newest picture has come so far that others may be drawn beside it: it is waited for first.
  bool leavesRoom() const;
  /// Where the newest picture shows the product; nothing when it does not.
  std::optional<ProductSeen> productSeen() const;
  /// Frames bring their scopes along, and where codes end.
  void measureTones(bool scopes, bool ends);

 signals:
  void frameReady(const std::shared_ptr<const dusk::Frame>& frame);
  void proofsReady(const std::shared_ptr<const dusk::Proofs>& proofs);
  /// The picture cannot be made.
  void failed(const QString& why);

 private:
  struct Request;
  struct Stage;
  struct Smaller;
  struct Before;
  struct Latest;
  class Pace;
  void run();
  void serve(const std::shared_ptr<const Request>& request);
  std::shared_ptr<const Stage> prepare(const Request& request, const std::shared_ptr<const Stage>& before);
  using Merge = std::function<std::shared_ptr<const Passes>(std::shared_ptr<const Passes>)>;
  bool coarse(
      const std::shared_ptr<const Stage>& stage, const Request& request, std::initializer_list<int> steps,
      std::shared_ptr<const Passes>& last, const Merge& merge = [](auto passes) { return passes; });
  bool calmSmaller(const std::shared_ptr<const Stage>& stage, const Request& request, Pace& pace,
                   std::shared_ptr<const Passes>& last, const Merge& merge);
  bool goAhead(const std::shared_ptr<const Stage>& stage, const Request& request, const Scene& scene,
               const Before& before, Film& film, Pace& pace, std::shared_ptr<const Passes>& last);
  Before ofSameShape(const Request& request, const Stage& stage) const;
  void refine(const std::shared_ptr<const Stage>& stage, const std::shared_ptr<const Request>& asked,
              const Before& before, std::shared_ptr<const Passes> last);
  Latest developed(Latest latest, const Film& film, double strength, bool all, const Progress& progress,
                   Care care = Care::thorough) const;
  void developAgain();
  void developAnew(const Progress& progress);
  void tell(const Outcome& outcome);
  /// Takes over what is wanted of frames, and shows it where that is another.
  template <typename T>
  void want(T& now, const T& wanted);
  template <typename T>
  T wanted(const T& now) const;
  void offer(Latest early, const Request& request);
  void show(const Latest& latest, const Progress* outdated = nullptr);
  bool showQuickly(const Latest& latest, const Progress& outdated);
  void hand(std::shared_ptr<Frame> frame, const Latest& latest, const Shot& shot, uint64_t turn);
  BlendInput blendInput(const Latest& latest) const;
  std::optional<QImage> otherState(const Compared& other, const Stage& stage, const Shot& shot,
                                   const BlendInput& input, Frame& frame,
                                   const std::function<bool()>& isOutdated);
  void measure(const Latest& latest);
  void measurePicture(const Latest& latest, const Project& project, const Shot& shot, Proofs& proofs);
  /// The same of what was measured before, made of its film again where its passes are not held.
  void measureAgain(const Latest& measured);
  /// As they are shown once it is finished; nullptr until then, or when it is another stage's turn.
  std::shared_ptr<const Passes> finishedPasses(const Stage& stage) const;
  Project live() const;
  /// The shot as it is now, by its id; nothing when it is gone.
  std::optional<Shot> liveShot(const std::string& id) const;

  const std::unique_ptr<Blended> blended_;
  const std::unique_ptr<QuickBlend> quick_;
  const std::unique_ptr<ShadowWatch> shadows_;
  mutable std::mutex mutex_;
  std::condition_variable wake_;
  std::shared_ptr<const Request> waiting_, running_;
  std::shared_ptr<const Latest> latest_, measured_;
  // The thread's own: what was made last, and the last calm picture with what it was asked by.
  std::shared_ptr<const Stage> prepared_;
  std::shared_ptr<const Request> calmFor_;
  std::shared_ptr<const Passes> calm_;
  std::shared_ptr<Progress> developing_;
  Project live_;  ///< the project whose blend is shown; its traced part is the running request's
  ScreenDetail detail_;
  std::string pass_;
  std::optional<Compared> compared_;
  std::optional<ShownShare> share_;
  std::atomic<unsigned> held_{0};  ///< by which reasons
  std::atomic<bool> browsing_{false}, scopes_{false}, ends_{false};
  std::atomic<std::chrono::steady_clock::time_point> pulledAt_{};
  // Frames are made by several threads: none may come after one that was begun later.
  std::atomic<uint64_t> framesBegun_{0};
  mutable std::mutex handing_;
  uint64_t lastHanded_ = 0;
  std::shared_ptr<const Frame> handed_;
  bool ending_ = false;
  QThreadPool showing_;  ///< its own: traced swatches and plans are not to be waited for
  std::thread thread_;
};

}  // namespace dusk

Q_DECLARE_METATYPE(std::shared_ptr<const dusk::Frame>)
Q_DECLARE_METATYPE(std::shared_ptr<const dusk::Proofs>)
