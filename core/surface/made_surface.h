#pragma once
#include <functional>
#include <memory>

#include "core/surface/mapping.h"
#include "core/surface/material.h"
#include "core/surface/texture.h"

namespace dusk {

/// A project's surface all over, without what feeds and coats do to it.
BsdfParameters parametersOf(const Surface& surface);

/// The look of a part as its file states it, with the file's textures as feeds that link to it. `file`: the
/// link to the model.
Surface surfaceFromFile(const FileMaterial& material, const AssetRef& file = {});

/// Finds a picture: as light or as values, a page of it, or one of a model file's textures (else -1).
/// nullptr where it cannot be had; the finder tells why.
using FindTexture =
    std::function<std::shared_ptr<const Texture>(const AssetRef& ref, bool colour, int page, int ofModel)>;

/// Whether the surface is the same all over.
bool isEven(const Surface& surface);

/// A surface with its feeds and coats ready to be asked: whatever part it is on.
struct SurfaceLayer;
class FeedStack;
struct Look;
std::shared_ptr<const SurfaceLayer> layerOf(const Surface& surface, const FindTexture& find);

/// A surface and what is printed on it, on one part. `unitMm`: of the model.
class MadeSurface : public Material {
 public:
  MadeSurface(std::shared_ptr<const SurfaceLayer> layer, const std::vector<Decal>& decals, const Mesh& mesh,
              PartFacts facts, double unitMm, const FindTexture& find);
  ~MadeSurface() override;
  void at(const SurfacePoint& point, BsdfParameters& out, Vec3f& normal) const override;
  Rgb emission() const override { return meanEmission_; }
  bool isOpaque() const override { return opaque_; }
  bool hasGaps() const override { return gaps_; }
  bool emitsUnevenly() const override { return unevenly_; }
  /// One of its values at a spot, as its feeds make it: a colour, or the same number three times.
  Vec3f valueAt(SurfaceValue value, const SurfacePoint& point) const;

 private:
  struct Print;
  Site siteOf(const SurfacePoint& point) const;
  float heightAt(const SurfacePoint& point, const Site& site) const;
  void bend(const SurfacePoint& point, const Site& site, Vec3f& normal) const;
  void measureEmission(const Mesh& mesh);
  static Vec3f mapped(const FeedStack& map, const Look& look, const Vec3f& normal);
  /// Directions, between the world and the frame that sizes are meant in.
  Vec3f toOwn(const SurfacePoint& point, const Vec3f& world) const;
  Vec3f toWorld(const SurfacePoint& point, const Vec3f& own) const;

  PartFacts facts_;
  Triadf turn_;
  float scale_;
  Vec3f shift_;
  std::shared_ptr<const SurfaceLayer> layer_;
  std::vector<Print> prints_;
  bool bumps_ = false, unevenly_ = false, opaque_ = false, gaps_ = false;
  Rgb meanEmission_{0, 0, 0};
};

}  // namespace dusk
