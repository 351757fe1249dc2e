#pragma once
#include "core/product/model.h"

namespace dusk {

/// The corners of the convex hull of all parts and the centre of mass, for parts of one density: by the
/// volumes their triangles enclose, or by area where they enclose none. Qhull (Barber, Dobkin & Huhdanpaa
/// 1996, "The Quickhull algorithm for convex hulls"); flat or smaller models give their extreme corners.
Rest restOf(const Model& model);

}  // namespace dusk
