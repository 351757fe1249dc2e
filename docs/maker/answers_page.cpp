#include "batch/answers.h"
#include "docs/maker/page.h"

namespace dusk::reference {

std::string answersPage() {
  std::string text =
      "# Reference of the headless answers\n\n"
      "What `gentle-dusk-batch` prints with `--json`, verb by verb; made by `./dusk reference` from the "
      "tables that "
      "every answer is held to by the tests. What has nothing to say is left out. `a[].b` is `b` of each "
      "thing in the "
      "list `a`; [Without a window](guide/headless.md) tells what the verbs are for.\n";
  std::string verb;
  for (const batch::AnswerTable& table : batch::answerTables()) {
    if (verb != table.verb) text += std::string("\n## ") + table.verb + "\n";
    verb = table.verb;
    text += *table.of ? std::string("\nOf ") + table.of + ":\n" : std::string();
    text += "\n| | | |\n|---|---|---|\n";
    for (const batch::AnswerKey& key : table.keys)
      text += std::string("| `") + key.name + "` | " + key.kind + " | " + key.what + " |\n";
  }
  return text;
}

}  // namespace dusk::reference
