#pragma once
#include <optional>

#include "core/product/model.h"

class TopoDS_Face;

namespace dusk {

/// Appends a face's triangulation with normals from the exact surface.
void appendFace(const TopoDS_Face& face, Mesh& mesh);

/// The centre line of a cylindrical face, in the shape's frame.
std::optional<RoundAxis> axisOf(const TopoDS_Face& face);

/// Adds an axis unless it is the line of one that is there; of two on one line the longer stays.
void addAxis(std::vector<RoundAxis>& axes, const RoundAxis& axis);

}  // namespace dusk
