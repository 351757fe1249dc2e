#include "core/deliver/order.h"

#include <nlohmann/json.hpp>

#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/file.h"
#include "core/project/json.h"
#include "core/project/links.h"
#include "core/variant/apply.h"

namespace dusk {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;
constexpr int newest = 1, mostSide = 1'000'000;
constexpr const char *ifThereWords[] = {"refuse", "replace", "keepBoth"},
                     *findingsWords[] = {"ignore", "warn", "stop"};

template <typename E, size_t n>
E wordAmong(const char* const (&words)[n], const std::string& word, E otherwise) {
  for (size_t i = 0; i < n; ++i)
    if (word == words[i]) return E(i);
  return otherwise;
}

Error noOrder(const std::string& why) {
  return {words("This does not say what is to be handed over: ") + why + ".", ErrorKind::unreadable};
}

}  // namespace

std::string Order::title() const {
  const std::string variant = variantName(project, shot().choice);
  return project.name + " · " + shot().name + (variant.empty() ? "" : " · " + variant);
}

DeliverOptions Order::options() const {
  DeliverOptions o;
  o.folder = folder, o.size = size, o.samples = samples, o.noise = noise, o.ifThere = ifThere, o.date = date;
  return o;
}

Project onlyShot(const Project& project, const Shot& shot, const AssetStore& assets) {
  Project one = project;
  one.shots = {shot};
  eachLink(one, [&](AssetRef& ref, LinkKind) { ref.path = fs::absolute(assets.pathOf(ref)).string(); });
  return one;
}

std::string toText(const Order& order) {
  json j = {{"gentleDuskOrder", newest},
            {"document", jsonFrom(toText(order.project))},
            {"folder", order.folder.string()},
            {"ifThere", ifThereWords[size_t(order.ifThere)]},
            {"onFindings", findingsWords[size_t(order.onFindings)]},
            {"threads", order.threads},
            {"date", order.date}};
  if (order.size) j["size"] = {order.size->first, order.size->second};
  if (order.samples) j["samples"] = *order.samples;
  if (order.noise) j["noise"] = *order.noise;
  return jsonText(j);
}

Result<Order> orderFrom(const std::string& text) {
  try {
    const json j = parsedJson(text);
    if (j.at("gentleDuskOrder").get<int>() > newest)
      return noOrder(words("it was written by a newer Gentle Dusk; use that version"));
    auto project = fromText(jsonText(j.at("document")));
    if (!project) return project.error();
    if (project->shots.size() != 1) return noOrder(words("it has no shot, or several"));
    Order order;
    order.project = std::move(*project);
    order.folder = j.at("folder").get<std::string>();
    order.ifThere = wordAmong(ifThereWords, j.value("ifThere", ""), IfThere::refuse);
    order.onFindings = wordAmong(findingsWords, j.value("onFindings", ""), OnFindings::warn);
    order.threads = std::clamp(j.value("threads", 0), 0, 1024), order.date = j.value("date", "");
    if (j.contains("size")) order.size = std::pair(j["size"].at(0).get<int>(), j["size"].at(1).get<int>());
    if (j.contains("samples")) order.samples = j["samples"].get<int>();
    if (j.contains("noise")) order.noise = j["noise"].get<double>();
    if ((order.size && (order.size->first < 1 || order.size->second < 1 || order.size->first > mostSide ||
                        order.size->second > mostSide)) ||
        (order.samples && *order.samples < 1) || (order.noise && !(*order.noise > 0)))
      return noOrder(words("its numbers are out of their range"));
    return order;
  } catch (const json::exception& error) {
    return noOrder(whatOf(error));
  }
}

}  // namespace dusk
