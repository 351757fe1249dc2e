#pragma once
#include "core/product/model.h"

namespace dusk {

/// Volume and area of a mesh where it is placed, with their first moments; inside out counts as well.
struct Mass {
  double volume = 0, area = 0;
  Vec3d byVolume{0, 0, 0}, byArea{0, 0, 0};
};
Mass massOf(const Mesh& mesh, const Similarity& place);

/// The corners of the convex hull of all parts and the centre of mass, for parts of one density: by the
/// volumes their triangles enclose, or by area where they enclose none. Qhull (Barber, Dobkin & Huhdanpaa
/// 1996, "The Quickhull algorithm for convex hulls"), after leaving out points well inside (Akl & Toussaint
/// 1978, "A fast convex hull algorithm"); flat or smaller models give their extreme corners.
Rest restOf(const Model& model);

/// The same of what the product shows: without hidden parts, with moved ones where they are. The model's own
/// where nothing is hidden or moved.
Rest restOf(const Product& product, const Model& model);

}  // namespace dusk
