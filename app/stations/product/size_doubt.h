#pragma once
#include "app/document/session.h"
#include "core/product/plausible.h"

namespace dusk {

/// Whether the product in hand, where it stands, can be as large as its file says.
std::optional<SizeDoubt> sizeDoubt(const Session& session);
/// "Read as millimetre": what would settle a doubt.
QString readAs(const LengthUnit& unit);
/// Reads the file of the product in hand in another unit; a set that suits the product suits it then.
void readIn(const Session& session, Project& project, double metresPerUnit);
/// The same, as an edit.
void correctUnit(Session& session, double metresPerUnit);

}  // namespace dusk
