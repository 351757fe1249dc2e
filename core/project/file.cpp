#include "core/project/file.h"

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/json.h"
#include "core/project/sound.h"

namespace dusk {
std::string toText(const Project& project) {
  nlohmann::json document = project;
  document["schema"] = projectSchema;
  // Text that is not UTF-8 (a file name from an old disk) is replaced, not a reason to lose the work.
  return jsonText(document, 2) + "\n";
}

Result<Project> fromText(const std::string& text) {
  try {
    const auto document = parsedJson(text);
    if (!document.is_object() || !document.contains("schema"))
      return Error{words("this is JSON, but not a Gentle Dusk project."), ErrorKind::unreadable};
    if (document.at("schema").get<int>() > projectSchema)
      return Error{words("it was saved by a newer Gentle Dusk. Open it with that version."),
                   ErrorKind::unreadable};
    Project project = document.get<Project>();
    if (const std::string broken = unsound(project); !broken.empty())
      return Error{broken + ".", ErrorKind::unreadable};
    return project;
  } catch (const nlohmann::json::exception& error) {
    return Error{words("its text is damaged (") + whatOf(error) + ").", ErrorKind::unreadable};
  }
}

Outcome saveProject(const Project& project, const std::filesystem::path& file) {
  return writeFileAtomically(file, toText(project));
}

Result<Project> loadProject(const std::filesystem::path& file) {
  auto text = readFile(file, size_t{256} << 20);
  if (!text) return text.error();
  auto project = fromText(*text);
  if (!project)
    return Error{words("Cannot open ") + file.string() + ": " + project.error().message,
                 ErrorKind::unreadable};
  return project;
}

}  // namespace dusk
