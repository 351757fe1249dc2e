#include "core/proof/shadow_look.h"

#include <tbb/parallel_for.h>

#include "core/base/words.h"
#include "core/light/lights.h"
#include "core/light/sun.h"
#include "core/project/by_id.h"
#include "core/trace/compile.h"
#include "core/trace/sampler.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

constexpr double firstAlong = 0.3,
                 lastAlong = 0.9;  // by the foot the thing hides the sky, its tip has an end
constexpr double pixelBlur = 0.8;  // sigma of a sharp edge in a photo, pixels

/// Something upright of one width, and where its shadow falls.
struct Post {
  Vec3d foot{0, 0, 0}, tip{0, 0, 0};
  double elevationDegrees = 45;
  double lengthM() const { return (tip - foot).length(); }
  double heightM() const { return lengthM() * std::tan(radians(elevationDegrees)); }
  Vec3d at(double share, double acrossM) const {
    const Vec3d along = (tip - foot).normalized();
    return foot + (tip - foot) * share + Vec3d(-along.y, along.x, 0) * acrossM;
  }
  double away(double share) const { return share * lengthM() / std::cos(radians(elevationDegrees)); }
};

/// Metres across that a pixel of the picture shows there.
std::optional<double> pixelM(const Camera& camera, const Post& post, double share) {
  const double step = 0.01 * post.lengthM();
  const auto a = projected(camera, post.at(share, -step)), b = projected(camera, post.at(share, step));
  if (!a || !b || (*a - *b).length() < 1e-6) return {};
  return 2 * step / (*a - *b).length();
}

ShadowRows rowsInPhoto(const Picture& plate, const Camera& camera, const Post& post, double reachM) {
  constexpr int rowCount = 40, steps = 81;
  ShadowRows rows;
  rows.reachM = reachM;
  for (int r = 0; r < rowCount; ++r) {
    const double share = firstAlong + (lastAlong - firstAlong) * r / (rowCount - 1);
    const auto pixel = pixelM(camera, post, share);
    ShadowRows::Row row{post.away(share), pixelBlur * pixel.value_or(0)};
    for (int i = 0; pixel && i < steps; ++i) {
      const auto at = projected(camera, post.at(share, reachM * (2.0 * i / (steps - 1) - 1)));
      if (!at || at->x < 1 || at->y < 1 || at->x >= camera.width - 1 || at->y >= camera.height - 1) break;
      row.light.push_back(plateAt(plate, camera, *at));
    }
    if (int(row.light.size()) == steps) rows.rows.push_back(std::move(row));
  }
  return rows;
}

/// The photo's shadow: once over as wide a strip as it could take, then over one that fits it.
std::optional<ShadowShape> readPhoto(const Picture& plate, const Camera& camera, const Post& post,
                                     ShadowRows& rows) {
  rows = rowsInPhoto(plate, camera, post, 0.45 * post.lengthM());
  auto shape = fitShadow(rows);
  if (!shape) return {};
  const double wide =
      2.5 * (shape->halfWidthM + shape->edgeM(rows.rows[rows.rows.size() / 2])) + std::abs(shape->middleM);
  if (wide > 0.8 * rows.reachM) return fitShadow(rows, true);
  ShadowRows nearer = rowsInPhoto(plate, camera, post, wide);
  if (const auto again = fitShadow(nearer, true)) rows = std::move(nearer), shape = again;
  return shape;
}

struct Draw {
  Vec3f direction;
  Rgb light;  ///< what it adds to level ground
};

std::vector<Draw> drawsAt(const Lights& lights, const Vec3f& point, int count) {
  std::vector<Draw> draws;
  for (int k = 0; k < count; ++k) {
    Sampler sampler(31, 0, 0, uint32_t(k), Sampler::bitsFor(count));
    const Vec2f u = sampler.next2();
    const LightSample s = lights.sample(point, {0, 0, 1}, u, sampler.next1());
    if (s.pdf > 0 && s.direction.z > 0)
      draws.push_back({s.direction, s.radiance() * (s.direction.z / s.pdf / float(count))});
  }
  return draws;
}

/// Whether a post of that half width keeps the light of a direction from a point.
bool hides(const Post& post, double halfWidthM, const Vec3d& point, const Vec3f& towards) {
  const double level = std::hypot(double(towards.x), double(towards.y));
  if (level < 1e-6) return false;
  const double x = double(towards.x) / level, y = double(towards.y) / level;
  const Vec3d to = post.foot - point;
  const double before = to.x * x + to.y * y;
  return before > 0 && std::abs(to.x * y - to.y * x) < halfWidthM &&
         before * double(towards.z) / level < post.heightM();
}

/// What the shot's lights leave on the ground across the shadow of such a post.
ShadowRows rowsOf(const Lights& lights, bool areFar, const Post& post, double halfWidthM,
                  const ShadowRows& like) {
  constexpr int rowCount = 8, steps = 61;
  ShadowRows rows;
  rows.reachM = like.reachM;
  const auto draws = areFar ? drawsAt(lights, toFloat(post.at(0.6, 0)), 4096) : std::vector<Draw>{};
  for (int r = 0; r < rowCount; ++r) {
    const double share = firstAlong + (lastAlong - firstAlong) * r / (rowCount - 1);
    const size_t same = size_t(r) * (like.rows.size() - 1) / (rowCount - 1);
    rows.rows.push_back({post.away(share), like.rows[same].blurM});
    rows.rows.back().light.resize(steps);
  }
  tbb::parallel_for(0, rowCount * steps, [&](int n) {
    const int r = n / steps, i = n % steps;
    const double share = firstAlong + (lastAlong - firstAlong) * r / (rowCount - 1);
    const Vec3d point = post.at(share, rows.offsetM(size_t(i)));
    const auto own = areFar ? std::vector<Draw>{} : drawsAt(lights, toFloat(point), 1024);
    Rgb all(0), kept(0);
    for (const Draw& draw : areFar ? draws : own) {
      all += draw.light;
      if (!hides(post, halfWidthM, point, draw.direction)) kept += draw.light;
    }
    for (int c = 0; c < 3; ++c) rows.rows[size_t(r)].light[size_t(i)][c] = all[c] > 0 ? kept[c] / all[c] : 1;
  });
  return rows;
}

Result<Post> postOf(const Shot& shot, const std::optional<Vec3d>& light) {
  if (!gnomonOf(shot) || !shot.vantage.solved || !hasPlate(shot))
    return Error{words(
        "Needs a photo, a solved vantage and a gnomon: drag from the foot of something upright to the tip "
        "of its shadow.")};
  const auto marked = markedShadow(shot.vantage.camera, *shot.gnomon);
  if (!marked) return Error{words("The gnomon's foot or tip is not on the ground.")};
  Post post{marked->foot, marked->tip};
  if (marked->reading.hasElevation)
    post.elevationDegrees = marked->reading.sun.elevationDegrees;
  else if (light)
    post.elevationDegrees = degrees(std::asin(std::clamp(light->z, 0.0, 1.0)));
  post.elevationDegrees = std::clamp(post.elevationDegrees, 1.0, 85.0);
  return post;
}

/// The same post in the light of the shot: as high, its shadow the other way from that light.
Post inLight(const Post& photo, const Vec3d& light) {
  Post ours = photo;
  const double level = std::hypot(light.x, light.y);
  if (level < 1e-3 || light.z < 0.01) return ours;
  ours.elevationDegrees = std::clamp(degrees(std::asin(std::min(1.0, light.z))), 1.0, 85.0);
  const double length = photo.heightM() / std::tan(radians(ours.elevationDegrees));
  ours.tip = ours.foot - Vec3d(light.x, light.y, 0) * (length / level);
  return ours;
}

/// Besides how sure the photo's is: what things beside it that nobody marked take of the sky.
double allowedEv(const ShadowLook& look) { return 0.4 + 3 * look.photo.leftEv; }

}  // namespace

double ShadowLook::darkerEv() const {
  return std::log2(std::max(1e-4, double(luminance(photo.left))) /
                   std::max(1e-4, double(luminance(ours.left))));
}

double ShadowLook::softer() const {
  return ours.edgeM(ourRows.rows[ourRows.rows.size() / 2]) /
         photo.edgeM(photoRows.rows[photoRows.rows.size() / 2]);
}

double ShadowLook::tintPercent() const {
  double most = 0;
  for (const int c : {0, 2}) {
    const double a = double(ours.left[c] / ours.left[1]), b = double(photo.left[c] / photo.left[1]);
    most = std::max(most, 100 * std::abs(std::log(std::max(1e-4, a) / std::max(1e-4, b))));
  }
  return most;
}

Result<ShadowLook> compareShadowLooks(const Shot& shot, AssetStore& assets) {
  const auto light = mainLight(shot, assets);
  const auto post = postOf(shot, light);
  if (!post) return post.error();
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  ShadowLook look;
  const auto photo = readPhoto(**plate, workingCamera(shot.vantage), *post, look.photoRows);
  if (!photo)
    return Error{
        words("No shadow with two clear edges is found along the gnomon: mark it along its middle, on open "
              "ground.")};
  look.photo = *photo;
  const auto lights = lightsOf(shot, assets);
  const bool areFar =
      shot.surroundings.domeRadiusM <= 0 &&
      std::all_of(shot.lamps.begin(), shot.lamps.end(), [](const Lamp& l) { return !l.on || isDistant(l); });
  look.ourRows =
      rowsOf(*lights, areFar, light ? inLight(*post, *light) : *post, photo->halfWidthM, look.photoRows);
  const auto ours = fitShadow(look.ourRows);
  look.throwsNone = !ours;
  if (ours) {
    look.ours = *ours;
  } else {
    // As good as none: what little is kept from the middle.
    const auto& middle = look.ourRows.rows[look.ourRows.rows.size() / 2].light;
    look.ours.left = middle[middle.size() / 2];
    look.ours.halfWidthM = photo->halfWidthM, look.ours.discDegrees = 90;
  }
  return look;
}

std::vector<Finding> shadowFindings(const ShadowLook& look, const Shot& shot) {
  // Where the shadow is.
  std::optional<Vec2d> at;
  if (const Camera& c = shot.vantage.camera; shot.gnomon && c.width > 0)
    at = Vec2d(shot.gnomon->shadowTip.x / c.width, shot.gnomon->shadowTip.y / c.height);
  const double allowed = allowedEv(look);
  std::vector<Finding> findings;
  findings.push_back({"shadow-darkness",
                      look.throwsNone
                          ? words("this light throws no shadow to speak of, the place has one: darkness")
                          : words("darkness of a shadow by this light against the place's"),
                      look.darkerEv(),
                      -allowed,
                      allowed,
                      "EV",
                      words("Change how strong the sun is against the sky."),
                      "Light",
                      {},
                      at});
  if (look.throwsNone) return findings;
  findings.push_back({"shadow-softness",
                      words("edge width of a shadow by this light over the place's"),
                      look.softer(),
                      0.55,
                      1.8,
                      "x",
                      words("Change how wide the sun looks."),
                      "Light",
                      {},
                      at});
  // Where most of the light is left, its tint says little.
  if (luminance(look.photo.left) < 0.85f)
    findings.push_back({"shadow-colour",
                        words("tint of a shadow by this light against the place's"),
                        look.tintPercent(),
                        0,
                        25,
                        "%",
                        words("Change the colour of the sun or of the sky."),
                        "Light",
                        {},
                        at});
  return findings;
}

namespace {

Lamp* strongestSun(Shot& shot) {
  Lamp* strongest = nullptr;
  for (Lamp& l : shot.lamps)
    if (l.on && isDistant(l) && (!strongest || l.powerEv > strongest->powerEv)) strongest = &l;
  return strongest;
}

/// The irradiance of what faces the sun that the strongest sun lamp, which may not be there yet, would have
/// to give for the shadow to keep as much light as the photo's. What our shadow keeps is the rest of the
/// light.
Rgb wantedOfLamp(const Shot& shot, AssetStore& assets, const ShadowLook& look, const Lamp* lamp,
                 const Vec3d& foot, double height) {
  const Rgb all = lightsOf(shot, assets)->groundIrradiance(toFloat(foot));
  Rgb own = lamp ? lampLight(*lamp) * pif : Rgb(0);
  for (int c = 0; c < 3; ++c) {
    const float rest = all[c] * std::clamp(look.ours.left[c], 0.01f, 1.0f),
                wanted = rest * (1 / std::clamp(look.photo.left[c], 0.01f, 1.0f) - 1);
    own[c] += (wanted - (all[c] - rest)) / float(height);
  }
  return own;
}

}  // namespace

Outcome mendShadow(Shot& shot, AssetStore& assets) {
  const auto first = compareShadowLooks(shot, assets);
  if (!first) return first.error();
  const auto marked = markedShadow(shot.vantage.camera, *shot.gnomon);
  SunAngles at = marked->reading.sun;
  if (!marked->reading.hasElevation) {
    const auto light = mainLight(shot, assets);
    at.elevationDegrees = light ? degrees(std::asin(std::clamp(light->z, -1.0, 1.0))) : 35;
  }
  at.elevationDegrees = std::clamp(at.elevationDegrees, 2.0, 89.0);
  const double height = std::sin(radians(at.elevationDegrees)),
               disc = std::clamp(first->photo.discDegrees, 0.53, 30.0);
  Shot lit = shot;
  if (Lamp* lamp = strongestSun(lit))
    lamp->discDegrees = disc;
  else if (lit.surroundings.sunApart)
    lit.surroundings.sunDiscDegrees = disc;
  // A shadow that is too soft keeps more than it will: so it is looked at again.
  constexpr int looks = 4;
  for (int i = 0; i < looks; ++i) {
    const auto look = compareShadowLooks(lit, assets);
    if (!look) return look.error();
    if (i > 0 && std::abs(look->darkerEv()) < 0.03 && look->tintPercent() < 2) break;
    Lamp* lamp = strongestSun(lit);
    Rgb own = wantedOfLamp(lit, assets, *look, lamp, marked->foot, height);
    if (luminance(own) <= 0.01f) {
      // The panorama's own does by itself, if anything does.
      if (lamp) lamp->on = false;
      const auto alone = compareShadowLooks(lit, assets);
      if (!alone || alone->throwsNone || std::abs(alone->darkerEv()) >= allowedEv(*alone))
        return Error{words(
            "The panorama's own sun is stronger than the photo's was: take a panorama of that hour, or keep "
            "its sun apart and dim the gain.")};
      break;
    }
    if (!lamp) {
      Lamp sun;
      sun.id = freshId(lit.lamps, "lamp"), sun.name = words("Sun"), sun.discDegrees = disc;
      sun.azimuthDegrees = at.azimuthDegrees, sun.elevationDegrees = at.elevationDegrees;
      lit.lamps.push_back(sun);
      lamp = &lit.lamps.back();
    }
    for (int c = 0; c < 3; ++c) own[c] = std::max(own[c], 0.0f);
    setIrradiance(*lamp, own);
  }
  shot = std::move(lit);
  return done();
}

}  // namespace dusk
