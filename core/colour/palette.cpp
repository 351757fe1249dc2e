#include "core/colour/palette.h"

#include "core/base/words.h"

#include <sstream>

namespace dusk {

Result<Palette> paletteFromText(const std::string& text, const std::string& file) {
  constexpr size_t most = 4096;
  std::istringstream lines(text);
  std::string line;
  const auto tidied = [](std::string s) {
    const char* blank = " \t\r";
    s.erase(0, std::min(s.size(), s.find_first_not_of(blank)));
    s.erase(s.find_last_not_of(blank) + 1);
    return s;
  };
  std::getline(lines, line);
  if (tidied(line) != "GIMP Palette")
    return Error{
        file + words(" is not a palette: its first line is not the .gpl format's. Choose a .gpl file."),
        ErrorKind::unreadable};
  Palette palette;
  while (std::getline(lines, line) && palette.colours.size() < most) {
    line = tidied(line);
    if (line.starts_with("Name:")) palette.name = tidied(line.substr(5));
    std::istringstream parts(line);
    int code[3];
    if (!(parts >> code[0] >> code[1] >> code[2])) continue;
    Palette::Colour colour;
    for (int i = 0; i < 3; ++i) colour.code[i] = std::clamp(code[i], 0, 255) / 255.0;
    std::getline(parts, colour.name);
    colour.name = tidied(colour.name);
    palette.colours.push_back(std::move(colour));
  }
  if (palette.colours.empty())
    return Error{file + words(" has no colours in it. Choose another palette."), ErrorKind::unreadable};
  return palette;
}

}  // namespace dusk
