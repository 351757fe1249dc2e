#pragma once
#include <embree3/rtcore.h>

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <set>
#include <vector>

#include "core/base/result.h"
#include "core/project/project.h"
#include "core/surface/mapping.h"
#include "core/trace/cutout.h"

namespace dusk {

struct Ray {
  Vec3f origin, direction;  ///< direction of unit length
  /// How wide what it stands for is at its origin, and how much wider with each metre (a cone).
  float width = 0, spread = 0;
};

/// Where a ray first meets a product: the instance's index, the part's in its model, the triangle's in its
/// mesh.
struct Hit {
  float distance = 1e30f;
  unsigned instance = 0, part = 0, triangle = 0;
  float u = 0, v = 0;
  bool found() const { return distance < 1e30f; }
};

/// A model's triangles in Embree scenes of its own; made once, shared by every placement and every edit. Most
/// parts lie together in one scene, the body; a mesh that many parts show, and parts that are moved within
/// the model, have a scene each, so that the former costs memory once and the latter move without a new
/// build.
class ModelGeometry {
 public:
  /// `hidden`: part paths left out; `apart`: indices of parts that are moved.
  ModelGeometry(RTCDevice device, std::shared_ptr<const Model> model, const std::set<std::string>& hidden,
                const std::set<unsigned>& apart);
  ~ModelGeometry();
  ModelGeometry(const ModelGeometry&) = delete;
  ModelGeometry& operator=(const ModelGeometry&) = delete;

  RTCScene body() const { return body_; }
  struct Lone {
    unsigned part;
    RTCScene scene;  ///< in the mesh's frame
  };
  const std::vector<Lone>& lone() const { return lone_; }
  const Model& model() const { return *model_; }
  /// Whether the part is among what is shown.
  bool shows(unsigned part) const { return shown_[part]; }

 private:
  std::shared_ptr<const Model> model_;
  std::vector<bool> shown_;
  RTCScene body_;
  std::vector<Lone> lone_;
  std::map<std::pair<int, int>, RTCScene> scenes_;  // by mesh, and material where that has holes
  std::vector<std::unique_ptr<Cutout>> cutouts_;
};

/// A model where it stands.
struct PlacedInstance {
  std::shared_ptr<const ModelGeometry> geometry;
  Similarity worldFromModel;
  std::map<unsigned, Similarity> moved{};  ///< part -> its move within the model
  double cutBelowM = -1e300;               ///< nothing of it is met below this height
  bool operator==(const PlacedInstance&) const = default;
};

/// What surfaces must know of a model's parts.
struct ModelShapes {
  Box whole;
  std::vector<PartShape> parts;
};

class MirroredSide;
class PlacedGeometry;

/// Keeps geometry between edits, and what else takes a while and seldom changes. Safe to use from several
/// threads.
class GeometryCache {
 public:
  GeometryCache();
  ~GeometryCache();
  std::shared_ptr<const ModelGeometry> get(const std::shared_ptr<const Model>& model,
                                           const std::set<std::string>& hidden,
                                           const std::set<unsigned>& apart = {});
  std::shared_ptr<const ModelShapes> shapes(const std::shared_ptr<const Model>& model);
  /// What only catches, where it stands: as made last while that is the same.
  std::shared_ptr<const PlacedGeometry> catchers(std::vector<PlacedInstance> instances);
  /// What a photo mirrors: as it was found last while that, `of` (a shot with nothing in it but what counts)
  /// and `catchers` are the same, else what `find` says.
  using FindMirroredSide = std::function<std::shared_ptr<const MirroredSide>()>;
  std::shared_ptr<const MirroredSide> mirroredSide(const std::shared_ptr<const Picture>& plate,
                                                   const Shot& of,
                                                   const std::shared_ptr<const PlacedGeometry>& catchers,
                                                   const FindMirroredSide& find);
  RTCDevice device() const { return device_; }

 private:
  void forgetUnused();

  RTCDevice device_;
  std::mutex mutex_;
  struct Entry {
    std::shared_ptr<const Model> model;
    std::set<std::string> hidden;
    std::set<unsigned> apart;
    std::shared_ptr<const ModelGeometry> geometry;
  };
  std::vector<std::pair<std::weak_ptr<const Model>, std::shared_ptr<const ModelShapes>>> shapes_;
  std::vector<Entry> entries_;  // used latest last
  struct Mirrored {
    std::shared_ptr<const Picture> plate;
    Shot of;
    std::shared_ptr<const PlacedGeometry> catchers;
    std::shared_ptr<const MirroredSide> side;
  };
  std::optional<Mirrored> mirrored_;
  std::shared_ptr<const PlacedGeometry> catchers_;
};

/// The products where they stand: the top-level structure. Immutable once made.
class PlacedGeometry {
 public:
  using Instance = PlacedInstance;
  PlacedGeometry(RTCDevice device, std::vector<Instance> instances);
  ~PlacedGeometry();
  PlacedGeometry(const PlacedGeometry&) = delete;
  PlacedGeometry& operator=(const PlacedGeometry&) = delete;

  Hit closest(const Ray& ray, float limit = 1e30f) const;
  bool anything(const Ray& ray, float limit) const;
  const std::vector<Instance>& instances() const { return instances_; }
  /// World from the frame of a part's mesh.
  Similarity worldFromMesh(unsigned instance, unsigned part) const;
  const Part& partOf(const Hit& hit) const {
    return instances_[hit.instance].geometry->model().parts[hit.part];
  }

  /// Geometric and interpolated normal (unit, world, as the file orients them) and texture coordinates at a
  /// hit.
  struct Detail {
    Vec3f geometricNormal, normal;
    Vec2f uv{0, 0};
    Vec3f alongU{0, 0, 0}, alongV{0, 0, 0};  ///< world, where the texture coordinates grow; zero without
    Vec2f perUv{0, 0};                       ///< units of the mesh per texture coordinate along those
    Vec3f onMesh{0, 0, 0};
    Vec3f colour{1, 1, 1};                  ///< of the vertices; white where they have none
    const Triadf* worldFromMesh = nullptr;  ///< for directions
  };
  Detail detail(const Hit& hit) const;
  bool empty() const { return instances_.empty(); }
  /// Boxes of the world around all that is shown: bodies, and parts that lie by themselves.
  const std::vector<Box>& worldBoxes() const { return boxes_; }

 private:
  bool isCutAway(const Ray& ray, const Hit& hit) const;

  struct Placed {  ///< one entry of the top level
    unsigned instance;
    int part;  ///< -1: a body, whose geometry ids are its parts
  };
  std::vector<Instance> instances_;
  std::vector<Placed> placed_;
  std::vector<Box> boxes_;
  std::vector<std::vector<Triadf>> rotations_;  // [instance][part]: world from mesh, for directions
  bool cuts_ = false;
  RTCScene scene_;
};

}  // namespace dusk
