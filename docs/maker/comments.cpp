#include "docs/maker/comments.h"

#include <regex>
#include <sstream>

#include "core/base/files.h"

namespace dusk::reference {
namespace {

using nlohmann::json;

std::string joined(const std::string& text, const std::string& more) {
  return text.empty() ? more : more.empty() ? text : text + " " + more;
}
std::string trimmed(const std::string& text) {
  const size_t from = text.find_first_not_of(" /<"), to = text.find_last_not_of(' ');
  return from == std::string::npos ? std::string() : text.substr(from, to - from + 1);
}

/// A line of a header: its code, and its comment.
struct Line {
  explicit Line(const std::string& text) {
    const size_t at = text.find("//");
    code = text.substr(0, at);
    while (!code.empty() && code.back() == ' ') code.pop_back();
    if (at != std::string::npos) comment = trimmed(text.substr(at));
  }
  std::string code, comment;
};

/// A field and what is said of it, gathered over the lines of its declaration.
void describe(json& properties, const std::string& code, const std::string& comment) {
  if (comment.empty() || code.find('(') != std::string::npos) return;
  for (auto& [name, field] : properties.items())
    if (std::regex_search(code, std::regex("[ ,>]" + name + "( *[,;={]|$)"))) field["description"] = comment;
}

void readType(std::istream& in, json& type) {
  std::string text, before, code, behind;
  const auto finish = [&] {
    describe(type["properties"], code, behind.empty() ? before : behind);
    code.clear(), behind.clear(), before.clear();
  };
  while (std::getline(in, text) && !text.starts_with("}")) {
    const Line line(text);
    if (line.code.empty() && !line.comment.empty() && text.find("///<") != std::string::npos) {
      behind = joined(behind, line.comment);  // goes on from the line before
      continue;
    }
    if (code.ends_with(';')) finish();
    if (line.code.empty()) {
      before = line.comment.empty() ? std::string() : joined(before, line.comment);
      continue;
    }
    code = joined(code, line.code), behind = joined(behind, line.comment);
  }
  finish();
}

void readHeader(std::istream& in, json& schema) {
  static const std::regex begins("^struct (\\w+) \\{$");
  std::string text, before;
  std::smatch match;
  while (std::getline(in, text)) {
    if (text.starts_with("///")) {
      before = joined(before, trimmed(text));
      continue;
    }
    if (std::regex_match(text, match, begins)) {
      const std::string name = match[1];
      json& type = name == "Project" ? schema : schema["$defs"][name];
      if (type.is_null()) {
        schema["$defs"].erase(name);
      } else {
        if (!before.empty()) type["description"] = before;
        readType(in, type);
      }
    }
    before.clear();
  }
}

}  // namespace

void addComments(json& schema, const std::filesystem::path& folder) {
  std::error_code none;
  for (const auto& entry : std::filesystem::directory_iterator(folder, none)) {
    if (entry.path().extension() != ".h") continue;
    const auto text = readFile(entry.path());
    std::istringstream in(text ? *text : std::string());
    readHeader(in, schema);
  }
}

}  // namespace dusk::reference
