#include "core/product/model_file.h"

#include <cstring>

namespace dusk {
namespace {

constexpr char magic[8] = {'d', 'u', 's', 'k', 'm', 'd', 'l', '2'};

class Writer {
 public:
  std::string bytes;
  template <typename T>
  void put(const T& value) {
    static_assert(std::is_standard_layout_v<T>);
    bytes.append(reinterpret_cast<const char*>(&value), sizeof value);
  }
  void text(const std::string& s) {
    put(uint64_t(s.size()));
    bytes += s;
  }
  template <typename T>
  void list(const std::vector<T>& v) {
    put(uint64_t(v.size()));
    bytes.append(reinterpret_cast<const char*>(v.data()), v.size() * sizeof(T));
  }
};

/// Reads past the end give zeros and set `bad`.
class Reader {
 public:
  explicit Reader(std::span<const char> bytes) : bytes_(bytes) {}
  bool bad = false;

  template <typename T>
  T get() {
    T value{};
    take(&value, sizeof value);
    return value;
  }
  std::string text() {
    std::string s(count(1), '\0');
    take(s.data(), s.size());
    return s;
  }
  template <typename T>
  std::vector<T> list() {
    std::vector<T> v(count(sizeof(T)));
    take(v.data(), v.size() * sizeof(T));
    return v;
  }
  /// A count of items of `size` bytes that can still follow.
  size_t count(size_t size) {
    const auto n = get<uint64_t>();
    if (n > (bytes_.size() - at_) / size) return bad = true, 0;
    return size_t(n);
  }

 private:
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

bool consistent(const Model& model) {
  for (const Part& p : model.parts) {
    const size_t n = p.mesh.positions.size();
    if (p.mesh.normals.size() != n || (!p.mesh.uvs.empty() && p.mesh.uvs.size() != n) ||
        p.mesh.indices.size() % 3)
      return false;
    for (const uint32_t i : p.mesh.indices)
      if (i >= n) return false;
    if (p.parent >= int(model.groups.size())) return false;
  }
  for (size_t i = 0; i < model.groups.size(); ++i)
    if (model.groups[i].parent >= int(i)) return false;
  return true;
}

}  // namespace

std::string modelBytes(const Model& model) {
  Writer w;
  w.put(magic);
  w.put(model.metresPerUnit);
  w.text(model.unitReason);
  w.put(int32_t(model.up));
  w.put(uint64_t(model.groups.size()));
  for (const Group& g : model.groups) w.text(g.path), w.text(g.name), w.put(int32_t(g.parent));
  w.put(uint64_t(model.parts.size()));
  for (const Part& p : model.parts) {
    w.text(p.path), w.text(p.name), w.put(int32_t(p.parent));
    w.put(uint8_t(p.hasColour)), w.put(p.colour);
    w.list(p.mesh.positions), w.list(p.mesh.normals), w.list(p.mesh.uvs), w.list(p.mesh.indices);
  }
  w.list(model.rest.hull);
  w.put(model.rest.centreOfMass);
  return std::move(w.bytes);
}

Result<Model> modelFromBytes(std::span<const char> bytes) {
  const Error damaged{"The imported model is damaged. Import it again.", ErrorKind::unreadable};
  if (bytes.size() < sizeof magic || std::memcmp(bytes.data(), magic, sizeof magic) != 0) return damaged;
  Reader r(bytes.subspan(sizeof magic));
  Model model;
  model.metresPerUnit = r.get<double>();
  model.unitReason = r.text();
  model.up = UpAxis(std::clamp(r.get<int32_t>(), 0, 2));
  model.groups.resize(r.count(8));
  for (Group& g : model.groups) g.path = r.text(), g.name = r.text(), g.parent = r.get<int32_t>();
  model.parts.resize(r.count(8));
  for (Part& p : model.parts) {
    p.path = r.text(), p.name = r.text(), p.parent = r.get<int32_t>();
    p.hasColour = r.get<uint8_t>(), p.colour = r.get<Vec3f>();
    p.mesh.positions = r.list<Vec3f>(), p.mesh.normals = r.list<Vec3f>();
    p.mesh.uvs = r.list<Vec2f>(), p.mesh.indices = r.list<uint32_t>();
  }
  model.rest.hull = r.list<Vec3f>();
  model.rest.centreOfMass = r.get<Vec3f>();
  if (r.bad || !(model.metresPerUnit > 0) || !consistent(model)) return damaged;
  return model;
}

}  // namespace dusk
