#pragma once
#include <QString>
#include <string>
#include <vector>

namespace dusk {

class Workbench;

/// Gives the parts in hand the first surface of an open XML material file, read beside everything else; the
/// others join the project. Steps that share a non-zero gesture join. Without a part in hand that is said.
void openMaterialFile(Workbench& bench, const QString& file, int gesture = 0);

/// What was lost on the way, in one sentence for the notices; empty where nothing was.
QString lossOf(const std::vector<std::string>& lost);

}  // namespace dusk
