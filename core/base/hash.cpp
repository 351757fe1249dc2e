#include "core/base/hash.h"

#include "core/base/words.h"

#include <xxhash.h>

#include <cstdio>
#include <memory>
#include <vector>

namespace dusk {
namespace {

std::string hex(XXH128_hash_t h) {
  char text[33];
  std::snprintf(text, sizeof text, "%016llx%016llx", static_cast<unsigned long long>(h.high64),
                static_cast<unsigned long long>(h.low64));
  return text;
}

}  // namespace

std::string hashBytes(const void* data, size_t size) { return hex(XXH3_128bits(data, size)); }

Result<std::string> hashFile(const std::filesystem::path& file) {
  std::unique_ptr<FILE, int (*)(FILE*)> in(std::fopen(file.c_str(), "rb"), std::fclose);
  if (!in)
    return Error{
        words("Cannot open ") + file.string() + words(". Check that it is still there and readable."),
        ErrorKind::unreadable};
  std::unique_ptr<XXH3_state_t, XXH_errorcode (*)(XXH3_state_t*)> state(XXH3_createState(), XXH3_freeState);
  XXH3_128bits_reset(state.get());
  std::vector<char> block(1 << 20);
  while (const size_t got = std::fread(block.data(), 1, block.size(), in.get()))
    XXH3_128bits_update(state.get(), block.data(), got);
  if (std::ferror(in.get()))
    return Error{words("Reading ") + file.string() + words(" failed half way."), ErrorKind::unreadable};
  return hex(XXH3_128bits_digest(state.get()));
}

}  // namespace dusk
