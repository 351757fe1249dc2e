// Variants: which are meant by what was typed, and the verbs about them.
#include "batch/variants.h"

#include "batch/answer.h"
#include "core/base/files.h"
#include "core/project/file.h"
#include "core/project/hand_over_edit.h"
#include "core/variant/table.h"

namespace dusk::batch {

Result<std::vector<Project>> chosen(const Project& project, size_t shot, const std::string& typed) {
  if (typed.empty()) return std::vector{project};
  std::vector<Project> all;
  const auto add = [&](const VariantChoice& choice, bool named) {
    Project& one = all.emplace_back(project);
    one.shots[shot].choice = choice;
    if (named) nameByVariant(one.shots[shot]);
  };
  if (typed == "all") {
    const auto every = everyChoice(project);
    if (!every) return every.error();
    for (const VariantChoice& choice : *every) add(choice, true);
  } else {
    const auto one = choiceFrom(project, project.shots[shot].choice, typed);
    if (!one) return one.error();
    add(*one, false);
  }
  for (const Project& one : all)
    for (const std::string& lost : applied(one, one.shots[shot].choice).lost)
      std::fprintf(stderr, "%s\n", lost.c_str());
  return all;
}

Result<Project> chosenOne(const Project& project, size_t shot, const std::string& typed) {
  const auto all = chosen(project, shot, typed);
  if (!all) return all.error();
  if (all->size() != 1) return Error{"This takes one variant at a time.", ErrorKind::unreadable};
  return all->front();
}

int variantsList(const Request& request, Progress&) {
  const auto project = loadProject(request.file);
  if (!project) return fail(project.error());
  if (!request.out.empty())
    if (const auto written = writeFileAtomically(request.out, variantTable(*project)); !written)
      return fail(written.error());
  json axes = json::array();
  for (const VariantAxis& axis : project->axes) {
    json options = json::array();
    for (const VariantOption& option : axis.options) {
      json changes = json::array();
      for (const VariantChange& c : option.changes) changes.push_back(inWords(*project, c.at));
      options.push_back({{"id", option.id}, {"name", option.name}, {"changes", changes}});
    }
    axes.push_back({{"id", axis.id}, {"name", axis.name}, {"options", options}});
  }
  const auto every = everyChoice(*project);
  json names = json::array();
  if (every)
    for (const VariantChoice& choice : *every) names.push_back(variantName(*project, choice));
  print({{"axes", axes},
         {"variants", names},
         {"count", every ? json(names.size()) : json(every.error().message)}},
        request.json);
  return every ? 0 : 1;
}

int variantsTake(const Request& request, Progress&) {
  auto project = loadProject(request.file);
  if (!project) return fail(project.error());
  const auto text = readFile(request.entry, size_t{64} << 20);
  if (!text) return fail(text.error());
  auto with = withVariantTable(std::move(*project), *text);
  if (!with) return fail(with.error());
  if (const auto saved = saveElsewhere(*with, request.file, request.out); !saved) return fail(saved.error());
  print({{"file", request.out}, {"axes", with->axes.size()}}, request.json);
  return 0;
}

}  // namespace dusk::batch
