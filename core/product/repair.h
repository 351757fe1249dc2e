#pragma once
#include <optional>

#include "core/product/model.h"

namespace dusk {

/// Makes a mesh as files hold it fit for tracing: vertices that agree in everything are joined, triangles
/// without area left out, triangles that face against their normals turned, and normals made where there are
/// none or `creaseDegrees` is given: area-weighted over the faces round a corner that bend by less than that
/// (40 degrees where it is not said). Without normals, neighbouring triangles are first made to agree, and a
/// closed body to face outward. `mesh.normals` is empty or one per vertex. Says what it did.
Repairs repair(Mesh& mesh, std::optional<double> creaseDegrees);

}  // namespace dusk
