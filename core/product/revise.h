#pragma once
#include "core/product/model.h"

namespace dusk {

/// What becomes of one part when a product's file is replaced by a newer one.
struct PartFate {
  enum Kind { kept, guessed, gone, fresh } kind;
  std::string before, after;  ///< part paths; empty where there is none
  double likeness = 1;        ///< of a guess: 0 to 1
  bool accepted = true;       ///< a guess that is not accepted counts as gone and fresh
  bool operator==(const PartFate&) const = default;
};

/// Matches the parts of two versions of a model: by the same path, then by the same name where only one part
/// each has it, then by likeness of shape - volume, area, box and centre, each as a ratio of the smaller to
/// the larger - best pairs first, from 0.8 up.
std::vector<PartFate> compareModels(const Model& before, const Model& after);

/// The project with the product's file replaced: surfaces, moves, visibility, names and groups go from each
/// part to what it has become. What was said of whole groups stays where the group still is.
Project revised(Project project, const std::string& productId, const AssetRef& model,
                const std::vector<PartFate>& fates);

}  // namespace dusk
