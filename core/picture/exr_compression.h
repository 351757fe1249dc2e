#pragma once

namespace dusk {

/// How an EXR is packed: without loss, but for dwaa, which gives up what the eye does not see of light and
/// leaves numbers (depth, identities) alone.
enum class ExrCompression { zip, zips, piz, dwaa, none };

}  // namespace dusk
