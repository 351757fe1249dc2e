#pragma once
#include "core/deliver/deliver.h"
#include "core/deliver/output_file.h"

namespace dusk {

/// How a file was made: lies beside it, and holds all from which the same pixels can be made again.
struct Recipe {
  Project
      project;  ///< with the one shot; links are whole paths, with hashes (in the file: as seen from there)
  std::string file;
  int width = 0, height = 0, samples = 0;  ///< as traced
};

/// Where a file's recipe lies.
std::filesystem::path recipeOf(const std::filesystem::path& file);
/// Writes the recipes of the delivered files. Error: the disk.
Outcome writeRecipes(const Project& project, const Shot& shot, const AssetStore& assets,
                     const std::vector<OutputPlan>& plans, const DeliverReport& report);
/// Error: no recipe, or of a newer program.
Result<Recipe> readRecipe(const std::filesystem::path& file);
/// Whether the recipe beside a file says that it was made of this shot.
bool isMadeOf(const std::filesystem::path& file, const Project& project, const Shot& shot);

}  // namespace dusk
