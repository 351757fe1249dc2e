#pragma once
#include <filesystem>
#include <functional>

#include "core/base/result.h"
#include "core/project/project.h"
#include "core/trace/scene.h"

namespace dusk::demo {

/// A made-up place, and what a person would make of its photo.
struct TruthSet {
  std::string name;
  Project project;                             ///< its first shot is compared; its photo is taken anew
  std::filesystem::path folder;                ///< of the project
  Camera camera;                               ///< the truth
  bool vignetted = false;                      ///< light is lost at the photo's corners
  std::function<Scene(GeometryCache&)> place;  ///< without any product
};

/// The demo's own: the quay in low sun, the bench indoors, the wet slipway.
Result<std::vector<TruthSet>> demoTruthSets(const std::filesystem::path& demo);

/// Our composite against the truth: the set rendered with the product physically in it.
struct Insertion {
  /// Mean and worst CIEDE2000 over some pixels.
  struct Off {
    double sum = 0, worst = 0;
    size_t count = 0;
    void add(double off) { sum += off, worst = std::max(worst, off), ++count; }
    double mean() const { return count ? sum / double(count) : 0; }
  };
  enum Where { product, edge, influence, outside };
  /// Where the product shows; where it shares pixels with what is behind it; where it changes the place by
  /// over 1 %; elsewhere.
  Off off[4];
  Off untouched;              ///< the plate without any product against the truth, where it changes the place
  Picture truth, composite;   ///< sRGB code values
  Picture difference, alpha;  ///< CIEDE2000 by pixel; cover by the product
};

/// Renders both, without grain, `width` wide; photo and truth, which nothing denoises, with `calm` times the
/// samples. The composite is made from photo, panorama and the project's
/// own vantage; `trueCamera`: with the set's own camera instead, which tells what of the difference is the
/// vantage's.
Result<Insertion> insertionTruth(TruthSet set, int width, int samples, int calm = 1, bool trueCamera = false);

/// The scene with the products of another that was compiled with the same `cache` standing in it.
void addProducts(Scene& scene, GeometryCache& cache, const Scene& with);

}  // namespace dusk::demo
