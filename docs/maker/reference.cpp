#include "docs/maker/reference.h"

#include "core/base/json_text.h"
#include "docs/maker/comments.h"
#include "docs/maker/page.h"
#include "docs/maker/schema.h"

namespace dusk::reference {

Result<std::map<std::string, std::string>> pagesOf(const std::filesystem::path& source) {
  nlohmann::json schema = shapesOfTheDocument();
  if (const auto added = addLimits(schema); !added) return added.error();
  for (const char* room : {"core/base", "core/project", "core/vantage"}) addComments(schema, source / room);
  return std::map<std::string, std::string>{{"docs/project.schema.json", jsonText(schema, 2) + "\n"},
                                            {"docs/reference.md", pageOf(schema)},
                                            {"docs/answers.md", answersPage()}};
}

}  // namespace dusk::reference
