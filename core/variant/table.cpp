#include "core/variant/table.h"

#include <algorithm>
#include <array>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/sound.h"
#include "core/variant/edit.h"

namespace dusk {
namespace {

constexpr std::array<const char*, 4> columns = {"axis", "option", "place", "value"};
constexpr size_t mostAxes = 1000;

std::string quoted(const std::string& text) {
  if (text.find_first_of(",\"\r\n") == std::string::npos) return text;
  std::string all = "\"";
  for (const char c : text) all += c == '"' ? "\"\"" : std::string(1, c);
  return all + "\"";
}

struct Line {
  int number = 0;
  std::vector<std::string> cells;
};

Result<std::vector<Line>> linesOf(const std::string& text) {
  std::vector<Line> lines{{1, {""}}};
  bool within = false;
  int number = 1;
  for (size_t i = text.starts_with("\xef\xbb\xbf") ? 3 : 0; i < text.size(); ++i) {
    const char c = text[i];
    std::string& cell = lines.back().cells.back();
    if (c == '\n') ++number;
    if (within) {
      if (c != '"')
        cell += c;
      else if (i + 1 < text.size() && text[i + 1] == '"')
        cell += text[++i];
      else
        within = false;
    } else if (c == '"' && cell.empty()) {
      within = true;
    } else if (c == ',') {
      lines.back().cells.emplace_back();
    } else if (c == '\n') {
      lines.push_back({number, {""}});
    } else if (c != '\r') {
      cell += c;
    }
  }
  if (within)
    return Error{words("line ") + std::to_string(lines.back().number) +
                 words(" has a quote that never ends")};
  std::erase_if(lines, [](const Line& l) { return l.cells.size() == 1 && l.cells[0].empty(); });
  return lines;
}

template <typename T>
T* named(std::vector<T>& all, const std::string& name) {
  const auto at = std::find_if(all.begin(), all.end(), [&](const T& item) { return item.name == name; });
  return at == all.end() ? nullptr : &*at;
}

}  // namespace

std::string variantTable(const Project& project) {
  std::string text = "axis,option,place,value\r\n";
  for (const VariantAxis& axis : project.axes)
    for (const VariantOption& option : axis.options) {
      const std::string begin = quoted(axis.name) + "," + quoted(option.name) + ",";
      if (option.changes.empty()) text += begin + ",\r\n";
      for (const VariantChange& c : option.changes)
        text += begin + quoted(c.at) + "," + (c.gone ? "-" : quoted(c.to)) + "\r\n";
    }
  return text;
}

Result<Project> withVariantTable(Project project, const std::string& text) {
  const auto bad = [](const std::string& why) {
    return Error{words("The table of variants cannot be read: ") + why + ".", ErrorKind::unreadable};
  };
  const auto lines = linesOf(text);
  if (!lines) return bad(lines.error().message);
  if (lines->empty()) return bad(words("it is empty"));
  std::array<size_t, 4> at{};
  const auto& head = lines->front().cells;
  for (size_t i = 0; i < columns.size(); ++i) {
    at[i] = size_t(std::find(head.begin(), head.end(), columns[i]) - head.begin());
    if (at[i] == head.size()) return bad(words("its first line has no \"") + std::string(columns[i]) + "\"");
  }
  std::set<std::string> begun;  // options whose earlier changes have made way
  for (size_t i = 1; i < lines->size(); ++i) {
    const Line& line = (*lines)[i];
    const std::string where = words("line ") + std::to_string(line.number);
    const auto cell = [&](size_t column) {
      return at[column] < line.cells.size() ? line.cells[at[column]] : std::string();
    };
    if (cell(0).empty() || cell(1).empty()) return bad(where + words(" names no axis or no option"));
    VariantAxis* axis = named(project.axes, cell(0));
    if (!axis) {
      if (project.axes.size() >= mostAxes) return bad(words("it has more than a thousand axes"));
      axis = &project.axes.emplace_back(VariantAxis{freshId(project.axes, "axis"), cell(0)});
    }
    VariantOption* option = named(axis->options, cell(1));
    if (!option) option = &axis->options.emplace_back(VariantOption{freshOptionId(project), cell(1)});
    if (begun.insert(option->id).second) option->changes.clear();
    if (cell(2).empty()) continue;
    if (cell(2)[0] != '/') return bad(where + words(" has a place that does not begin with \"/\""));
    if (cell(3) == "-") {
      option->changes.push_back({cell(2), {}, true});
    } else {
      const auto value = jsonFrom(cell(3));
      if (value.is_discarded())
        return bad(where + words(" has a value that is no JSON (words stand in quotes)"));
      option->changes.push_back({cell(2), jsonText(value)});
    }
  }
  if (const std::string flaw = unsound(project); !flaw.empty()) return bad(flaw);
  return project;
}

}  // namespace dusk
