#pragma once
#include "core/variant/apply.h"

/// Edits of a project's axes.
namespace dusk {

/// An id for an option that no axis has yet.
std::string freshOptionId(const Project& project);
/// A new axis with one option, which changes nothing; its id.
std::string addAxis(Project& project, const std::string& name);
/// A new option of an axis, without changes or with those of another of its options; its id.
std::string addOption(Project& project, const std::string& axis, const std::string& like = {});
/// Takes an option away, with what excludes it and what chose it; an axis goes with its last one.
void removeOption(Project& project, const std::string& option);
/// Excludes two options of different axes from each other, or no more.
void setExcluded(Project& project, const std::string& one, const std::string& other, bool on);
/// The option by its id, with its axis; nullptr both where there is none.
std::pair<VariantAxis*, VariantOption*> optionIn(Project& project, const std::string& id);
std::pair<const VariantAxis*, const VariantOption*> optionIn(const Project& project, const std::string& id);

}  // namespace dusk
