#pragma once
#include <nlohmann/json.hpp>

#include "core/base/result.h"

/// The project file's JSON Schema, made from the tables that the file itself is written and read by.
namespace dusk::reference {

/// Every type of the document under `$defs` and the document itself, with what a new one holds as `default`.
nlohmann::json shapesOfTheDocument();

/// Adds what numbers may be (`minimum`, `maximum`): asked of `unsound`, which every document is held to, of a
/// document with one of everything. Fails when that document is not sound itself.
Outcome addLimits(nlohmann::json& schema);

}  // namespace dusk::reference
