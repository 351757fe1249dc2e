#include "core/variant/apply.h"

#include <algorithm>
#include <set>
#include <sstream>

#include "core/base/json_text.h"
#include "core/base/lower.h"
#include "core/base/words.h"
#include "core/project/json.h"
#include "core/variant/edit.h"

namespace dusk {
namespace {
using nlohmann::json;

/// The changes of a choice in the order they act, with whose they are.
struct Acting {
  const VariantAxis* axis;
  const VariantOption* option;
  const VariantChange* change;
};
std::vector<Acting> actingIn(const Project& project, const VariantChoice& choice) {
  std::vector<Acting> all;
  for (const VariantAxis& axis : project.axes)
    if (const VariantOption* option = chosenOf(axis, choice))
      for (const VariantChange& change : option->changes) all.push_back({&axis, option, &change});
  return all;
}

std::optional<json> valueOf(const VariantChange& change) {
  if (change.gone) return {};
  json value = jsonFrom(change.to);
  return value.is_discarded() ? std::nullopt : std::optional(std::move(value));
}

/// As it is compared: small, and without blanks round it.
std::string plain(const std::string& typed) {
  const std::string text = lower(typed);
  const size_t first = text.find_first_not_of(' '), last = text.find_last_not_of(' ');
  return first == std::string::npos ? "" : text.substr(first, last - first + 1);
}

/// Which shots there are, and what is of a shot's film, its files and the looks back at it, not of what it
/// shows: it is one for all.
bool isOfEveryVariant(const std::string& place) {
  static const std::set<std::string> fields{"render",       "deliverables", "frames",  "handOver", "motion",
                                            "keptVantages", "snapshots",    "cameras", "name"};
  if (!place.starts_with("/shots/")) return place == "/name";
  const size_t shot = place.find('/', 7);
  if (shot == std::string::npos) return true;
  return fields.contains(place.substr(shot + 1, place.find('/', shot + 1) - shot - 1));
}

template <typename T>
const T* meant(const std::vector<T>& all, const std::string& word) {
  for (const T& item : all)
    if (plain(item.name) == word || plain(item.id) == word) return &item;
  return nullptr;
}
template <typename T>
std::string namesOf(const std::vector<T>& all) {
  std::string names;
  for (const T& item : all) names += (names.empty() ? "" : ", ") + item.name;
  return names.empty() ? "none" : names;
}

}  // namespace

const VariantOption* chosenOf(const VariantAxis& axis, const VariantChoice& choice) {
  if (axis.options.empty()) return nullptr;
  const auto named = choice.find(axis.id);
  const VariantOption* option = named == choice.end() ? nullptr : byId(axis.options, named->second);
  return option ? option : &axis.options.front();
}

Applied applied(const Project& project, const VariantChoice& choice) {
  const auto acting = actingIn(project, choice);
  Applied result{project, {}};
  if (acting.empty()) return result;
  PlacedEdit edit(project);
  const auto lose = [&](const Acting& a) {
    result.lost.push_back(words("The option ") + a.option->name + words(" of ") + a.axis->name +
                          words(" changes \"") + inWords(project, a.change->at) +
                          words("\", which is not there any more or takes no such value."));
  };
  for (const Acting& a : acting) {
    const auto value = valueOf(*a.change);
    if (a.change->gone)
      edit.take(a.change->at);
    else if (!value || !edit.put(a.change->at, *value))
      lose(a);
  }
  auto done = std::move(edit).done();
  result.project = std::move(done.project);
  for (const Acting& a : acting)
    for (const std::string& piece : done.refused)
      if (isWithin(a.change->at, piece)) lose(a);
  return result;
}

Project routed(const Project& base, const VariantChoice& choice, const Project& shown, const Project& wanted,
               const std::string& recorded) {
  const auto acting = actingIn(base, choice);
  if (acting.empty() && recorded.empty()) return wanted;
  PlacedEdit was(base), is(wanted), next(wanted);
  Project options = wanted;  // its axes alone are changed here
  const auto edits = differences(shown, wanted);
  const VariantAxis* into = optionIn(base, recorded).first;
  // A later axis has the last word: recorded there, an earlier one's value stays its own.
  const auto recordsOver = [&](const Acting& a, const VariantChange& e) {
    return into > a.axis && e.at == a.change->at;
  };
  const auto touches = [&](const Acting& a, const VariantChange& e) {
    return (isWithin(e.at, a.change->at) || isWithin(a.change->at, e.at)) && !recordsOver(a, e);
  };
  for (const Acting& a : acting) {
    const std::string& place = a.change->at;
    const auto before = was.at(place), now = is.at(place);
    if (std::any_of(edits.begin(), edits.end(), [&](const VariantChange& e) { return touches(a, e); }))
      if (VariantOption* option = optionIn(options, a.option->id).second) {
        const auto same = [&](const VariantChange& c) { return c.at == place; };
        if (now == before)
          std::erase_if(option->changes, same);
        else
          for (VariantChange& c : option->changes)
            if (same(c)) c = {place, now ? now->dump() : "", !now};
      }
    next.putAsIn(was, place);
  }
  if (VariantOption* option = optionIn(options, recorded).second)
    for (const VariantChange& e : edits) {
      if (isOfEveryVariant(e.at)) continue;
      if (std::any_of(acting.begin(), acting.end(), [&](const Acting& a) { return touches(a, e); })) continue;
      // What it gave further in is now part of this.
      std::erase_if(option->changes, [&](const VariantChange& c) { return isWithin(c.at, e.at); });
      option->changes.push_back(e);
      next.putAsIn(was, e.at);
    }
  Project result = std::move(next).done().project;
  result.axes = std::move(options.axes);
  return result;
}

bool isExcluded(const Project& project, const VariantChoice& choice) {
  const auto has = [&](const std::string& id) {
    return std::any_of(project.axes.begin(), project.axes.end(), [&](const VariantAxis& axis) {
      const VariantOption* option = chosenOf(axis, choice);
      return option && option->id == id;
    });
  };
  return std::any_of(project.excluded.begin(), project.excluded.end(),
                     [&](const ExcludedPair& pair) { return has(pair.one) && has(pair.other); });
}

Result<std::vector<VariantChoice>> everyChoice(const Project& project, size_t most) {
  std::vector<VariantChoice> all{{}};
  for (const VariantAxis& axis : project.axes) {
    if (axis.options.empty()) continue;
    if (all.size() * axis.options.size() > most)
      return Error{words("The axes have more than ") + std::to_string(most) +
                   words(" variants together. Exclude pairs, or hand over a chosen few.")};
    std::vector<VariantChoice> more;
    for (const VariantChoice& choice : all)
      for (const VariantOption& option : axis.options) {
        more.push_back(choice);
        more.back()[axis.id] = option.id;
      }
    all = std::move(more);
  }
  std::erase_if(all, [&](const VariantChoice& choice) { return isExcluded(project, choice); });
  return all;
}

std::string variantName(const Project& project, const VariantChoice& choice) {
  std::string name;
  for (const VariantAxis& axis : project.axes)
    if (const VariantOption* option = chosenOf(axis, choice))
      name += (name.empty() ? "" : "-") + option->name;
  return name;
}

Result<VariantChoice> choiceFrom(const Project& project, const VariantChoice& from, const std::string& text) {
  VariantChoice choice = from;
  std::istringstream pairs(text);
  for (std::string pair; std::getline(pairs, pair, ',');) {
    if (plain(pair).empty()) continue;
    const size_t equals = pair.find('=');
    const VariantAxis* axis = meant(project.axes, plain(pair.substr(0, equals)));
    if (!axis)
      return Error{words("There is no axis called \"") + pair.substr(0, equals) + words("\"; there are: ") +
                       namesOf(project.axes) + ".",
                   ErrorKind::unreadable};
    const VariantOption* option =
        equals == std::string::npos ? nullptr : meant(axis->options, plain(pair.substr(equals + 1)));
    if (!option)
      return Error{axis->name + words(" has no such option as in \"") + pair + words("\"; it has: ") +
                       namesOf(axis->options) + ".",
                   ErrorKind::unreadable};
    choice[axis->id] = option->id;
  }
  if (isExcluded(project, choice))
    return Error{variantName(project, choice) + words(" is excluded: two of its options cannot be together."),
                 ErrorKind::unreadable};
  return choice;
}

}  // namespace dusk
