#pragma once
#include "batch/verbs.h"
#include "core/deliver/order.h"

namespace dusk::batch {

/// "1920x1280"; nothing where none was typed. Error: something else.
Result<std::optional<std::pair<int, int>>> sizeFrom(const std::string& text);
/// A shot of a project beside which `assets` lie, as fine and as large as was typed. Error: the size.
Result<Order> orderFor(const Request& request, const Project& project, const Shot& shot,
                       const AssetStore& assets, const std::filesystem::path& folder);
/// "2/8". Error: something else.
Result<TracePart> partFrom(const std::string& text);
/// What is rendered: a project, or what the recipe beside a file says of it.
struct Source {
  Project project;
  DeliverOptions options;
};
/// Error: it cannot be read, or the size.
Result<Source> sourceOf(const Request& request);
IfThere ifThereFrom(const std::string& word);

}  // namespace dusk::batch
