#include "core/product/read_gltf_file.h"

#include <meshoptimizer.h>

#include <cstring>
#include <fstream>

#include "core/base/files.h"
#include "core/base/json_text.h"

namespace dusk {
namespace fs = std::filesystem;
using nlohmann::json;

namespace {

std::string fromBase64(std::string_view text) {
  std::string out;
  uint32_t bits = 0;
  int count = 0;
  for (const char c : text) {
    const int v = c >= 'A' && c <= 'Z'   ? c - 'A'
                  : c >= 'a' && c <= 'z' ? c - 'a' + 26
                  : c >= '0' && c <= '9' ? c - '0' + 52
                  : c == '+'             ? 62
                  : c == '/'             ? 63
                                         : -1;
    if (v < 0) continue;
    bits = bits << 6 | uint32_t(v), count += 6;
    if (count >= 8) out += char(bits >> (count -= 8) & 0xff);
  }
  return out;
}

/// A part of a file; nothing where it has not so much.
std::string slice(const fs::path& file, uint64_t from, uint64_t length) {
  std::error_code code;
  const uint64_t size = fs::file_size(file, code);
  if (code || from > size || length > size - from) return {};
  std::ifstream in(file, std::ios::binary);
  std::string bytes(size_t(length), '\0');
  in.seekg(std::streamoff(from));
  return in.read(bytes.data(), std::streamsize(length)) ? bytes : std::string();
}

/// The data that a URI holds itself; nothing where it names a file.
std::optional<std::string> ownData(const std::string& uri) {
  if (!uri.starts_with("data:")) return {};
  const size_t comma = uri.find(',');
  return comma == std::string::npos ? "" : fromBase64(std::string_view(uri).substr(comma + 1));
}

uint32_t wordAt(const std::string& bytes, size_t at) {  // little-endian, as this machine
  uint32_t word = 0;
  std::memcpy(&word, bytes.data() + at, 4);
  return word;
}

constexpr uint64_t mostBytes = uint64_t{2} << 30;

/// What the extension EXT_meshopt_compression packed; nothing where that is damaged. The library checks what
/// it unpacks, and takes for granted what it is told of it.
std::string unpacked(const std::string& packed, const json& how) {
  const auto count = how.at("count").get<uint64_t>(), stride = how.at("byteStride").get<uint64_t>();
  const std::string mode = how.at("mode").get<std::string>(), filter = how.value("filter", "NONE");
  const bool isVertices = mode == "ATTRIBUTES", isTriangles = mode == "TRIANGLES";
  if (isVertices ? stride == 0 || stride % 4 != 0 || stride > 256 : stride != 2 && stride != 4) return {};
  if (count == 0 || count > mostBytes / stride || (isTriangles && count % 3 != 0)) return {};
  std::string bytes(size_t(count * stride), '\0');
  const auto* from = reinterpret_cast<const unsigned char*>(packed.data());
  void* to = bytes.data();
  const int failed =
      isVertices    ? meshopt_decodeVertexBuffer(to, size_t(count), size_t(stride), from, packed.size())
      : isTriangles ? meshopt_decodeIndexBuffer(to, size_t(count), size_t(stride), from, packed.size())
                    : meshopt_decodeIndexSequence(to, size_t(count), size_t(stride), from, packed.size());
  if (failed) return {};
  if (filter == "OCTAHEDRAL" && (stride == 4 || stride == 8))
    meshopt_decodeFilterOct(bytes.data(), size_t(count), size_t(stride));
  else if (filter == "QUATERNION" && stride == 8)
    meshopt_decodeFilterQuat(bytes.data(), size_t(count), size_t(stride));
  else if (filter == "EXPONENTIAL")
    meshopt_decodeFilterExp(bytes.data(), size_t(count), size_t(stride));
  else if (filter != "NONE")
    return {};
  return bytes;
}

}  // namespace

const json& member(const json& of, const char* key) {
  static const json none;
  const auto found = of.find(key);
  return found == of.end() ? none : *found;
}

/// The file that a URI names; nothing where that is on the network, or nowhere.
std::optional<fs::path> GltfFile::fileOf(const std::string& uri) const {
  return uri.find("://") == std::string::npos ? sides_.find(uriDecoded(uri)) : std::nullopt;
}

GltfFile::GltfFile(fs::path file, SideFiles& sides) : file_(std::move(file)), sides_(sides) {
  // A binary file's text comes first, its data after it: those are only read where a picture lies in them.
  constexpr size_t head = 20;
  const std::string begin = slice(file_, 0, head);
  std::string text;
  if (begin.starts_with("glTF") && begin.substr(16, 4) == "JSON") {
    const uint64_t length = wordAt(begin, 12);
    text = slice(file_, head, length);
    binaryAt_ = head + length + 8;
  } else if (auto whole = readFile(file_)) {
    text = std::move(*whole);
  }
  json_ = jsonFrom(text);
}

std::string GltfFile::view(size_t index) const {
  const json& view = json_.at("bufferViews").at(index);
  const json& packed = member(member(view, "extensions"), "EXT_meshopt_compression");
  return packed.is_object() ? unpacked(inBuffer(packed), packed) : inBuffer(view);
}

std::string GltfFile::image(const json& image) const {
  const json& uri = member(image, "uri");
  if (!uri.is_string()) return view(image.at("bufferView").get<size_t>());
  if (auto data = ownData(uri.get_ref<const std::string&>())) return *data;
  const auto file = fileOf(uri.get_ref<const std::string&>());
  const auto bytes = file ? readFile(*file) : Result<std::string>(std::string());
  return bytes ? *bytes : "";
}

/// `where`: an object with a buffer, and where in it.
std::string GltfFile::inBuffer(const json& where) const {
  const auto from = where.value("byteOffset", uint64_t(0)), length = where.at("byteLength").get<uint64_t>();
  const auto buffer = where.at("buffer").get<size_t>();
  const json& uri = member(json_.at("buffers").at(buffer), "uri");
  if (!uri.is_string()) return binaryAt_ ? slice(file_, binaryAt_ + from, length) : "";
  if (!ownData_.contains(buffer))  // many views lie in one
    if (auto data = ownData(uri.get_ref<const std::string&>())) ownData_[buffer] = std::move(*data);
  if (const auto own = ownData_.find(buffer); own != ownData_.end()) {
    const std::string& data = own->second;
    return from <= data.size() && length <= data.size() - from ? data.substr(from, length) : "";
  }
  const auto file = fileOf(uri.get_ref<const std::string&>());
  return file ? slice(*file, from, length) : "";
}

}  // namespace dusk
