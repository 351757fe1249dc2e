#pragma once
#include <embree3/rtcore.h>

#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <vector>

#include "core/base/result.h"
#include "core/product/model.h"

namespace dusk {

struct Ray {
  Vec3f origin, direction;  ///< direction of unit length
};

/// Where a ray first meets a product.
struct Hit {
  float distance = 1e30f;
  unsigned instance = 0, part = 0, triangle = 0;
  float u = 0, v = 0;
  bool found() const { return distance < 1e30f; }
};

/// A model's triangles in an Embree scene of its own; made once, shared by every placement and every edit.
class ModelGeometry {
 public:
  ModelGeometry(RTCDevice device, std::shared_ptr<const Model> model, const std::set<std::string>& hidden);
  ~ModelGeometry() { rtcReleaseScene(scene_); }
  ModelGeometry(const ModelGeometry&) = delete;
  ModelGeometry& operator=(const ModelGeometry&) = delete;

  RTCScene scene() const { return scene_; }
  const Model& model() const { return *model_; }

 private:
  std::shared_ptr<const Model> model_;
  RTCScene scene_;
};

/// Keeps geometry between edits. Safe to use from several threads.
class GeometryCache {
 public:
  GeometryCache();
  ~GeometryCache();
  std::shared_ptr<const ModelGeometry> get(const std::shared_ptr<const Model>& model,
                                           const std::set<std::string>& hidden);
  RTCDevice device() const { return device_; }

 private:
  RTCDevice device_;
  std::mutex mutex_;
  struct Entry {
    std::shared_ptr<const Model> model;
    std::set<std::string> hidden;
    std::shared_ptr<const ModelGeometry> geometry;
  };
  std::vector<Entry> entries_;  // latest last; a few are enough
};

/// The products where they stand: the top-level structure. Immutable once made.
class PlacedGeometry {
 public:
  struct Instance {
    std::shared_ptr<const ModelGeometry> geometry;
    Similarity worldFromModel;
  };
  PlacedGeometry(RTCDevice device, std::vector<Instance> instances);
  ~PlacedGeometry();
  PlacedGeometry(const PlacedGeometry&) = delete;
  PlacedGeometry& operator=(const PlacedGeometry&) = delete;

  Hit closest(const Ray& ray, float limit = 1e30f) const;
  bool anything(const Ray& ray, float limit) const;
  const std::vector<Instance>& instances() const { return instances_; }

  /// Geometric and interpolated normal (unit, world, as the file orients them) and texture coordinates at a
  /// hit.
  struct Detail {
    Vec3f geometricNormal, normal;
    Vec2f uv{0, 0};
  };
  Detail detail(const Hit& hit) const;
  bool empty() const { return instances_.empty(); }

 private:
  std::vector<Instance> instances_;
  RTCScene scene_;
};

}  // namespace dusk
