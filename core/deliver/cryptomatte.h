#pragma once
#include <map>
#include <string>

#include "core/trace/passes.h"

namespace dusk {

/// ID mattes by the open Cryptomatte specification 1.2: ranks of pairs (hash of a name, cover), two pairs a
/// picture.
struct Cryptomatte {
  std::string name;                             ///< of the layer: "CryptoPart"
  std::vector<Picture> ranks;                   ///< R, G, B, A each: hash, cover, hash, cover
  std::map<std::string, std::string> metadata;  ///< for the file's header
};
/// `nameOf[id - 1]`: what the matte is by (a part's path, its surface, its product); ids of one name join.
Cryptomatte cryptomatte(const std::string& layer, const Passes& passes,
                        const std::vector<std::string>& nameOf);

/// MurmurHash3_x86_32 (Appleby 2011) with seed 0, as the specification asks.
uint32_t murmur3(const std::string& text);
/// A name's hash as a float that is neither denormal, infinite nor NaN.
float cryptomatteId(const std::string& name);

}  // namespace dusk
