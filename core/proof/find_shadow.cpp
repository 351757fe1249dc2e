#include "core/proof/find_shadow.h"

#include <tbb/parallel_for.h>

#include "core/base/median.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

// Along a shadow in shares of the thing's height, from its foot: lights below 8 degrees are not looked for.
constexpr int ways = 360, steps = 140;
constexpr double stepShare = 0.05;
constexpr double faintEv = 0.1;  ///< less is no shadow

/// How far a thing reaches from its middle across or along a direction on the ground.
double halfAcross(const UprightThing& t, const Vec2d& across) {
  const double a = radians(t.turnDegrees);
  const Vec2d x(std::cos(a), std::sin(a)), y(-x.y, x.x);
  return (std::abs(x.dot(across)) * t.widthM.x + std::abs(y.dot(across)) * t.widthM.y) / 2;
}

Vec2d wayOf(double degreesClockwise) {
  const double a = radians(degreesClockwise);
  return {std::sin(a), std::cos(a)};
}

/// The ground about one thing.
class Ground {
 public:
  Ground(const Picture& light, const Camera& camera, const UprightThing& thing)
      : light_(light), camera_(camera), thing_(thing) {}

  /// By how many EV it is darker there than the less bright of both sides; NaN where it is not seen.
  float darker(double way, double awayM) const {
    const Vec2d along = wayOf(way), across(along.y, -along.x);
    const double half = halfAcross(thing_, across), pixel = pixelM(awayM * along),
                 side = half + std::max({0.6 * half, 1.5 * pixel, 0.012 * awayM});
    const float middle = at(awayM * along, 0.5 * half * across);
    const float left = at(awayM * along - side * across, 0.5 * pixel * across),
                right = at(awayM * along + side * across, 0.5 * pixel * across);
    return std::min(left, right) - middle;
  }
  /// Where, to one side (`by` 1 or -1), it is half as bright again as beside the shadow; NaN where that is
  /// not seen, or too far off.
  double edgeM(double way, double awayM, int by) const {
    const Vec2d along = wayOf(way), across = Vec2d(along.y, -along.x) * double(by);
    const double half = halfAcross(thing_, across), pixel = pixelM(awayM * along),
                 most = 3 * half + 4 * pixel + 0.02 * awayM, step = std::max(0.25 * pixel, most / 60);
    const float middle = at(awayM * along, Vec2d(0)), limit = middle + darker(way, awayM) / 2;
    for (double x = 0; x < most; x += step)
      if (const float here = at(awayM * along + x * across, Vec2d(0)); !(here < limit))
        return std::isfinite(here) ? x : std::nan("");
    return std::nan("");
  }
  double pixelAt(double way, double awayM) const { return pixelM(awayM * wayOf(way)); }
  /// How far off its middle a step that way is: they begin where it ends itself.
  double awayM(double way, double step) const {
    return halfAcross(thing_, wayOf(way)) + (step + 0.5) * stepShare * thing_.heightM;
  }
  const UprightThing& thing() const { return thing_; }

 private:
  /// Log luminance of the ground, `off` its foot, the mean of three across; NaN where it is not seen.
  float at(const Vec2d& off, const Vec2d& spread) const {
    float sum = 0;
    for (const double k : {-1.0, 0.0, 1.0}) sum += one(off + spread * k);
    return sum / 3;
  }
  float one(const Vec2d& off) const {
    const Vec3d p = thing_.foot + Vec3d(off.x, off.y, 0);
    if (isHidden(p)) return std::nanf("");
    const auto pixel = projected(camera_, p);
    if (!pixel || pixel->x < 1 || pixel->y < 1 || pixel->x > camera_.width - 1 ||
        pixel->y > camera_.height - 1)
      return std::nanf("");
    return std::log2(std::max(luminance(sampleBilinear(light_, float(pixel->x), float(pixel->y))), 0.0f) +
                     1e-4f);
  }
  /// Behind the thing itself, or within it.
  bool isHidden(const Vec3d& p) const {
    const Vec3d to = camera_.position - p;
    const Vec2d level(to.x, to.y), off = Vec2d(thing_.foot.x - p.x, thing_.foot.y - p.y);
    const double length = level.length();
    if (length < 1e-9) return true;
    const double nearest = off.dot(level) / length;
    if (off.length() < std::min(thing_.widthM.x, thing_.widthM.y) / 2) return true;
    if (nearest <= 0) return false;  // it stands beyond
    const Vec2d aside = off - level * (nearest / length);
    return aside.length() < halfAcross(thing_, Vec2d(level.y, -level.x) / length) &&
           to.z / length * nearest < thing_.heightM;
  }
  double pixelM(const Vec2d& off) const {
    const Vec3d p = thing_.foot + Vec3d(off.x, off.y, 0);
    return std::max(1e-4, camera_.axes.z.dot(p - camera_.position) / camera_.focalPx);
  }

  const Picture& light_;
  const Camera& camera_;
  const UprightThing& thing_;
};

/// What every way round a thing looks like: [way][step], EV darker.
std::vector<float> tableOf(const Ground& ground) {
  std::vector<float> table(size_t(ways * steps));
  tbb::parallel_for(0, ways, [&](int w) {
    for (int s = 0; s < steps; ++s) table[size_t(w * steps + s)] = ground.darker(w, ground.awayM(w, s));
  });
  return table;
}

/// How well the ground that way is in shadow up to a step and open beyond: 1 is plainly so. Negative or NaN:
/// not at all, or not seen.
double shadowed(const float* along, int end) {
  int seen = 0, dark = 0, beyond = 0;
  double sum = 0, squares = 0, after = 0;
  for (int s = 0; s < end; ++s) {
    if (!std::isfinite(along[s])) continue;
    ++seen, dark += along[s] > faintEv;
    const double here = std::clamp(double(along[s]), -0.5, 2.0);
    sum += here, squares += here * here;
  }
  const int more = std::max(3, end / 3);
  for (int s = end + 1; s <= end + more && s < steps; ++s)
    if (std::isfinite(along[s])) after += std::clamp(double(along[s]), -0.3, 1.0), ++beyond;
  if (seen < std::max(4, (end * 3) / 5) || beyond < 2 || dark < 0.85 * seen) return -1;
  // A shadow is about as deep all along; what only happens to be darker is not.
  const double deep = sum / seen, spread = std::sqrt(std::max(0.0, squares / seen - deep * deep));
  return std::min(deep, 1.0) - spread - std::max(0.0, after / beyond) * 1.5;
}

struct Best {
  double score = -1, way = 0;
  int end = 0;
};

/// The best of all ways and lengths: what most things say. Lengths are alike in shares of the heights.
Best bestOf(const std::vector<std::vector<float>>& tables, const std::function<bool(int)>& looks) {
  Best best;
  for (int w = 0; w < ways; ++w) {
    if (!looks(w)) continue;
    for (int end = 5; end < steps - 4; ++end) {
      double sum = 0;
      int things = 0;
      for (const auto& table : tables) {
        const double score = shadowed(&table[size_t(w * steps)], end);
        if (score > faintEv) sum += score, ++things;
      }
      // One that others do not have is worth as much less.
      const double score = sum / double(tables.size()) + 0.02 * things * std::min(1.0, end / 20.0);
      if (things && score > best.score) best = {score, double(w), end};
    }
  }
  return best;
}

double apartDegrees(double a, double b) { return std::abs(wrapDegrees(a - b)); }

/// Whether the dark ground that way is a band about its middle, as wide as the thing (where that is known)
/// all along: tiles and stains are not.
bool isBand(const Ground& ground, double way, double endSteps) {
  const double half = halfAcross(ground.thing(), Vec2d(wayOf(way).y, -wayOf(way).x));
  std::vector<double> widths, lean;
  int looked = 0;
  for (double s = 0.15 * endSteps; s < 0.85 * endSteps; s += std::max(0.35, endSteps / 40)) {
    const double away = ground.awayM(way, s), left = ground.edgeM(way, away, -1),
                 right = ground.edgeM(way, away, 1), pixel = ground.pixelAt(way, away);
    ++looked;
    if (!std::isfinite(left) || !std::isfinite(right)) continue;
    widths.push_back((left + right) / 2 / (half + pixel));
    lean.push_back(std::abs(left - right) / (left + right + pixel));
  }
  if (widths.size() < 6 || int(widths.size()) < 0.75 * looked) return false;
  std::sort(widths.begin(), widths.end());
  const double middle = widths[widths.size() / 2],
               spread = (widths[widths.size() * 17 / 20] - widths[widths.size() * 3 / 20]) / middle;
  return spread < 0.5 && medianInPlace(lean) < 0.3 &&
         (!ground.thing().isWidthKnown || (middle > 0.5 && middle < 1.6));
}

/// Wet and polished ground mirrors a thing straight towards whoever looks: as dark, and no shadow.
bool isMirrored(const UprightThing& thing, const Camera& camera, double way) {
  const Vec3d to = camera.position - thing.foot;
  return apartDegrees(way, degrees(std::atan2(to.x, to.y))) < 8;
}

/// Closer than a degree, and than a step: the way along whose middle it is darkest, then where it ends.
std::optional<FoundShadow> refined(const Ground& ground, const Best& best) {
  const auto deepest = [&](double way, double from, double to) {
    double sum = 0;
    int seen = 0;
    for (double s = from; s < to; s += 0.5)
      if (const float d = ground.darker(way, ground.awayM(way, s)); std::isfinite(d))
        sum += double(d), ++seen;
    return seen ? sum / seen : -1.0;
  };
  // Where it is half as deep as at its best on either side: the middle of those is its own.
  double top = -1, way = best.way;
  for (double w = best.way - 3; w <= best.way + 3; w += 0.1)
    if (const double d = deepest(w, 0.35 * best.end, best.end); d > top) top = d, way = w;
  const auto edge = [&](double by) {
    for (double w = 0; w < 25; w += 0.05)
      if (deepest(way + by * w, 0.35 * best.end, best.end) < top / 2) return w;
    return 0.0;
  };
  way += (edge(1) - edge(-1)) / 2;
  if (!isBand(ground, way, best.end)) return {};
  std::vector<double> inside;
  for (double s = 0.2 * best.end; s < 0.8 * best.end; s += 0.5)
    if (const float d = ground.darker(way, ground.awayM(way, s)); std::isfinite(d))
      inside.push_back(double(d));
  FoundShadow found;
  found.deepEv = inside.empty() ? top : medianInPlace(inside);
  double end = 0.7 * best.end;
  for (; end < steps; end += 0.05) {
    const float d = ground.darker(way, ground.awayM(way, end));
    if (std::isfinite(d) && d < 0.5 * found.deepEv) break;
  }
  // From the foot to where its top's shadow ends, less half the top itself.
  const double length = (end + 0.5) * stepShare * ground.thing().heightM;
  found.azimuthDegrees = wrapDegrees(way + 180);
  found.elevationDegrees = degrees(std::atan2(ground.thing().heightM, length));
  return found;
}

}  // namespace

std::vector<UprightThing> uprightThings(const Shot& shot) {
  std::vector<UprightThing> all;
  if (!shot.vantage.solved) return all;
  const Camera camera = shot.vantage.camera;
  for (const StandIn& s : shot.standIns)
    if (s.on && (s.kind == StandInKind::box || s.kind == StandInKind::cylinder) &&
        std::abs(s.positionM.z) < 0.02) {
      const double across = s.kind == StandInKind::cylinder ? s.sizeM.x : s.sizeM.y;
      all.push_back({s.positionM, s.sizeM.z, {s.sizeM.x, across}, s.turnDegrees});
    }
  const auto add = [&](const Vec2d& foot, const Vec2d& top) {
    const auto stands = levelPoint(camera, foot);
    const auto height = stands ? heightOver(camera, foot, top) : std::nullopt;
    if (!height || *height < 0.03 || (*stands - camera.position).length() > 40) return;
    all.push_back({*stands, *height, Vec2d(0.03 * *height), 0, false});
  };
  for (const HeightReference& h : shot.heightReferences) add(h.foot, h.top);
  for (const Stroke& s : shot.evidence.strokes)
    if (s.run == Run::up && s.points.size() > 1) {
      const auto lower = [](const Vec2d& a, const Vec2d& b) { return a.y < b.y; };
      add(*std::max_element(s.points.begin(), s.points.end(), lower),
          *std::min_element(s.points.begin(), s.points.end(), lower));
    }
  return all;
}

std::optional<FoundShadow> findShadow(const Picture& light, const Camera& solved,
                                      const std::vector<UprightThing>& things) {
  if (things.empty() || solved.focalPx <= 0 || light.empty()) return {};
  const Camera camera = resized(solved, light.width, light.height);
  std::vector<std::vector<float>> tables;
  for (const UprightThing& thing : things) tables.push_back(tableOf(Ground(light, camera, thing)));
  const Best best = bestOf(tables, [](int) { return true; });
  constexpr double least = 0.2, rivals = 0.6;
  if (best.score < least) return {};
  const Best other = bestOf(tables, [&](int w) { return apartDegrees(w, best.way) > 15; });
  if (other.score > rivals * best.score) return {};
  // The one that says it most clearly is marked.
  size_t clearest = 0;
  double clear = -1;
  for (size_t i = 0; i < things.size(); ++i) {
    const double score = shadowed(&tables[i][size_t(int(best.way) * steps)], best.end);
    if (score > clear) clear = score, clearest = i;
  }
  const UprightThing& thing = things[clearest];
  if (isMirrored(thing, camera, best.way)) return {};
  const auto close = refined(Ground(light, camera, thing), best);
  if (!close) return {};
  FoundShadow found = *close;
  const Vec2d way = wayOf(found.azimuthDegrees + 180);
  found.foot = thing.foot, found.top = thing.foot + Vec3d(0, 0, thing.heightM);
  found.tip =
      thing.foot + Vec3d(way.x, way.y, 0) * (thing.heightM / std::tan(radians(found.elevationDegrees)));
  return found;
}

Result<Gnomon> findGnomon(const Shot& shot, AssetStore& assets) {
  const std::vector<UprightThing> things = uprightThings(shot);
  if (things.empty() || !hasPlate(shot))
    return Error{
        words("Nothing upright is known whose shadow could be looked for: draw a stand-in, a height or an "
              "upright stroke down to its foot.")};
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  const auto found = findShadow(**plate, workingCamera(shot.vantage), things);
  if (!found)
    return Error{words("No shadow is clear beside what is known to stand upright: mark one by hand.")};
  // A mark is in pixels of the photo as it was taken.
  const auto pixel = [&](const Vec3d& p) { return projected(shot.vantage.camera, p); };
  const auto base = pixel(found->foot), tip = pixel(found->tip), top = pixel(found->top);
  if (!base || !tip) return Error{words("The shadow that was found ends out of the photo.")};
  return Gnomon{*base, *tip, top};
}

}  // namespace dusk
