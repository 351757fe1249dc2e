#include "core/variant/places.h"

#include <algorithm>
#include <functional>

#include "core/base/json_text.h"
#include "core/project/json.h"
#include "core/project/sound.h"

namespace dusk {

std::string escaped(const std::string& token) {
  std::string text;
  for (const char c : token) text += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
  return text;
}

namespace {
using nlohmann::json;
using Tokens = std::vector<std::string>;

Tokens tokensOf(const std::string& place) {
  Tokens tokens;
  for (size_t at = 0; at < place.size();) {
    const size_t end = std::min(place.find('/', at + 1), place.size());
    std::string token;
    for (size_t i = at + 1; i < end; ++i) {
      const bool mark = place[i] == '~' && i + 1 < end;
      token += !mark ? place[i] : place[i + 1] == '1' ? '/' : '~';
      i += mark;
    }
    tokens.push_back(std::move(token));
    at = end;
  }
  return tokens;
}

/// Lists that are sets of words.
bool isSet(const std::string& key) { return key == "hiddenParts" || key == "leavesOut"; }
bool hasIds(const json& list) {
  return list.is_array() && std::all_of(list.begin(), list.end(), [](const json& item) {
           return item.is_object() && item.contains("id");
         });
}
json* withId(json& list, const std::string& id) {
  for (json& item : list)
    if (item.is_object() && item.value("id", "") == id) return &item;
  return nullptr;
}

/// The value that holds the last of the tokens; nullptr where there is none.
json* holderOf(json& root, const Tokens& tokens, size_t from) {
  json* now = &root;
  for (size_t i = from; now && i + 1 < tokens.size(); ++i) {
    if (now->is_object()) {
      const auto found = now->find(tokens[i]);
      now = found == now->end() ? nullptr : &*found;
    } else {
      now = now->is_array() ? withId(*now, tokens[i]) : nullptr;
    }
  }
  return now;
}

std::optional<json> valueIn(json& root, const Tokens& tokens, size_t from) {
  if (tokens.size() <= from) return root;
  const json* holder = holderOf(root, tokens, from);
  if (!holder) return {};
  const std::string& last = tokens.back();
  if (holder->is_object()) {
    const auto found = holder->find(last);
    return found == holder->end() ? std::optional<json>() : std::optional<json>(*found);
  }
  if (!holder->is_array()) return {};
  if (tokens.size() > from + 1 && isSet(tokens[tokens.size() - 2]))
    return std::find(holder->begin(), holder->end(), last) != holder->end() ? std::optional<json>(true)
                                                                            : std::nullopt;
  const json* item = withId(const_cast<json&>(*holder), last);
  return item ? std::optional<json>(*item) : std::nullopt;
}

bool putIn(json& root, const Tokens& tokens, size_t from, const json& value) {
  if (tokens.size() <= from) return root = value, true;
  json* holder = holderOf(root, tokens, from);
  if (!holder) return false;
  const std::string& last = tokens.back();
  if (holder->is_null()) *holder = json::object();  // a map's first, or a part that was none
  if (holder->is_object()) return (*holder)[last] = value, true;
  if (!holder->is_array()) return false;
  if (isSet(tokens[tokens.size() - 2])) {
    if (std::find(holder->begin(), holder->end(), last) == holder->end()) holder->push_back(last);
    std::sort(holder->begin(), holder->end());
    return true;
  }
  if (!value.is_object() || value.value("id", "") != last || !hasIds(*holder)) return false;
  if (json* item = withId(*holder, last))
    *item = value;
  else
    holder->push_back(value);
  return true;
}

void takeIn(json& root, const Tokens& tokens, size_t from) {
  json* holder = holderOf(root, tokens, from);
  if (!holder) return;
  const std::string& last = tokens.back();
  if (holder->is_object()) {
    holder->erase(last);
  } else if (holder->is_array()) {
    const bool set = isSet(tokens[tokens.size() - 2]);
    for (auto item = holder->begin(); item != holder->end(); ++item)
      if (set ? *item == last : item->is_object() && item->value("id", "") == last) {
        holder->erase(item);
        return;
      }
  }
}

void differ(const json& from, const json& to, const std::string& at, const std::string& key,
            std::vector<VariantChange>& all) {
  if (from == to) return;
  const auto under = [&](const std::string& token) { return at + "/" + escaped(token); };
  const auto whole = [](const json& value) { return jsonText(value); };
  if (from.is_object() && to.is_object()) {
    for (const auto& [name, value] : to.items())
      if (const auto was = from.find(name); was != from.end())
        differ(*was, value, under(name), name, all);
      else
        all.push_back({under(name), whole(value)});
    for (const auto& [name, value] : from.items())
      if (!to.contains(name)) all.push_back({under(name), {}, true});
    return;
  }
  if (isSet(key) && from.is_array() && to.is_array()) {
    for (const json& word : to)
      if (std::find(from.begin(), from.end(), word) == from.end())
        all.push_back({under(word.get<std::string>()), "true"});
    for (const json& word : from)
      if (std::find(to.begin(), to.end(), word) == to.end())
        all.push_back({under(word.get<std::string>()), {}, true});
    return;
  }
  if (hasIds(from) && hasIds(to) && (!from.empty() || !to.empty())) {
    for (const json& item : to)
      if (json* was = withId(const_cast<json&>(from), item["id"]))
        differ(*was, item, under(item["id"]), {}, all);
      else
        all.push_back({under(item["id"]), whole(item)});
    for (const json& item : from)
      if (!withId(const_cast<json&>(to), item["id"])) all.push_back({under(item["id"]), {}, true});
    return;
  }
  all.push_back({at, whole(to)});
}

template <typename T>
void differ(const std::vector<T>& from, const std::vector<T>& to, const std::string& list,
            std::vector<VariantChange>& all) {
  for (const T& item : to) {
    const T* was = byId(from, item.id);
    if (was && *was == item) continue;
    if (was)
      differ(json(*was), json(item), list + escaped(item.id), {}, all);
    else
      all.push_back({list + escaped(item.id), jsonText(json(item))});
  }
  for (const T& item : from)
    if (!byId(to, item.id)) all.push_back({list + escaped(item.id), {}, true});
}

/// Calls `act` with the list of the project that a piece is of; false where there is no such list.
template <typename Act>
bool withList(Project& project, const std::string& kind, const Act& act) {
  if (kind == "products") return act(project.products), true;
  if (kind == "surfaces") return act(project.surfaces), true;
  if (kind == "rigs") return act(project.rigs), true;
  if (kind == "shots") return act(project.shots), true;
  return false;
}

}  // namespace

PlacedEdit::Touched* PlacedEdit::touched(const std::vector<std::string>& tokens) {
  const std::string piece = "/" + tokens[0] + "/" + escaped(tokens[1]);
  if (const auto known = touched_.find(piece); known != touched_.end()) return &known->second;
  Touched found{{}, true};
  if (!withList(project_, tokens[0], [&](auto& list) {
        if (const auto* item = byId(list, tokens[1])) found = {json(*item), false};
      }))
    return nullptr;
  return &(touched_[piece] = std::move(found));
}

std::optional<json> PlacedEdit::at(const std::string& place) {
  const Tokens tokens = tokensOf(place);
  if (tokens.size() < 2) return {};
  Touched* piece = touched(tokens);
  if (!piece || piece->gone) return {};
  return valueIn(piece->value, tokens, 2);
}

bool PlacedEdit::put(const std::string& place, const json& value) {
  const Tokens tokens = tokensOf(place);
  if (tokens.size() < 2) return false;
  Touched* piece = touched(tokens);
  if (!piece || (piece->gone && tokens.size() > 2)) return false;
  if (tokens.size() == 2 && (!value.is_object() || value.value("id", "") != tokens[1])) return false;
  const bool there = putIn(piece->value, tokens, 2, value);
  if (there) piece->gone = false;
  return there;
}

void PlacedEdit::take(const std::string& place) {
  const Tokens tokens = tokensOf(place);
  if (tokens.size() < 2) return;
  Touched* piece = touched(tokens);
  if (!piece || piece->gone) return;
  if (tokens.size() == 2)
    piece->gone = true;
  else
    takeIn(piece->value, tokens, 2);
}

json* PlacedEdit::listOf(const std::string& place) {
  const Tokens tokens = tokensOf(place);
  if (tokens.size() < 4) return nullptr;
  Touched* piece = touched(tokens);
  json* holder = piece && !piece->gone ? holderOf(piece->value, tokens, 2) : nullptr;
  return holder && holder->is_array() && !isSet(tokens[tokens.size() - 2]) ? holder : nullptr;
}

void PlacedEdit::putAsIn(PlacedEdit& from, const std::string& place) {
  const auto value = from.at(place);
  if (!value) return take(place);
  const bool isBack = !at(place);
  if (!put(place, *value) || !isBack) return;
  json *mine = listOf(place), *theirs = listOf(place) ? from.listOf(place) : nullptr;
  if (!mine || !theirs) return;
  // Behind the nearest that stood before it there.
  const std::string id = tokensOf(place).back();
  size_t to = 0;
  for (const json& item : *theirs) {
    if (item.value("id", "") == id) break;
    for (size_t i = 0; i + 1 < mine->size(); ++i)
      if ((*mine)[i].value("id", "") == item.value("id", "")) to = i + 1;
  }
  json moved = std::move(mine->back());
  mine->erase(mine->size() - 1);
  mine->insert(mine->begin() + std::ptrdiff_t(to), std::move(moved));
}

PlacedEdit::Done PlacedEdit::done() && {
  Done done{std::move(project_), {}};
  using Undo = std::function<void(Project&)>;
  std::vector<std::pair<std::string, Undo>> undo;
  for (const auto& [piece, now] : touched_) {
    const std::string id = tokensOf(piece)[1], kind = tokensOf(piece)[0];
    withList(done.project, kind, [&](auto& list) {
      using List = std::decay_t<decltype(list)>;
      using Item = typename List::value_type;
      const Item* there = byId(list, id);
      if (now.gone && !there) return;
      std::optional<Item> item;
      try {
        if (!now.gone) item = now.value.template get<Item>();
      } catch (const json::exception&) {  // of another kind than the place takes
        return done.refused.push_back(piece);
      }
      if (there && item && *there == *item) return;
      undo.emplace_back(piece, [kind, list](Project& p) {
        withList(p, kind, [&](auto& back) {
          if constexpr (std::is_same_v<std::decay_t<decltype(back)>, List>) back = list;
        });
      });
      if (!item)
        std::erase_if(list, [&](const Item& i) { return i.id == id; });
      else if (there)
        *byId(list, id) = std::move(*item);
      else
        list.push_back(std::move(*item));
    });
  }
  // Numbers out of their range, or a thing that others still need: the latest go first.
  for (; !undo.empty() && !unsound(done.project).empty(); undo.pop_back()) {
    undo.back().second(done.project);
    done.refused.push_back(undo.back().first);
  }
  return done;
}

std::vector<VariantChange> differences(const Project& from, const Project& to) {
  std::vector<VariantChange> all;
  differ(from.products, to.products, "/products/", all);
  differ(from.surfaces, to.surfaces, "/surfaces/", all);
  differ(from.rigs, to.rigs, "/rigs/", all);
  differ(from.shots, to.shots, "/shots/", all);
  std::erase_if(all, [](const VariantChange& c) {
    const Tokens tokens = tokensOf(c.at);
    return tokens.size() > 2 && tokens[0] == "shots" && tokens[2] == "choice";
  });
  return all;
}

bool isWithin(const std::string& place, const std::string& outer) {
  return place == outer || (place.starts_with(outer) && place[outer.size()] == '/');
}

std::string inWords(const Project& project, const std::string& place) {
  const Tokens tokens = tokensOf(place);
  if (tokens.size() < 2) return place;
  PlacedEdit edit(project);
  std::string words, at;
  for (size_t i = 0; i < tokens.size(); ++i) {
    at += "/" + escaped(tokens[i]);
    if (i == 0) continue;  // its kind is told by what it is
    const auto value = edit.at(at);
    std::string word;
    if (value && value->is_object() && value->contains("name") && (*value)["name"].is_string())
      word = (*value)["name"].get<std::string>();
    if (word.empty() && i > 1 && tokens[i].find(' ') == std::string::npos &&
        tokens[i].find('/') == std::string::npos)
      for (const char c : tokens[i])  // "turnDegrees": turn degrees
        word += std::isupper(static_cast<unsigned char>(c)) ? std::string(" ") + char(std::tolower(c))
                                                            : std::string(1, c);
    words += (words.empty() ? "" : ": ") + (word.empty() ? tokens[i] : word);
  }
  return words;
}

}  // namespace dusk
