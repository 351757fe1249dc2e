#include "core/product/model_file.h"

#include <algorithm>
#include <array>
#include <cstring>

namespace dusk {
namespace {

constexpr char magic[8] = {'d', 'u', 's', 'k', 'm', 'd', 'l', '9'};

class Writer {
 public:
  std::string bytes;
  template <typename T>
  void operator()(const T& value) {
    static_assert(std::is_standard_layout_v<T>);
    bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
  }
  void operator()(const std::string& s) {
    (*this)(uint64_t(s.size()));
    bytes += s;
  }
  template <typename T>
  void operator()(const std::vector<T>& v) {
    (*this)(uint64_t(v.size()));
    bytes.append(reinterpret_cast<const char*>(v.data()), v.size() * sizeof(T));
  }
  template <typename T, typename Each>
  void operator()(const std::vector<T>& list, const Each& one) {
    (*this)(uint64_t(list.size()));
    for (const T& item : list) one(item);
  }
};

/// Reads past the end give zeros and set `bad`.
class Reader {
 public:
  explicit Reader(std::span<const char> bytes) : bytes_(bytes) {}
  bool bad = false;

  template <typename T>
  void operator()(T& value) {
    static_assert(std::is_standard_layout_v<T>);
    take(&value, sizeof value);
  }
  void operator()(bool& value) {
    uint8_t byte = 0;
    take(&byte, 1);
    value = byte != 0;
  }
  void operator()(std::string& s) {
    s.resize(count(1));
    take(s.data(), s.size());
  }
  template <typename T>
  void operator()(std::vector<T>& v) {
    v.resize(count(sizeof(T)));
    take(v.data(), v.size() * sizeof(T));
  }
  template <typename T, typename Each>
  void operator()(std::vector<T>& list, const Each& one) {
    list.resize(count(8));
    for (T& item : list) one(item);
  }

 private:
  /// A count of items of `size` bytes that can still follow.
  size_t count(size_t size) {
    uint64_t n = 0;
    take(&n, sizeof n);
    if (n > (bytes_.size() - at_) / size) return bad = true, 0;
    return size_t(n);
  }
  void take(void* to, size_t size) {
    if (bad || size > bytes_.size() - at_) {
      bad = true;
      return;
    }
    if (size) std::memcpy(to, bytes_.data() + at_, size);
    at_ += size;
  }
  std::span<const char> bytes_;
  size_t at_ = 0;
};

/// All that a material may refer to.
constexpr int FileMaterial::*textureFields[] = {&FileMaterial::colourTexture,
                                                &FileMaterial::metalRoughTexture,
                                                &FileMaterial::normalTexture,
                                                &FileMaterial::emissionTexture,
                                                &FileMaterial::sheenColourTexture,
                                                &FileMaterial::clearcoatTexture,
                                                &FileMaterial::clearcoatRoughnessTexture,
                                                &FileMaterial::clearcoatNormalTexture,
                                                &FileMaterial::transmissionTexture,
                                                &FileMaterial::sheenRoughnessTexture,
                                                &FileMaterial::specularTexture,
                                                &FileMaterial::filmTexture};

bool consistent(const Model& model) {
  for (const Mesh& m : model.meshes) {
    const size_t n = m.positions.size();
    const auto fits = [&](const auto& list) { return list.empty() || list.size() == n; };
    if (m.normals.size() != n || !fits(m.uvs) || !fits(m.colours) || m.indices.size() % 3) return false;
    if (std::any_of(m.indices.begin(), m.indices.end(), [&](uint32_t i) { return i >= n; })) return false;
  }
  const auto within = [](int index, size_t count) { return index >= -1 && index < int(count); };
  for (const Part& p : model.parts)
    if (p.mesh < 0 || !within(p.mesh, model.meshes.size()) || !within(p.parent, model.groups.size()) ||
        !within(p.material, model.materials.size()) || !(p.place.scale > 0))
      return false;
  for (size_t i = 0; i < model.groups.size(); ++i)
    if (!within(model.groups[i].parent, i)) return false;
  for (const FileTexture& t : model.textures)
    if (t.width <= 0 || t.height <= 0 || t.rgba.size() != size_t(t.width) * size_t(t.height) * 4)
      return false;
  for (const FileMaterial& m : model.materials)
    for (const auto texture : textureFields)
      if (!within(m.*texture, model.textures.size())) return false;
  return true;
}

/// Everything of a model in one order, for the writer and the reader alike. `io` puts or gets each field.
template <typename Io, typename M>
void each(Io& io, M& model) {
  io(model.metresPerUnit), io(model.unitReason), io(model.up), io(model.chordM), io(model.repairs);
  io(model.groups, [&](auto& g) { io(g.path), io(g.name), io(g.parent); });
  io(model.parts, [&](auto& p) {
    io(p.path), io(p.name), io(p.parent), io(p.mesh), io(p.place), io(p.material), io(p.layer),
        io(p.hiddenInFile), io(p.axes);
  });
  io(model.meshes, [&](auto& m) { io(m.positions), io(m.normals), io(m.uvs), io(m.colours), io(m.indices); });
  io(model.materials, [&](auto& m) {
    io(m.name), io(m.hasColour), io(m.vertexColours), io(m.colour), io(m.emission), io(m.metalness),
        io(m.roughness), io(m.ior), io(m.transmission), io(m.clearcoat), io(m.clearcoatRoughness),
        io(m.alpha), io(m.cutAt);
    io(m.specular), io(m.anisotropy), io(m.anisotropyTurn), io(m.abbe), io(m.sheenColour),
        io(m.sheenRoughness), io(m.absorptionColour), io(m.absorptionDepthM), io(m.thinWalled), io(m.film),
        io(m.filmIor), io(m.filmThinNm), io(m.filmThickNm), io(m.normalStrength);
    for (const auto texture : textureFields) io(m.*texture);
  });
  io(model.textures, [&](auto& t) { io(t.name), io(t.width), io(t.height), io(t.rgba); });
  io(model.sideFiles, [&](auto& f) { io(f.name), io(f.path), io(f.hash), io(f.unread); });
  io(model.rest.hull), io(model.rest.centreOfMass);
  std::array<char, sizeof magic> end = std::to_array(magic);  // shows that the file is there to its end
  io(end);
  if constexpr (!std::is_const_v<M>)
    if (end != std::to_array(magic)) model.meshes.clear(), model.parts.clear();
}

}  // namespace

std::string modelBytes(const Model& model) {
  Writer w;
  size_t heavy = 4096;
  for (const Mesh& m : model.meshes) heavy += m.positions.size() * 32 + m.indices.size() * 4;
  for (const FileTexture& t : model.textures) heavy += t.rgba.size();
  w.bytes.reserve(heavy);
  w(magic);
  each(w, model);
  return std::move(w.bytes);
}

Result<Model> modelFromBytes(std::span<const char> bytes) {
  const Error damaged{"The imported model is damaged. Import it again.", ErrorKind::unreadable};
  if (bytes.size() < sizeof magic || std::memcmp(bytes.data(), magic, sizeof magic) != 0) return damaged;
  Reader r(bytes.subspan(sizeof magic));
  Model model;
  each(r, model);
  model.up = UpAxis(std::clamp(int(model.up), 0, 2));
  if (r.bad || !(model.metresPerUnit > 0) || !consistent(model)) return damaged;
  return model;
}

}  // namespace dusk
