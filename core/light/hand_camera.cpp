#include "core/light/hand_camera.h"

#include "core/vantage/camera.h"

namespace dusk {
namespace {

/// From over the origin, the same way.
HandLook lookFromOrigin(const Backdrop& b) {
  const double a = radians(b.azimuthDegrees);
  return {{0, 0, b.cameraHeightM}, {std::sin(a) * b.distanceM, std::cos(a) * b.distanceM, b.aimHeightM}};
}

}  // namespace

Camera handCamera(const Backdrop& b, int width, int height, bool walks) {
  const double focal = focalPxFromMm35(b.focalMm35, width, height);
  if (b.kind == BackdropKind::panorama && !walks) {
    const HandLook look = lookFromOrigin(b);
    return lookAt(width, height, focal, look.position, look.aim);
  }
  const HandLook look = lookOf(b);
  if (!b.uprightsStraight) return lookAt(width, height, focal, look.position, look.aim);
  Camera camera = lookAt(width, height, focal, look.position, {look.aim.x, look.aim.y, look.position.z});
  camera.cy -= focal * (look.position.z - look.aim.z) / b.distanceM;
  return camera;
}

bool walksInPanorama(const Shot& shot) {
  const Surroundings& s = shot.surroundings;
  return shot.backdrop.kind == BackdropKind::panorama && s.captureM && s.domeRadiusM > 0;
}

void setWalls(Shot& shot, double metres) {
  const bool walked = walksInPanorama(shot);
  shot.surroundings.domeRadiusM = metres;
  if (!walked && walksInPanorama(shot)) setLook(shot.backdrop, lookFromOrigin(shot.backdrop));
}

void placeByHand(Shot& shot, int width, int height) {
  Backdrop& b = shot.backdrop;
  Surroundings& s = shot.surroundings;
  const bool walks = walksInPanorama(shot);
  if (walks) {
    constexpr double reach = 0.9;  // of the way to the walls
    HandLook look = lookOf(b);
    const Vec3d off = look.position - *s.captureM;
    if (const double most = reach * s.domeRadiusM; off.length() > most)
      look.position = *s.captureM + off * (most / off.length()), setLook(b, look);
  }
  shot.vantage.camera = handCamera(b, width, height, walks);
  if (b.kind == BackdropKind::panorama && !walks) s.captureM = shot.vantage.camera.position;
}

void setCameraByHand(Shot& shot) {
  const bool photo = shot.backdrop.kind == BackdropKind::photo;
  const int w = photo ? shot.vantage.camera.width : shot.backdrop.width,
            h = photo ? shot.vantage.camera.height : shot.backdrop.height;
  if (w <= 0 || h <= 0) return;
  shot.vantage = {};
  shot.vantage.solved = shot.vantage.locked = true;
  placeByHand(shot, w, h);
}

HandLook lookOf(const Backdrop& b) {
  const double a = radians(b.azimuthDegrees);
  return {{b.aimXM - std::sin(a) * b.distanceM, b.aimYM - std::cos(a) * b.distanceM, b.cameraHeightM},
          {b.aimXM, b.aimYM, b.aimHeightM}};
}

namespace {

/// What both hold of a camera.
constexpr std::pair<double KeptCamera::*, double Backdrop::*> kept[] = {
    {&KeptCamera::focalMm35, &Backdrop::focalMm35},
    {&KeptCamera::cameraHeightM, &Backdrop::cameraHeightM},
    {&KeptCamera::distanceM, &Backdrop::distanceM},
    {&KeptCamera::aimHeightM, &Backdrop::aimHeightM},
    {&KeptCamera::azimuthDegrees, &Backdrop::azimuthDegrees},
    {&KeptCamera::aimXM, &Backdrop::aimXM},
    {&KeptCamera::aimYM, &Backdrop::aimYM}};

}  // namespace

KeptCamera keptOf(const Backdrop& b) {
  KeptCamera camera;
  for (const auto& [to, from] : kept) camera.*to = b.*from;
  camera.uprightsStraight = b.uprightsStraight;
  return camera;
}

void useKept(Backdrop& b, const KeptCamera& camera) {
  for (const auto& [from, to] : kept) b.*to = camera.*from;
  b.uprightsStraight = camera.uprightsStraight;
}

void setLook(Backdrop& b, const HandLook& look) {
  const Vec2d ahead(look.aim.x - look.position.x, look.aim.y - look.position.y);
  b.aimXM = look.aim.x, b.aimYM = look.aim.y, b.aimHeightM = look.aim.z;
  b.cameraHeightM = look.position.z, b.distanceM = std::max(1e-3, ahead.length());
  if (ahead.length() <= 1e-6) return;
  // As near as it gets to what it was: nobody who goes round by keys goes the long way back.
  const double azimuth = degrees(std::atan2(ahead.x, ahead.y));
  b.azimuthDegrees = azimuth + 360 * std::round((b.azimuthDegrees - azimuth) / 360);
}

void turnAbout(Backdrop& b, const Vec3d& point, double rightDegrees, double upDegrees) {
  HandLook look = lookOf(b);
  const Vec3d gaze = (look.aim - look.position).normalized();
  const double now = degrees(std::asin(std::clamp(-gaze.z, -1.0, 1.0)));
  constexpr double steepest = 85;
  const double up = std::clamp(now + upDegrees, -steepest, steepest) - now;
  const Vec3d right = gaze.cross({0, 0, 1}).normalized();
  for (Vec3d* each : {&look.position, &look.aim})
    *each = point + turned(turned(*each - point, right, -radians(up)), {0, 0, 1}, radians(rightDegrees));
  setLook(b, look);
}

void slideBy(Backdrop& b, const Camera& camera, const Vec3d& point, const Vec2d& px) {
  const double depth = std::max(1e-3, camera.axes.z.dot(point - camera.position));
  const Vec3d by = (camera.axes.x * -px.x + Vec3d(0, 0, 1) * px.y) * (depth / camera.focalPx);
  HandLook look = lookOf(b);
  setLook(b, {look.position + by, look.aim + by});
}

void goNearer(Backdrop& b, const Vec3d& point, double factor) {
  const HandLook look = lookOf(b);
  const Vec3d by = (look.position - point) * (factor - 1);
  setLook(b, {look.position + by, look.aim + by});
}

void walk(Backdrop& b, double aheadM, double rightM, double upM) {
  const double a = radians(b.azimuthDegrees);
  const Vec3d by(std::sin(a) * aheadM + std::cos(a) * rightM, std::cos(a) * aheadM - std::sin(a) * rightM,
                 upM);
  const HandLook look = lookOf(b);
  setLook(b, {look.position + by, look.aim + by});
}

void swapLens(Backdrop& b, double focalMm35) {
  const HandLook look = lookOf(b);
  const double factor = focalMm35 / b.focalMm35;
  b.focalMm35 = focalMm35;
  setLook(b, {look.aim + (look.position - look.aim) * factor, look.aim});
}

void lookAtThing(Backdrop& b, const Vec3d& size) {
  const HandLook look = lookOf(b);
  const double focalPx = focalPxFromMm35(b.focalMm35, b.width, b.height), wide = std::hypot(size.x, size.y),
               away = focalPx * std::max(size.z / (0.5 * b.height), wide / (0.5 * b.width)) + wide / 2;
  const Vec3d aim(look.aim.x, look.aim.y, size.z / 2);
  setLook(b, {aim + (look.position - look.aim).normalized() * away, aim});
}

}  // namespace dusk
