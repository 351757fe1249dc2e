#include "core/deliver/names.h"

#include <chrono>
#include <ctime>

#include "core/base/words.h"
#include "core/project/deliverable_kinds.h"

namespace dusk {
namespace {

constexpr std::string_view refused = "\\/:*?\"<>|";
constexpr size_t longest = 200;  // most systems take 255 bytes, of which a temporary name needs some

bool isRefused(char c) {
  return (unsigned char)c < 32 || c == 127 || refused.find(c) != std::string_view::npos;
}

std::optional<std::string> meaningOf(std::string_view word, const NameWords& w) {
  if (word == "project") return w.project;
  if (word == "shot") return w.shot;
  if (word == "variant") return w.variant;
  if (word == "frame") return w.frame;
  if (word == "size") return std::to_string(w.width) + "x" + std::to_string(w.height);
  if (word == "date") return w.date;
  if (word == "picture") return w.picture;
  if (word == "version") return (w.version < 10 ? "v0" : "v") + std::to_string(w.version);
  return {};
}

Error unknownWord(const std::string& name, std::string_view word) {
  std::string all;
  for (const char* each : nameWords) all += (all.empty() ? "{" : ", {") + std::string(each) + "}";
  return {words("The file name \"") + name + words("\" has {") + std::string(word) +
          words("}, which stands for nothing. There are ") + all + "."};
}

}  // namespace

std::string asName(std::string text) {
  for (char& c : text)
    if (isRefused(c)) c = '-';
  while (!text.empty() && (text.back() == '.' || text.back() == ' ')) text.pop_back();
  while (!text.empty() && (text.front() == '.' || text.front() == ' ')) text.erase(text.begin());
  return text;
}

Result<std::string> fileNameOf(const Deliverable& d, const NameWords& meant) {
  const std::string ending = infoOf(d.kind).ending;
  std::string stem = d.fileName;
  if (stem.size() > ending.size() && stem.ends_with(ending)) stem.resize(stem.size() - ending.size());
  std::string text;
  for (size_t i = 0; i < stem.size(); ++i) {
    const size_t close = stem[i] == '{' ? stem.find('}', i) : std::string::npos;
    if (close == std::string::npos) {
      text += stem[i];
      continue;
    }
    const std::string_view word = std::string_view(stem).substr(i + 1, close - i - 1);
    const auto meaning = meaningOf(word, meant);
    if (!meaning) return unknownWord(d.fileName, word);
    const bool isJoined =
        !text.empty() && std::string_view("-_ ").find(text.back()) != std::string_view::npos;
    if (meaning->empty() && isJoined) text.pop_back();
    text += *meaning;
    i = close;
  }
  text = asName(std::move(text));
  if (text.empty())
    return Error{words("The file name \"") + d.fileName +
                 words("\" comes to nothing here. Give it at least one letter.")};
  if (text.size() + ending.size() > longest)
    return Error{words("The file name \"") + text.substr(0, 40) + words("…\" has ") +
                 std::to_string(text.size()) + words(" letters; give it at most ") +
                 std::to_string(longest - ending.size()) + "."};
  return text + ending;
}

std::string refusedIn(const std::string& name) {
  std::string found;
  for (const char c : name)
    if (isRefused(c) && found.find(c) == std::string::npos) found += c;
  return found;
}

std::string pictureNumber(int picture) {
  char text[16];
  std::snprintf(text, sizeof text, "%04d", picture + 1);
  return text;
}

std::string today() {
  const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
  std::tm local{};
  localtime_r(&now, &local);
  char text[16];
  std::strftime(text, sizeof text, "%Y-%m-%d", &local);
  return text;
}

std::string freeName(const std::filesystem::path& folder, const std::string& name) {
  const std::filesystem::path file(name);
  std::error_code code;
  for (int n = 2;; ++n) {
    const std::string next = file.stem().string() + "-" + std::to_string(n) + file.extension().string();
    if (!std::filesystem::exists(folder / next, code)) return next;
  }
}

}  // namespace dusk
