#include "core/motion/drop.h"

#include <btBulletDynamicsCommon.h>

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/product/hull.h"
#include "core/product/settle.h"

namespace dusk {
namespace {

constexpr int stepsPerSecond = 480;
constexpr size_t mostTriangles = 300'000;  ///< of another product in the way; larger ones are their hulls

/// What is in the way, and what falls, in units in which that is about one across: the library is made for
/// things of that size.
class Fall {
 public:
  Fall(double size, const DropSettings& settings)
      : unit_(1 / size),
        settings_(settings),
        dispatcher_(&configuration_),
        world_(&dispatcher_, &broadphase_, &solver_, &configuration_) {
    world_.setGravity(btVector3(0, 0, btScalar(-9.80665 * unit_)));
    world_.getSolverInfo().m_numIterations = 60;
  }
  ~Fall() {
    for (int i = world_.getNumCollisionObjects() - 1; i >= 0; --i)
      world_.removeCollisionObject(world_.getCollisionObjectArray()[i]);
  }

  btVector3 units(const Vec3d& metres) const {
    return {btScalar(metres.x * unit_), btScalar(metres.y * unit_), btScalar(metres.z * unit_)};
  }
  void addPlane(double heightM) {
    add(std::make_unique<btStaticPlaneShape>(btVector3(0, 0, 1), btScalar(heightM * unit_)), 0,
        btTransform::getIdentity());
  }
  void add(const StandIn& s) {
    const Vec3d half = s.sizeM / 2;
    std::unique_ptr<btCollisionShape> shape;
    double up = half.z;
    if (s.kind == StandInKind::cylinder)
      shape = std::make_unique<btCylinderShapeZ>(units({half.x, half.x, half.z}));
    else if (s.kind == StandInKind::ball)
      shape = std::make_unique<btSphereShape>(btScalar(half.x * unit_)), up = half.x;
    else if (s.kind == StandInKind::sheet)
      shape = std::make_unique<btBoxShape>(units({half.x, half.y, 0.02 / unit_})), up = -0.02 / unit_;
    else
      shape = std::make_unique<btBoxShape>(units(half));
    const btQuaternion turn(btVector3(0, 0, 1), btScalar(radians(s.turnDegrees))),
        lean(btVector3(1, 0, 0), btScalar(s.kind == StandInKind::sheet ? radians(s.leanDegrees) : 0));
    const btQuaternion both = turn * lean;
    add(std::move(shape), 0, btTransform(both, units(s.positionM) + quatRotate(both, units({0, 0, up}))));
  }
  /// Another product, as it stands.
  void add(const Product& product, const Model& model, const Similarity& world) {
    size_t triangles = 0;
    for (const Part& part : model.parts)
      if (!product.hiddenParts.contains(part.path)) triangles += model.meshOf(part).indices.size() / 3;
    if (triangles == 0) return;
    if (triangles > mostTriangles) {
      add(hullOf(restOf(product, model), world, {0, 0, 0}), 0, btTransform::getIdentity());
      return;
    }
    auto mesh = std::make_unique<btTriangleMesh>();
    for (const Part& part : model.parts) {
      if (product.hiddenParts.contains(part.path)) continue;
      const Similarity place = world.after(movedWithin(product, part).after(part.place));
      const Mesh& m = model.meshOf(part);
      const auto corner = [&](size_t i) { return units(place.point(toDouble(m.positions[m.indices[i]]))); };
      for (size_t t = 0; t + 2 < m.indices.size(); t += 3)
        mesh->addTriangle(corner(t), corner(t + 1), corner(t + 2));
    }
    add(std::make_unique<btBvhTriangleMeshShape>(mesh.get(), true), 0, btTransform::getIdentity());
    meshes_.push_back(std::move(mesh));
  }
  /// What falls; its frame is its centre of mass.
  void addFalling(const Rest& rest, const Similarity& world, const Vec3d& centre) {
    falling_ = add(hullOf(rest, world, centre), 1, btTransform(btQuaternion::getIdentity(), units(centre)));
    falling_->setCcdMotionThreshold(0.02f), falling_->setCcdSweptSphereRadius(0.05f);
    falling_->setSleepingThresholds(0.01f, 0.01f);
    falling_->setDamping(0.02f, 0.06f), falling_->setRollingFriction(0.003f);
    falling_->setSpinningFriction(0.003f);
  }
  void step() { world_.stepSimulation(1.0f / stepsPerSecond, 0, 1.0f / stepsPerSecond); }
  /// Wakes it, and takes away what keeps round things from rolling on for ever.
  void rollOn() {
    falling_->setRollingFriction(0), falling_->setSpinningFriction(0);
    falling_->activate(true);
  }
  bool isAtRest() const { return !falling_->isActive(); }
  Vec3d centre() const {
    const btVector3 at = falling_->getWorldTransform().getOrigin();
    return Vec3d(at.x(), at.y(), at.z()) / unit_;
  }
  Triadd rotation() const {
    const btMatrix3x3 m(falling_->getWorldTransform().getRotation());
    const auto column = [&](int c) {
      const btVector3 v = m.getColumn(c);
      return Vec3d(v.x(), v.y(), v.z());
    };
    return {column(0), column(1), column(2)};
  }

 private:
  std::unique_ptr<btCollisionShape> hullOf(const Rest& rest, const Similarity& world,
                                           const Vec3d& centre) const {
    auto hull = std::make_unique<btConvexHullShape>();
    for (const Vec3f& p : rest.hull) hull->addPoint(units(world.point(toDouble(p)) - centre), false);
    hull->recalcLocalAabb();
    hull->setMargin(0.001f);
    return hull;
  }
  btRigidBody* add(std::unique_ptr<btCollisionShape> shape, btScalar mass, const btTransform& at) {
    btVector3 inertia(0, 0, 0);
    if (mass > 0) shape->calculateLocalInertia(mass, inertia);
    btRigidBody::btRigidBodyConstructionInfo info(mass, nullptr, shape.get(), inertia);
    info.m_startWorldTransform = at;
    info.m_friction = btScalar(std::sqrt(settings_.friction));
    info.m_restitution = btScalar(std::sqrt(settings_.bounce));  // both sides' are multiplied
    bodies_.push_back(std::make_unique<btRigidBody>(info));
    shapes_.push_back(std::move(shape));
    world_.addRigidBody(bodies_.back().get());
    return bodies_.back().get();
  }

  double unit_;
  DropSettings settings_;
  btDefaultCollisionConfiguration configuration_;
  btCollisionDispatcher dispatcher_;
  btDbvtBroadphase broadphase_;
  btSequentialImpulseConstraintSolver solver_;
  btDiscreteDynamicsWorld world_;
  std::vector<std::unique_ptr<btTriangleMesh>> meshes_;
  std::vector<std::unique_ptr<btCollisionShape>> shapes_;
  std::vector<std::unique_ptr<btRigidBody>> bodies_;
  btRigidBody* falling_ = nullptr;
};

/// An angle as near as it gets to another.
double near(double angle, double to) { return angle + 360 * std::round((to - angle) / 360); }

/// What falls, told as placements.
class Faller {
 public:
  Faller(const Shot& shot, const Product& product, const Placement& placement, const Model& model)
      : product_(product),
        start_(placement),
        model_(model),
        rest_(restOf(product, model)),
        planeM_(planeHeightM(shot, placement)),
        world_(worldFromModel(product, placement, model, planeM_)),
        centre_(world_.point(toDouble(rest_.centreOfMass))) {}

  const Rest& rest() const { return rest_; }
  const Similarity& world() const { return world_; }
  const Vec3d& centre() const { return centre_; }
  double planeM() const { return planeM_; }
  /// Turned from its start, its centre of mass there.
  Placement placement(const Triadd& rotation, const Vec3d& centre, const Placement& before) const {
    Placement p = turnedPlacement(product_, start_, model_, rotation);
    const Vec3d is = worldFromModel(product_, p, model_, planeM_).point(toDouble(rest_.centreOfMass));
    p.xM += centre.x - is.x, p.yM += centre.y - is.y, p.liftM += centre.z - is.z;
    p.turnDegrees = near(p.turnDegrees, before.turnDegrees);
    return p;
  }
  double lowM(const Placement& p) const {
    return lowestM(worldFromModel(product_, p, model_, planeM_), rest_);
  }

 private:
  const Product& product_;
  Placement start_;
  const Model& model_;
  Rest rest_;
  double planeM_;
  Similarity world_;
  Vec3d centre_;
};

/// The pose that stands still nearest to one that lies on the plane it fell onto, and how far that is to
/// turn; nothing where it lies on something else.
struct Still {
  Placement placement;
  double turnedDegrees = 0;
};
std::optional<Still> standingStill(const Faller& faller, const Product& product, const Model& model,
                                   const Placement& lies, double sizeM) {
  if (faller.lowM(lies) > faller.planeM() + 0.02 * sizeM) return {};
  Still still{settledPlacement(product, lies, model)};
  const Triadd a = worldFromModel(product, lies, model).rotation,
               b = worldFromModel(product, still.placement, model).rotation;
  const double trace = a.x.dot(b.x) + a.y.dot(b.y) + a.z.dot(b.z);
  still.turnedDegrees = degrees(std::acos(std::clamp((trace - 1) / 2, -1.0, 1.0)));
  still.placement.turnDegrees = near(still.placement.turnDegrees, lies.turnDegrees);
  return still;
}

/// The library calls a body at rest only long after the last motion that can be seen; the last picture is the
/// pose that stands still.
void forgetTrembling(std::vector<Placement>& pictures, double size) {
  constexpr double seenDegrees = 0.1, seenShare = 1e-3;
  if (pictures.size() < 4) return;
  const Placement lies = pictures[pictures.size() - 2];
  const auto isThere = [&](const Placement& p) {
    return Vec3d(p.xM - lies.xM, p.yM - lies.yM, p.liftM - lies.liftM).length() < seenShare * size &&
           std::max({std::abs(p.turnDegrees - lies.turnDegrees), std::abs(p.leanXDegrees - lies.leanXDegrees),
                     std::abs(p.leanYDegrees - lies.leanYDegrees)}) < seenDegrees;
  };
  while (pictures.size() > 2 && isThere(pictures[pictures.size() - 2])) pictures.erase(pictures.end() - 2);
}

}  // namespace

Result<Drop> dropped(const Project& project, size_t index, const Placement& placement,
                     const std::function<std::shared_ptr<const Model>(const Product&)>& modelOf,
                     const DropSettings& settings) {
  const Shot& shot = project.shots[index];
  const Product* product = byId(project.products, placement.productId);
  const auto model = product ? modelOf(*product) : nullptr;
  if (!model) return Error{words("The product is not loaded yet, so it cannot fall. Wait until it shows.")};
  const Faller faller(shot, *product, placement, *model);
  const bool shows = std::any_of(model->parts.begin(), model->parts.end(),
                                 [&](const Part& part) { return !product->hiddenParts.contains(part.path); });
  if (!shows || faller.rest().hull.empty())
    return Error{words("The product has no parts that show, so it cannot fall.")};
  const double size = trueSize(*product, model->box()).length();
  Fall fall(size, settings);
  fall.addPlane(faller.planeM());
  for (const StandIn& s : shot.standIns)
    if (s.on) fall.add(s);
  for (const Placement& other : shot.placements) {
    const Product* of = byId(project.products, other.productId);
    const auto shape = other.id == placement.id || !of ? nullptr : modelOf(*of);
    if (shape) fall.add(*of, *shape, worldFromModel(*of, other, *shape, planeHeightM(shot, other)));
  }
  fall.addFalling(faller.rest(), faller.world(), faller.centre());
  Drop drop;
  drop.pictures.push_back(placement);
  const int rate = shot.motion.picturesPerSecond;
  int steps = 0;
  bool rolledOn = false;
  for (int picture = 1; picture <= settings.mostSeconds * rate && !drop.rests; ++picture) {
    for (; steps < picture * stepsPerSecond / rate; ++steps) fall.step();
    drop.pictures.push_back(faller.placement(fall.rotation(), fall.centre(), drop.pictures.back()));
    if (!fall.isAtRest()) continue;
    const auto still = standingStill(faller, *product, *model, drop.pictures.back(), size);
    // On the very edge of tipping over, what keeps it from rolling would hold it.
    if (still && still->turnedDegrees > 1 && !rolledOn) {
      rolledOn = true, fall.rollOn();
      continue;
    }
    drop.rests = true;
    if (!still) continue;
    drop.tiltedDegrees = still->turnedDegrees;
    if (drop.tiltedDegrees < 5) drop.pictures.back() = still->placement;
  }
  if (drop.rests) forgetTrembling(drop.pictures, size);
  return drop;
}

Result<Drop> droppedFromAbove(const Project& project, size_t index, const Placement& placement,
                              const std::function<std::shared_ptr<const Model>(const Product&)>& modelOf,
                              const DropSettings& settings) {
  constexpr double hardlyM = 0.002;
  auto drop = dropped(project, index, placement, modelOf, settings);
  if (!drop || placement.liftM - drop->pictures.back().liftM > hardlyM) return drop;
  const Product* product = byId(project.products, placement.productId);
  Placement above = placement;
  above.liftM += trueSize(*product, modelOf(*product)->box()).z / 2;
  return dropped(project, index, above, modelOf, settings);
}

void bake(Shot& shot, const Placement& placement, const Drop& drop, double fromSeconds) {
  MotionTrack& track = addTrack(shot.motion, placeOfPlacement(shot, placement.id));
  track.loop = MotionLoop::once;
  std::erase_if(track.keys, [&](const MotionKey& key) { return key.seconds > fromSeconds - 1e-9; });
  const double between = 1.0 / shot.motion.picturesPerSecond;
  for (size_t i = 0; i < drop.pictures.size(); ++i) {
    const Placement& p = drop.pictures[i];
    // A lean by nearly half a turn may be told the other way round in the next picture.
    const Placement& next = drop.pictures[std::min(i + 1, drop.pictures.size() - 1)];
    const bool jumps =
        Vec2d(next.leanXDegrees - p.leanXDegrees, next.leanYDegrees - p.leanYDegrees).length() > 120;
    track.keys.push_back(
        {fromSeconds + double(i) * between, jsonText(valueOf(p)), jumps ? Easing::hold : Easing::even});
  }
  shot.motion.seconds = std::max(shot.motion.seconds, track.keys.back().seconds);
  // The still showed it before it was lifted: it goes on to where it lies.
  if (std::abs(shot.motion.stillAtSeconds - fromSeconds) < between / 2)
    shot.motion.stillAtSeconds = track.keys.back().seconds;
}

}  // namespace dusk
