#include "core/trace/geometry.h"

#include <cstring>

namespace dusk {

ModelGeometry::ModelGeometry(RTCDevice device, std::shared_ptr<const Model> model,
                             const std::set<std::string>& hidden)
    : model_(std::move(model)), scene_(rtcNewScene(device)) {
  rtcSetSceneFlags(scene_, RTC_SCENE_FLAG_ROBUST);
  for (size_t i = 0; i < model_->parts.size(); ++i) {
    const Part& part = model_->parts[i];
    if (hidden.contains(part.path) || part.mesh.indices.empty()) continue;
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    // Embree's own buffers: it reads 16 bytes per vertex, past the end of a tight array.
    void* positions = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                                              sizeof(Vec3f), part.mesh.positions.size());
    void* indices = rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                                            3 * sizeof(uint32_t), part.mesh.triangles());
    std::memcpy(positions, part.mesh.positions.data(), part.mesh.positions.size() * sizeof(Vec3f));
    std::memcpy(indices, part.mesh.indices.data(), part.mesh.indices.size() * sizeof(uint32_t));
    rtcCommitGeometry(geometry);
    rtcAttachGeometryByID(scene_, geometry, unsigned(i));
    rtcReleaseGeometry(geometry);
  }
  rtcCommitScene(scene_);
}

GeometryCache::GeometryCache() : device_(rtcNewDevice(nullptr)) {}

GeometryCache::~GeometryCache() {
  entries_.clear();
  rtcReleaseDevice(device_);
}

std::shared_ptr<const ModelGeometry> GeometryCache::get(const std::shared_ptr<const Model>& model,
                                                        const std::set<std::string>& hidden) {
  const std::lock_guard lock(mutex_);
  for (const Entry& entry : entries_)
    if (entry.model == model && entry.hidden == hidden) return entry.geometry;
  if (entries_.size() >= 8) entries_.erase(entries_.begin());
  entries_.push_back({model, hidden, std::make_shared<ModelGeometry>(device_, model, hidden)});
  return entries_.back().geometry;
}

PlacedGeometry::PlacedGeometry(RTCDevice device, std::vector<Instance> instances)
    : instances_(std::move(instances)), scene_(rtcNewScene(device)) {
  rtcSetSceneFlags(scene_, RTC_SCENE_FLAG_ROBUST);
  for (size_t i = 0; i < instances_.size(); ++i) {
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_INSTANCE);
    rtcSetGeometryInstancedScene(geometry, instances_[i].geometry->scene());
    const Similarity& s = instances_[i].worldFromModel;
    const Vec3f columns[4] = {toFloat(s.rotation.x * s.scale), toFloat(s.rotation.y * s.scale),
                              toFloat(s.rotation.z * s.scale), toFloat(s.shift)};
    rtcSetGeometryTransform(geometry, 0, RTC_FORMAT_FLOAT3X4_COLUMN_MAJOR, columns);
    rtcCommitGeometry(geometry);
    rtcAttachGeometryByID(scene_, geometry, unsigned(i));
    rtcReleaseGeometry(geometry);
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

Hit PlacedGeometry::closest(const Ray& ray, float limit) const {
  RTCRayHit query{};
  query.ray = embreeRay(ray, limit);
  query.hit.geomID = query.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcIntersect1(scene_, &context, &query);
  if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID) return {};
  return {query.ray.tfar, query.hit.instID[0], query.hit.geomID, query.hit.primID, query.hit.u, query.hit.v};
}

bool PlacedGeometry::anything(const Ray& ray, float limit) const {
  RTCRay query = embreeRay(ray, limit);
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcOccluded1(scene_, &context, &query);
  return query.tfar < 0;
}

PlacedGeometry::Detail PlacedGeometry::detail(const Hit& hit) const {
  const Instance& instance = instances_[hit.instance];
  const Mesh& mesh = instance.geometry->model().parts[hit.part].mesh;
  const uint32_t* t = &mesh.indices[size_t(hit.triangle) * 3];
  const Vec3f &a = mesh.positions[t[0]], &b = mesh.positions[t[1]], &c = mesh.positions[t[2]];
  const float w = 1 - hit.u - hit.v;
  const auto world = [&](const Vec3f& n) {
    return toFloat(instance.worldFromModel.direction(toDouble(n))).normalized();
  };
  Detail d;
  d.geometricNormal = world((b - a).cross(c - a));
  const Vec3f n = mesh.normals[t[0]] * w + mesh.normals[t[1]] * hit.u + mesh.normals[t[2]] * hit.v;
  d.normal = n.length2() > 1e-12f ? world(n) : d.geometricNormal;
  if (!mesh.uvs.empty()) d.uv = mesh.uvs[t[0]] * w + mesh.uvs[t[1]] * hit.u + mesh.uvs[t[2]] * hit.v;
  return d;
}

}  // namespace dusk
