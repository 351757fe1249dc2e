#include "app/window/variant_pictures.h"

#include "app/jobs/jobs.h"
#include "app/preview/images.h"
#include "app/preview/preview.h"
#include "core/base/words.h"
#include "core/deliver/thumbnail.h"
#include "core/motion/at.h"
#include "core/proof/prove.h"

namespace dusk {
namespace {

constexpr const char* jobKey = "variant picture";
constexpr int width = 288, height = 192;

/// What one look at a variant came to.
struct LookedAt {
  std::shared_ptr<const Project> shown;
  std::optional<QImage> image;  ///< none: it is as it was drawn
  std::optional<ProductSeen> seen{};
  std::optional<QStringList> off{};  ///< none: the document is as it was
};

/// What is off before anything is rendered.
QStringList whatIsOff(const Project& project, size_t shot, AssetStore& assets) {
  QStringList off;
  for (const std::string& remark : remarksOf(prove(project, shot, assets, nullptr, Models::loaded)))
    off += QString::fromStdString(remark);
  return off;
}

}  // namespace

VariantPictures::VariantPictures(Session& session, Jobs& jobs, const Preview& preview, QObject* parent)
    : QObject(parent), session_(session), jobs_(jobs), preview_(preview) {
  later_.setSingleShot(true);
  later_.setInterval(900);
  connect(&later_, &QTimer::timeout, this, &VariantPictures::drawNext);
  connect(&session_, &Session::changed, this, &VariantPictures::lookAgain);
  connect(&session_, &Session::assetsChanged, this, [this] {
    ++state_;
    for (auto& [key, drawn] : drawn_) drawn.of.reset();  // what it was made of has become finer
    later_.start();
  });
  const auto forget = [this] { drawn_.clear(), ++state_; };
  connect(&session_, &Session::documentChanged, this, forget);
  connect(&session_, &Session::shotChanged, this, forget);
}

std::string VariantPictures::keyOf(const VariantChoice& choice) const {
  std::string key;
  for (const VariantAxis& axis : session_.base().axes)
    if (const VariantOption* option = chosenOf(axis, choice)) key += option->id + " ";
  return key;
}

const VariantPictures::Drawn* VariantPictures::find(const VariantChoice& choice) const {
  const auto at = drawn_.find(keyOf(choice));
  return at == drawn_.end() ? nullptr : &at->second;
}

QImage VariantPictures::of(const VariantChoice& choice) const {
  const Drawn* drawn = find(choice);
  return drawn ? drawn->image : QImage();
}

QStringList VariantPictures::offIn(const VariantChoice& choice) const {
  const Drawn* drawn = find(choice);
  return drawn ? drawn->off : QStringList();
}

QRectF VariantPictures::about(const std::vector<VariantChoice>& choices) const {
  constexpr double roundIt = 1.5, least = 0.2;
  QRectF box;
  for (const VariantChoice& choice : choices)
    if (const Drawn* drawn = find(choice); drawn && drawn->seen) {
      const ProductSeen& seen = *drawn->seen;
      box |= QRectF(QPointF(seen.from.x, seen.from.y), QPointF(seen.to.x, seen.to.y));
    }
  if (box.isNull()) return {0, 0, 1, 1};
  const double side = std::clamp(roundIt * std::max(box.width(), box.height()), least, 1.0);
  const auto begin = [&](double middle) { return std::clamp(middle - side / 2, 0.0, 1 - side); };
  return {begin(box.center().x()), begin(box.center().y()), side, side};
}

void VariantPictures::want(const QObject* whom, std::vector<VariantChoice> choices) {
  if (choices.empty())
    wanted_.erase(whom);
  else
    wanted_[whom] = std::move(choices);
  if (!wanted_.empty() && !later_.isActive()) later_.start(150);
}

/// What an edit leaves as it was is found out beside the interface, and not drawn again.
void VariantPictures::lookAgain() {
  ++state_;
  if (!wanted_.empty()) later_.start(900);
}

void VariantPictures::drawNext() {
  if (jobs_.isRunning(jobKey)) return;
  if (!preview_.leavesRoom()) return later_.start(300);
  for (const auto& [whom, choices] : wanted_)
    for (const VariantChoice& choice : choices) {
      const std::string key = keyOf(choice);
      if (drawn_[key].state == state_) continue;
      auto base = std::make_shared<Project>(session_.base());
      const size_t shot = session_.shotIndex();
      base->shots[shot].choice = choice;
      jobs_.run<LookedAt>(
          {words("Drawing a variant"), jobKey, Lane::incoming, true},
          [base, shot, was = drawn_[key].of, assets = session_.assets(),
           cache = session_.geometry()](Progress& progress) -> Result<LookedAt> {
            LookedAt look{std::make_shared<const Project>(asStill(*base, shot)), {}};
            if (!was || *was != *look.shown) look.off = whatIsOff(*look.shown, shot, *assets);
            if (was && !changes(*was, *look.shown, shot).blend) return look;
            const auto made = thumbnailOf(*look.shown, shot, *assets, *cache, width, height, progress);
            if (!made) return made.error();
            look.image = toImage(made->codes), look.seen = made->seen;
            return look;
          },
          [this, key, state = state_](LookedAt& look) {
            Drawn& drawn = drawn_[key];
            const bool isNews = look.image || look.off;
            drawn.of = look.shown, drawn.state = state;
            if (look.off) drawn.off = *look.off;
            if (look.image) drawn.image = *look.image, drawn.seen = look.seen;
            if (isNews) emit this->drawn();
            later_.start(20);
          },
          // Remembered: there is nothing to try again before something changes.
          [this, key, state = state_](const Error&) {
            drawn_[key].state = state;
            later_.start(20);
          });
      return;
    }
}

}  // namespace dusk
