#include "core/product/side_files.h"

#include <algorithm>
#include <regex>
#include <set>
#include <sstream>
#include <string>

#include "core/base/files.h"
#include "core/product/formats.h"

namespace dusk {
namespace fs = std::filesystem;

std::string uriDecoded(const std::string& uri) {
  std::string out;
  for (size_t i = 0; i < uri.size(); ++i)
    if (uri[i] == '%' && i + 2 < uri.size() && std::isxdigit(static_cast<unsigned char>(uri[i + 1])) &&
        std::isxdigit(static_cast<unsigned char>(uri[i + 2])))
      out += char(std::stoi(uri.substr(i + 1, 2), nullptr, 16)), i += 2;
    else
      out += uri[i];
  return out;
}

namespace {

std::vector<std::string> allMatches(const std::string& text, const std::regex& pattern) {
  std::vector<std::string> all;
  for (std::sregex_iterator at(text.begin(), text.end(), pattern), end; at != end; ++at)
    all.push_back((*at)[1].str());
  return all;
}

/// Values of the lines that begin with one of the words, without options.
std::vector<std::string> lineValues(const std::string& text, const std::vector<std::string>& words) {
  std::vector<std::string> all;
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);) {
    std::istringstream parts(line);
    std::string word, rest, last;
    parts >> word;
    if (std::find(words.begin(), words.end(), word) == words.end()) continue;
    std::getline(parts >> std::ws, rest);
    while (!rest.empty() && (rest.back() == '\r' || rest.back() == ' ')) rest.pop_back();
    all.push_back(rest);
    // "map_Kd -s 1 1 1 wood.png": the name is the last word.
    if (const size_t space = rest.rfind(' '); space != std::string::npos)
      all.push_back(rest.substr(space + 1));
  }
  return all;
}

}  // namespace

std::optional<fs::path> sidePath(std::string name) {
  std::replace(name.begin(), name.end(), '\\', '/');
  fs::path path = fs::path(name).lexically_normal();
  if (path.empty() || path.is_absolute() || *path.begin() == "..") return {};
  return path;
}

std::vector<fs::path> sideFilesOf(const fs::path& model) {
  const std::string ending = endingOf(model);
  if (ending != ".gltf" && ending != ".obj" && ending != ".dae") return {};
  const auto text = readFile(model);
  if (!text) return {};
  const fs::path folder = model.parent_path();
  std::vector<std::string> named;
  const auto add = [&](const std::vector<std::string>& more) {
    named.insert(named.end(), more.begin(), more.end());
  };
  if (ending == ".gltf") {
    static const std::regex uri("\"uri\"\\s*:\\s*\"([^\"]+)\"");
    for (const std::string& u : allMatches(*text, uri))
      if (!u.starts_with("data:")) named.push_back(uriDecoded(u));
  } else if (ending == ".dae") {
    static const std::regex from("<init_from>\\s*(?:<ref>)?([^<]+?)\\s*(?:</ref>\\s*)?</init_from>");
    for (const std::string& u : allMatches(*text, from)) named.push_back(uriDecoded(u));
  } else {
    for (const std::string& library : lineValues(*text, {"mtllib"})) {
      named.push_back(library);
      if (const auto materials = readFile(folder / library))
        add(lineValues(*materials, {"map_Kd", "map_Ks", "map_Ns", "map_d", "map_Bump", "map_bump", "bump",
                                    "norm", "map_Pr", "map_Pm", "map_Ke", "map_Ka"}));
    }
  }
  std::set<fs::path> found;
  std::error_code code;
  for (const std::string& name : named)
    if (const auto path = sidePath(name); path && fs::is_regular_file(folder / *path, code))
      found.insert(*path);
  return {found.begin(), found.end()};
}

}  // namespace dusk
