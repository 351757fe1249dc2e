#include <cstdio>

#include "core/base/files.h"
#include "docs/maker/reference.h"

/// Writes what is generated below the project's folder: `dusk-reference FOLDER`.
int main(int count, char** words) {
  if (count != 2) return std::fprintf(stderr, "dusk-reference FOLDER\n"), 2;
  const auto fail = [](const dusk::Error& error) {
    return std::fprintf(stderr, "%s\n", error.message.c_str()), 1;
  };
  const auto pages = dusk::reference::pagesOf(words[1]);
  if (!pages) return fail(pages.error());
  for (const auto& [file, text] : *pages)
    if (const auto written = dusk::writeFileAtomically(std::filesystem::path(words[1]) / file, text);
        !written)
      return fail(written.error());
}
