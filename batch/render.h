#pragma once
#include "batch/verbs.h"
#include "core/deliver/order.h"

namespace dusk::batch {

/// "1920x1280". Error: something else.
Result<std::pair<int, int>> sizeFrom(const std::string& text);
IfThere ifThereFrom(const std::string& word);

}  // namespace dusk::batch
