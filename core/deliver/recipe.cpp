#include "core/deliver/recipe.h"

#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/installed.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/deliver/order.h"
#include "core/deliver/output_plan.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/project/links.h"

namespace dusk {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;
constexpr int newest = 1;
constexpr size_t most = size_t{64} << 20;

json inputsOf(Project project) {
  json all = json::array();
  std::set<std::string> seen;
  eachLink(project, [&](AssetRef& ref, LinkKind) {
    if (seen.insert(ref.path).second) all.push_back({{"path", ref.path}, {"hash", ref.hash}});
  });
  return all;
}

/// A path as it is seen from a folder, so that both can be moved together, and nobody reads of other folders;
/// whole where they share no folder at all.
std::string seenFrom(const fs::path& folder, const std::string& path) {
  const fs::path seen = fs::path(path).lexically_relative(folder);
  fs::path last = folder;
  for (const fs::path& step : seen) {
    if (step != "..") break;
    last = last.parent_path();
  }
  return seen.empty() || last == last.root_path() ? path : seen.string();
}

Error noRecipe(const fs::path& file, const std::string& why) {
  return {file.string() + words(" does not say how a picture was made: ") + why + ".", ErrorKind::unreadable};
}

}  // namespace

fs::path recipeOf(const fs::path& file) { return file.string() + ".json"; }

Outcome writeRecipes(const Project& project, const Shot& shot, const AssetStore& assets,
                     const std::vector<OutputPlan>& plans, const DeliverReport& report) {
  Project one = onlyShot(project, shot, assets);
  if (plans.empty()) return done();
  const fs::path folder = fs::absolute(plans.front().file).lexically_normal().parent_path();
  eachLink(one, [&](AssetRef& ref, LinkKind) {
    if (!ref.path.empty()) ref.path = seenFrom(folder, ref.path);
  });
  // What was asked for beside the document is in it now.
  one.shots[0].render.noiseTarget = report.noiseTarget;
  json common = {{"gentleDusk", newest},
                 {"program", programVersion()},
                 {"project", project.name},
                 {"shot", shot.id},
                 {"traced", {report.width, report.height}},
                 {"samples", report.samplesAsked},
                 {"samplesDone", report.samples},
                 {"seed", shot.render.seed},
                 {"noiseTarget", report.noiseTarget},
                 {"noise", report.noise},
                 {"seconds", report.seconds},
                 {"inputs", inputsOf(one)},
                 {"document", jsonFrom(toText(one))}};
  for (const OutputPlan& plan : plans) {
    json own = common;
    own["file"] = plan.file.filename().string();
    own["what"] = describe(plan.what, plan.frame);
    own["deliverable"] = plan.what;
    const Outcome written = writeFileAtomically(recipeOf(plan.file), jsonText(own, 1) + "\n");
    if (!written) return written;
  }
  return done();
}

Result<Recipe> readRecipe(const fs::path& file) {
  const auto text = readFile(file, most);
  if (!text) return text.error();
  try {
    const json all = parsedJson(*text);
    const int version = all.at("gentleDusk").get<int>();
    if (version > newest)
      return noRecipe(file, words("it was written by a newer Gentle Dusk; use that version"));
    auto project = fromText(jsonText(all.at("document")));
    if (!project) return project.error();
    const fs::path folder = fs::absolute(file).parent_path();
    eachLink(*project, [&](AssetRef& ref, LinkKind) {
      if (!ref.path.empty()) ref.path = (folder / ref.path).lexically_normal().string();
    });
    if (project->shots.size() != 1) return noRecipe(file, words("it has no shot, or several"));
    Recipe recipe{std::move(*project), all.value("file", ""), all.at("traced").at(0).get<int>(),
                  all.at("traced").at(1).get<int>(), all.at("samples").get<int>()};
    constexpr int mostSide = 1'000'000;
    if (recipe.width < 1 || recipe.height < 1 || recipe.width > mostSide || recipe.height > mostSide ||
        recipe.samples < 1)
      return noRecipe(file, words("its numbers are out of their range"));
    return recipe;
  } catch (const json::exception& error) {
    return noRecipe(file, whatOf(error));
  }
}

bool isMadeOf(const fs::path& file, const Project& project, const Shot& shot) {
  std::error_code code;
  if (!fs::exists(recipeOf(file), code)) return false;
  const auto text = readFile(recipeOf(file), most);
  if (!text) return false;
  const json all = jsonFrom(*text);
  return all.is_object() && all.value("project", "") == project.name && all.value("shot", "") == shot.id;
}

}  // namespace dusk
