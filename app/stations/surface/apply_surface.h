#pragma once
#include <string>

namespace dusk {

class Session;

/// Gives a part (of the placement said, else the one in hand) a surface or preset by its id, and with it all
/// parts that are selected together with it.
void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement = {});

/// The same with the surface that is on the clipboard, which becomes one of the project's; one that is there
/// already is shared.
void pasteSurface(Session& session, const std::string& part);

}  // namespace dusk
