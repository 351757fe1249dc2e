#pragma once
#include <optional>
#include <string>

#include "core/project/project.h"

namespace dusk {

class Session;

/// A surface by its id: one of the project's, of the library, or of the person's own.
std::optional<Surface> surfaceNamed(const Session& session, const std::string& id);

/// Gives a part (of the placement said, else the one in hand) a surface by its id, and with it all parts that
/// are selected together with it.
void applySurface(Session& session, const std::string& surface, const std::string& part,
                  const std::string& placement = {}, int gesture = 0);

/// The same with the surface that is on the clipboard, which becomes one of the project's; one that is there
/// already is shared.
void pasteSurface(Session& session, const std::string& part);

/// Gives the selected parts a surface of their own, like the one they have or like their file says, with its
/// textures.
void giveOwnSurface(Session& session);

/// Every part, of all products, that has the surface of the part in hand gets another.
void replaceSurface(Session& session, const std::string& surface);

/// Takes all parts of the product in hand together that have the surface of the part in hand; from then on,
/// what is done to one of them is done to all.
void selectBySurface(Session& session);

/// A surface tried on while it is held over a part: worn at once, taken off when it is carried on, and kept,
/// as one step, when it is let go there.
class SurfaceTrial {
 public:
  explicit SurfaceTrial(Session& session) : session_(session) {}
  /// An empty part: over none.
  void hold(const std::string& surface, const std::string& part, const std::string& placement);
  void keep();

 private:
  Session& session_;
  int gesture_ = 0;
};

}  // namespace dusk
