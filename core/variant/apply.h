#pragma once
#include "core/base/result.h"
#include "core/variant/places.h"

namespace dusk {

/// The option that a choice means of an axis: the one it names, else the first; nullptr of an axis without.
const VariantOption* chosenOf(const VariantAxis& axis, const VariantChoice& choice);

struct Applied {
  Project project;
  std::vector<std::string> lost;  ///< changes that mean nothing any more, a sentence each
};

/// The project as a choice of options makes it; later axes have the last word. Applied again it stays as it
/// is.
Applied applied(const Project& project, const VariantChoice& choice);

/// A project `base` was shown as `shown` by a choice, and was edited there into `wanted`: the base and its
/// options, changed so that the same choice shows that. What an option gives is changed in the option; all
/// else in the base, or, where `recorded` names one of the chosen options, in that, but for what is of every
/// variant: how long it is traced, its files and frames, its film, what was put aside.
Project routed(const Project& base, const VariantChoice& choice, const Project& shown, const Project& wanted,
               const std::string& recorded = {});

/// Whether a choice has two options that exclude each other.
bool isExcluded(const Project& project, const VariantChoice& choice);
/// Every choice there is without excluded pairs, the last axis changing first. Error: more than `most`.
Result<std::vector<VariantChoice>> everyChoice(const Project& project, size_t most = 10'000);

/// The names of what is chosen, joined: "Green-Open"; empty without axes.
std::string variantName(const Project& project, const VariantChoice& choice);
/// "colour=green, lid=open": names or ids of axes and options, in any case; axes that are not named stay as
/// they are in `from`. Error: says what there is.
Result<VariantChoice> choiceFrom(const Project& project, const VariantChoice& from, const std::string& text);

}  // namespace dusk
