#pragma once
#include <filesystem>
#include <memory>

#include "core/base/result.h"

namespace dusk {

/// A table of colours from a file: display code values to display code values. Immutable; safe to use from
/// many threads at once.
class ColourTable {
 public:
  virtual ~ColourTable() = default;
  /// In place, three channels interleaved, `count` pixels.
  virtual void apply(float* rgb, size_t count) const = 0;
};

/// Reads .cube (1D and 3D), .spi1d, .spi3d, .csp and what else OpenColorIO reads as a file of that kind.
/// Errors: it cannot be read, is larger than 64 MB, or gives something that is no number.
Result<std::shared_ptr<const ColourTable>> readColourTable(const std::filesystem::path& file);

}  // namespace dusk
