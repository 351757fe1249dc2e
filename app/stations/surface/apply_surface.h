#pragma once
#include <string>

namespace dusk {

class Session;

/// Gives a part (of the placement said, else the one in hand) a surface or preset by its id, and with it all
/// parts that are selected together with it.
void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement = {});

}  // namespace dusk
