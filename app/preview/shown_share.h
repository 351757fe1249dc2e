#pragma once
#include "app/document/selection.h"

namespace dusk {

/// What of the blend the picture makes plain, by turning the rest grey: where the masks of a row or
/// correction act, or what a cut-out takes, by its id.
struct ShownShare {
  BlendPlace masks{};
  std::string cutOut{};  ///< empty: the masks
  bool operator==(const ShownShare&) const = default;
};

}  // namespace dusk
