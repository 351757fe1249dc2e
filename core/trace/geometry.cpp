#include "core/trace/geometry.h"

#include <cstring>

namespace dusk {

namespace {

/// Sharing a mesh pays when the copies would hold more triangles than this; below, one flat scene is faster.
constexpr size_t worthSharing = 20'000;

/// Attaches a mesh as geometry `id`, through `place`; `cutout` may be absent.
void attach(RTCDevice device, RTCScene scene, const Mesh& mesh, const Similarity& place, unsigned id,
            const Cutout* cutout) {
  RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
  // Embree's own buffers: it reads 16 bytes per vertex, past the end of a tight array.
  auto* positions = static_cast<Vec3f*>(rtcSetNewGeometryBuffer(
      geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, sizeof(Vec3f), mesh.positions.size()));
  void* indices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                          3 * sizeof(uint32_t), mesh.triangles());
  if (place == Similarity{})
    std::memcpy(static_cast<void*>(positions), mesh.positions.data(), mesh.positions.size() * sizeof(Vec3f));
  else
    for (size_t i = 0; i < mesh.positions.size(); ++i)
      positions[i] = toFloat(place.point(toDouble(mesh.positions[i])));
  std::memcpy(indices, mesh.indices.data(), mesh.indices.size() * sizeof(uint32_t));
  if (cutout) cutout->cut(geometry);
  rtcCommitGeometry(geometry);
  rtcAttachGeometryByID(scene, geometry, id);
  rtcReleaseGeometry(geometry);
}

RTCScene newScene(RTCDevice device) {
  RTCScene scene = rtcNewScene(device);
  rtcSetSceneFlags(scene, RTC_SCENE_FLAG_ROBUST);
  return scene;
}

}  // namespace

ModelGeometry::ModelGeometry(RTCDevice device, std::shared_ptr<const Model> model,
                             const std::set<std::string>& hidden, const std::set<unsigned>& apart)
    : model_(std::move(model)), shown_(model_->parts.size()), body_(newScene(device)) {
  std::vector<unsigned> shown;
  std::vector<size_t> uses(model_->meshes.size(), 0);
  for (unsigned i = 0; i < model_->parts.size(); ++i) {
    const Part& part = model_->parts[i];
    if (hidden.contains(part.path) || model_->meshOf(part).indices.empty()) continue;
    shown.push_back(i);
    shown_[i] = true;
    ++uses[size_t(part.mesh)];
  }
  for (const unsigned i : shown) {
    const Part& part = model_->parts[i];
    const Mesh& mesh = model_->meshOf(part);
    const Cutout* cutout = nullptr;
    if (auto holes = Cutout::of(*model_, part)) cutout = cutouts_.emplace_back(std::move(holes)).get();
    if (!apart.contains(i) && (uses[size_t(part.mesh)] - 1) * mesh.triangles() < worthSharing) {
      attach(device, body_, mesh, part.place, i, cutout);
      continue;
    }
    RTCScene& scene = scenes_[{part.mesh, cutout ? part.material : -1}];
    if (!scene) {
      scene = newScene(device);
      attach(device, scene, mesh, {}, 0, cutout);
      rtcCommitScene(scene);
    }
    lone_.push_back({i, scene});
  }
  rtcCommitScene(body_);
}

ModelGeometry::~ModelGeometry() {
  rtcReleaseScene(body_);
  for (const auto& [of, scene] : scenes_) rtcReleaseScene(scene);
}

GeometryCache::GeometryCache() : device_(rtcNewDevice(nullptr)) {}

GeometryCache::~GeometryCache() {
  mirrored_.reset(), catchers_.reset(), entries_.clear();
  rtcReleaseDevice(device_);
}

std::shared_ptr<const ModelGeometry> GeometryCache::get(const std::shared_ptr<const Model>& model,
                                                        const std::set<std::string>& hidden,
                                                        const std::set<unsigned>& apart) {
  const std::lock_guard lock(mutex_);
  const auto known = std::find_if(entries_.begin(), entries_.end(), [&](const Entry& entry) {
    return entry.model == model && entry.hidden == hidden && entry.apart == apart;
  });
  if (known != entries_.end()) {
    std::rotate(known, known + 1, entries_.end());
    return entries_.back().geometry;
  }
  entries_.push_back({model, hidden, apart, std::make_shared<ModelGeometry>(device_, model, hidden, apart)});
  forgetUnused();
  return entries_.back().geometry;
}

void GeometryCache::forgetUnused() {
  // A set has dozens of models: those of a scene stay, however many, and some of what was seen before.
  constexpr size_t most = 4'000'000, mostEntries = 200;
  size_t triangles = 0, count = 0;
  for (auto at = entries_.end() - 1; at != entries_.begin();) {
    --at;
    if (at->geometry.use_count() > 1) continue;
    triangles += at->model->triangles();
    if (triangles > most || ++count > mostEntries) at = entries_.erase(at);
  }
}

std::shared_ptr<const ModelShapes> GeometryCache::shapes(const std::shared_ptr<const Model>& model) {
  const std::lock_guard lock(mutex_);
  std::erase_if(shapes_, [](const auto& entry) { return entry.first.expired(); });
  for (const auto& [of, shapes] : shapes_)
    if (of.lock() == model) return shapes;
  auto made = std::make_shared<ModelShapes>(ModelShapes{model->box(), shapesOf(*model)});
  shapes_.emplace_back(model, made);
  return made;
}

std::shared_ptr<const PlacedGeometry> GeometryCache::catchers(std::vector<PlacedInstance> instances) {
  if (instances.empty()) return nullptr;
  const std::lock_guard lock(mutex_);
  if (!catchers_ || catchers_->instances() != instances)
    catchers_ = std::make_shared<PlacedGeometry>(device_, std::move(instances));
  return catchers_;
}

std::shared_ptr<const MirroredSide> GeometryCache::mirroredSide(
    const std::shared_ptr<const Picture>& plate, const Shot& of,
    const std::shared_ptr<const PlacedGeometry>& catchers, const FindMirroredSide& find) {
  {
    const std::lock_guard lock(mutex_);
    if (mirrored_ && mirrored_->plate == plate && mirrored_->of == of && mirrored_->catchers == catchers)
      return mirrored_->side;
  }
  Mirrored made{plate, of, catchers, find()};
  const std::lock_guard lock(mutex_);
  mirrored_ = std::move(made);
  return mirrored_->side;
}

Similarity PlacedGeometry::worldFromMesh(unsigned instance, unsigned part) const {
  const Instance& i = instances_[instance];
  const Similarity& place = i.geometry->model().parts[part].place;
  const auto moved = i.moved.find(part);
  return i.worldFromModel.after(moved == i.moved.end() ? place : moved->second.after(place));
}

PlacedGeometry::PlacedGeometry(RTCDevice device, std::vector<Instance> instances)
    : instances_(std::move(instances)), scene_(newScene(device)) {
  const auto place = [&](RTCScene what, const Similarity& s, Placed entry) {
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_INSTANCE);
    rtcSetGeometryInstancedScene(geometry, what);
    const Vec3f columns[4] = {toFloat(s.rotation.x * s.scale), toFloat(s.rotation.y * s.scale),
                              toFloat(s.rotation.z * s.scale), toFloat(s.shift)};
    rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT3X4_COLUMN_MAJOR, columns);
    rtcCommitGeometry(geometry);
    rtcAttachGeometryByID(scene_, geometry, unsigned(placed_.size()));
    rtcReleaseGeometry(geometry);
    placed_.push_back(entry);
    RTCBounds bounds;
    rtcGetSceneBounds(what, &bounds);
    if (bounds.lower_x > bounds.upper_x) return;  // nothing is shown of it
    Box& box = boxes_.emplace_back();
    for (int corner = 0; corner < 8; ++corner)
      box.add(s.point(Vec3d(double(corner & 1 ? bounds.upper_x : bounds.lower_x),
                            double(corner & 2 ? bounds.upper_y : bounds.lower_y),
                            double(corner & 4 ? bounds.upper_z : bounds.lower_z))));
  };
  for (unsigned i = 0; i < instances_.size(); ++i) {
    const Instance& instance = instances_[i];
    cuts_ = cuts_ || instance.cutBelowM > -1e300;
    const size_t parts = instance.geometry->model().parts.size();
    auto& rotations = rotations_.emplace_back(parts);
    for (unsigned p = 0; p < parts; ++p) {
      const Triadd r = worldFromMesh(i, p).rotation;
      rotations[p] = {toFloat(r.x), toFloat(r.y), toFloat(r.z)};
    }
    place(instance.geometry->body(), instance.worldFromModel, {i, -1});
    for (const ModelGeometry::Lone& lone : instance.geometry->lone())
      place(lone.scene, worldFromMesh(i, lone.part), {i, int(lone.part)});
  }
  rtcCommitScene(scene_);
}

PlacedGeometry::~PlacedGeometry() { rtcReleaseScene(scene_); }

namespace {
RTCRay embreeRay(const Ray& ray, float limit) {
  RTCRay r{};
  r.org_x = ray.origin.x, r.org_y = ray.origin.y, r.org_z = ray.origin.z;
  r.dir_x = ray.direction.x, r.dir_y = ray.direction.y, r.dir_z = ray.direction.z;
  r.tnear = 0, r.tfar = limit, r.mask = ~0u;
  return r;
}
}  // namespace

bool PlacedGeometry::isCutAway(const Ray& ray, const Hit& hit) const {
  const float z = ray.origin.z + ray.direction.z * hit.distance;
  return z < instances_[hit.instance].cutBelowM - 1e-6;
}

namespace {
/// Whether numbers went wrong on the way to a ray: the library ends the program over such a one.
bool leadsNowhere(const Ray& ray, float limit) {
  const Vec3f all = ray.origin + ray.direction;
  return !(std::abs(all.x) + std::abs(all.y) + std::abs(all.z) < 1e15f) || !(limit >= 0);
}
}  // namespace

Hit PlacedGeometry::closest(const Ray& ray, float limit) const {
  if (leadsNowhere(ray, limit)) return {};
  RTCRayHit query{};
  query.ray = embreeRay(ray, limit);
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  for (;;) {
    query.hit.geomID = query.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
    rtcIntersect1(scene_, &context, &query);
    if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID) return {};
    const Placed& placed = placed_[query.hit.instID[0]];
    const Hit hit{
        query.ray.tfar,   placed.instance, placed.part < 0 ? query.hit.geomID : unsigned(placed.part),
        query.hit.primID, query.hit.u,     query.hit.v};
    if (!cuts_ || !isCutAway(ray, hit)) return hit;
    query.ray.tnear = hit.distance + std::max(1e-6f, hit.distance * 1e-6f);
    query.ray.tfar = limit;
  }
}

bool PlacedGeometry::anything(const Ray& ray, float limit) const {
  if (cuts_) return closest(ray, limit).found();
  if (leadsNowhere(ray, limit)) return false;
  RTCRay query = embreeRay(ray, limit);
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcOccluded1(scene_, &context, &query);
  return query.tfar < 0;
}

PlacedGeometry::Detail PlacedGeometry::detail(const Hit& hit) const {
  const Mesh& mesh = instances_[hit.instance].geometry->model().meshOf(partOf(hit));
  const Triadf& rotation = rotations_[hit.instance][hit.part];
  const uint32_t* t = &mesh.indices[size_t(hit.triangle) * 3];
  const Vec3f &a = mesh.positions[t[0]], &b = mesh.positions[t[1]], &c = mesh.positions[t[2]];
  const float w = 1 - hit.u - hit.v;
  const auto world = [&](const Vec3f& n) { return rotation.toWorld(n).normalized(); };
  Detail d;
  d.geometricNormal = world((b - a).cross(c - a));
  const Vec3f n = mesh.normals[t[0]] * w + mesh.normals[t[1]] * hit.u + mesh.normals[t[2]] * hit.v;
  d.normal = n.length2() > 1e-12f ? world(n) : d.geometricNormal;
  d.onMesh = a * w + b * hit.u + c * hit.v;
  if (!mesh.colours.empty())
    d.colour = mesh.colours[t[0]] * w + mesh.colours[t[1]] * hit.u + mesh.colours[t[2]] * hit.v;
  d.worldFromMesh = &rotation;
  if (mesh.uvs.empty()) return d;
  const Vec2f &ua = mesh.uvs[t[0]], &ub = mesh.uvs[t[1]], &uc = mesh.uvs[t[2]];
  d.uv = ua * w + ub * hit.u + uc * hit.v;
  const Vec2f e = ub - ua, f = uc - ua;
  if (const float area = e.x * f.y - e.y * f.x; area != 0) {
    const float sign = area > 0 ? 1.0f : -1.0f;
    const Vec3f u = ((b - a) * f.y - (c - a) * e.y) * sign, v = ((c - a) * e.x - (b - a) * f.x) * sign;
    d.alongU = world(u), d.alongV = world(v);
    d.perUv = Vec2f(u.length(), v.length()) / std::abs(area);
  }
  return d;
}

}  // namespace dusk
