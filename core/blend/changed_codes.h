#pragma once
#include "core/blend/scopes.h"

namespace dusk {

/// A picture changed as two smaller ones of it say, in codes: `fine` and, looked up between pixels, what
/// `now` has more than `before`. The detail of `fine` stays, though not how strong it would be by now.
/// `before` and `now` have one size; `out`, with `stride` pixels from a row to the next, that of `fine`.
void changedCodes(const CodeView& fine, const CodeView& before, const CodeView& now, uint32_t* out,
                  size_t stride);

}  // namespace dusk
