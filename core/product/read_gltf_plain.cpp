#include <draco/compression/decode.h>

#include <cstring>

#include "core/product/read_gltf_file.h"

namespace dusk {
namespace {

using nlohmann::json;

constexpr int floats = 5126, wholeNumbers = 5125;
constexpr const char *draco = "KHR_draco_mesh_compression", *meshopt = "EXT_meshopt_compression",
                     *quantised = "KHR_mesh_quantization", *instancing = "EXT_mesh_gpu_instancing";
constexpr uint64_t mostValues = uint64_t{1} << 29;

struct Unreadable {
  std::string why;
};

size_t componentsOf(const json& accessor) {
  const std::string type = accessor.at("type").get<std::string>();
  return type == "SCALAR" ? 1 : type == "VEC2" ? 2 : type == "VEC3" ? 3 : 4;
}
template <typename T>
float numberAt(const char* from) {
  T number;
  std::memcpy(&number, from, sizeof number);
  return float(number);
}
/// How numbers lie in a file.
struct NumberKind {
  int componentType;
  size_t bytes;
  float whole;  ///< what 1 is, where they are shares of it
  float (*at)(const char*);
};
constexpr NumberKind numberKinds[] = {
    {5120, 1, 127, numberAt<int8_t>},         {5121, 1, 255, numberAt<uint8_t>},
    {5122, 2, 32767, numberAt<int16_t>},      {5123, 2, 65535, numberAt<uint16_t>},
    {wholeNumbers, 4, 1, numberAt<uint32_t>}, {floats, 4, 1, numberAt<float>}};
const NumberKind& kindOf(const json& accessor) {
  const int type = accessor.at("componentType").get<int>();
  for (const NumberKind& kind : numberKinds)
    if (kind.componentType == type) return kind;
  throw Unreadable{"it has numbers of a kind that glTF does not know"};
}
bool isShare(const json& accessor) { return accessor.value("normalized", false); }

/// What a shape is drawn with; joints and weights are of what moves.
bool isOfShape(const std::string& attribute) {
  return attribute == "POSITION" || attribute == "NORMAL" || attribute == "TANGENT" ||
         attribute.starts_with("TEXCOORD_") || attribute.starts_with("COLOR_");
}

/// `act(primitive)` for each of a file's.
template <typename Json, typename Act>
void eachPrimitive(Json& text, const Act& act) {
  if (!text.contains("meshes")) return;
  for (auto& mesh : text.at("meshes"))
    for (auto& primitive : mesh.at("primitives")) act(primitive);
}

bool isPacked(const json& text) {
  for (const json& view : member(text, "bufferViews"))
    if (member(view, "extensions").contains(meshopt)) return true;
  for (const json& node : member(text, "nodes"))
    if (member(node, "extensions").contains(instancing)) return true;
  bool packed = false;
  eachPrimitive(text, [&](const json& primitive) {
    packed |= member(primitive, "extensions").contains(draco);
    for (const auto& [name, accessor] : primitive.at("attributes").items())
      packed |= isOfShape(name) && !name.starts_with("COLOR_") &&
                text.at("accessors").at(accessor.get<size_t>()).value("componentType", floats) != floats;
  });
  return packed;
}

class Unpacking {
 public:
  explicit Unpacking(const GltfFile& file) : file_(file), text_(file.text()) {}

  std::string run() {
    const size_t views = member(text_, "bufferViews").size();
    json& list = text_["bufferViews"] = json::array();
    for (size_t i = 0; i < views; ++i) {
      const json& old = file_.text()["bufferViews"][i];
      std::string bytes = file_.view(i);
      if (bytes.empty() && old.at("byteLength").get<uint64_t>() > 0)
        throw Unreadable{"a part of its data is missing or damaged"};
      const size_t at = addView(bytes);
      if (old.contains("byteStride")) list[at]["byteStride"] = old["byteStride"];
    }
    eachPrimitive(text_, [&](json& primitive) {
      if (member(primitive, "extensions").contains(draco)) unpackMesh(primitive);
      if (primitive.contains("targets")) primitive.erase("targets");  // shapes that it could change into
      for (const auto& [name, accessor] : primitive.at("attributes").items())
        if (isOfShape(name)) toFloats(accessor.get<size_t>());
    });
    placeInstances();
    for (const char* key : {"extensionsUsed", "extensionsRequired"}) {
      if (!text_.contains(key)) continue;
      json left = json::array();
      for (const json& name : text_[key])
        if (name != draco && name != meshopt && name != quantised && name != instancing) left.push_back(name);
      text_.erase(key);
      if (!left.empty()) text_[key] = left;
    }
    text_["buffers"] = {{{"byteLength", data_.size()}}};
    return asBinary();
  }

 private:
  size_t addView(const std::string& bytes) {
    data_.resize((data_.size() + 3) / 4 * 4, '\0');
    text_["bufferViews"].push_back(
        {{"buffer", 0}, {"byteOffset", data_.size()}, {"byteLength", bytes.size()}});
    data_ += bytes;
    return text_["bufferViews"].size() - 1;
  }
  template <typename T>
  size_t addNumbers(const std::vector<T>& numbers) {
    return addView({reinterpret_cast<const char*>(numbers.data()), numbers.size() * sizeof(T)});
  }
  json& accessor(size_t index) { return text_.at("accessors").at(index); }

  /// Makes an accessor's numbers floats, once.
  void toFloats(size_t index) {
    if (accessor(index).at("componentType").get<int>() != floats)
      setFloats(index, numbersOf(accessor(index)));
  }
  /// [element][component]. Throws Unreadable.
  std::vector<float> numbersOf(const json& a) const {
    const NumberKind& kind = kindOf(a);
    if (a.contains("sparse"))
      throw Unreadable{
          "it has numbers that are rounded and sparse at a time, which Gentle Dusk does not read"};
    const auto count = a.at("count").get<uint64_t>();
    const size_t components = componentsOf(a), each = kind.bytes;
    if (count > mostValues / components) throw Unreadable{"it speaks of more numbers than it can have"};
    std::vector<float> numbers(size_t(count) * components);
    if (!a.contains("bufferView")) return numbers;
    const json& view = text_.at("bufferViews").at(a["bufferView"].get<size_t>());
    const auto begin = view.at("byteOffset").get<uint64_t>(), length = view.at("byteLength").get<uint64_t>(),
               offset = a.value("byteOffset", uint64_t(0)),
               stride = view.value("byteStride", uint64_t(components * each));
    if (stride > 4096 || offset > length ||
        (count > 0 && (count - 1) * stride + components * each > length - offset))
      throw Unreadable{"a part of its data is missing or damaged"};
    const bool share = isShare(a);
    for (uint64_t i = 0; i < count; ++i)
      for (size_t c = 0; c < components; ++c) {
        const float v = kind.at(&data_[size_t(begin + offset + i * stride) + c * each]);
        numbers[size_t(i) * components + c] = share ? std::max(-1.0f, v / kind.whole) : v;
      }
    return numbers;
  }
  void setFloats(size_t index, const std::vector<float>& numbers) {
    json& a = accessor(index);
    a["bufferView"] = addNumbers(numbers), a["byteOffset"] = 0, a["componentType"] = floats;
    for (const char* key : {"normalized", "min", "max"}) a.erase(key);
  }

  /// Throws Unreadable.
  void unpackMesh(json& primitive) {
    const json how = primitive["extensions"][draco];
    const std::string bytes = file_.view(how.at("bufferView").get<size_t>());
    ::draco::DecoderBuffer buffer;
    buffer.Init(bytes.data(), bytes.size());
    ::draco::Decoder decoder;
    auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
    if (!decoded.ok()) throw Unreadable{"a packed mesh in it is damaged"};
    const ::draco::Mesh& mesh = *decoded.value();
    json& attributes = primitive.at("attributes");
    for (auto at = attributes.begin(); at != attributes.end();)
      at = isOfShape(at.key()) ? std::next(at) : attributes.erase(at);
    for (const auto& [name, id] : how.at("attributes").items()) {
      if (!isOfShape(name) || !attributes.contains(name)) continue;
      const ::draco::PointAttribute* from = mesh.GetAttributeByUniqueId(id.get<uint32_t>());
      const size_t index = attributes[name].get<size_t>(), components = componentsOf(accessor(index));
      if (!from || uint64_t(mesh.num_points()) > mostValues / components)
        throw Unreadable{"a packed mesh in it is damaged"};
      const float whole = from->normalized() || !isShare(accessor(index)) ? 1 : kindOf(accessor(index)).whole;
      std::vector<float> numbers(mesh.num_points() * components);
      for (uint32_t i = 0; i < mesh.num_points(); ++i) {
        float* to = &numbers[i * components];
        if (!from->ConvertValue<float>(from->mapped_index(::draco::PointIndex(i)), int8_t(components), to))
          throw Unreadable{"a packed mesh in it is damaged"};
        for (size_t c = 0; c < components; ++c) to[c] /= whole;
      }
      accessor(index)["count"] = mesh.num_points();
      setFloats(index, numbers);
    }
    std::vector<uint32_t> corners;
    for (uint32_t f = 0; f < mesh.num_faces(); ++f)
      for (const ::draco::PointIndex& corner : mesh.face(::draco::FaceIndex(f)))
        corners.push_back(corner.value());
    json indices = {{"bufferView", addNumbers(corners)},
                    {"componentType", wholeNumbers},
                    {"count", corners.size()},
                    {"type", "SCALAR"}};
    text_["accessors"].push_back(std::move(indices));
    primitive["indices"] = text_["accessors"].size() - 1;
    primitive.erase("mode");  // triangles, whatever they were packed from
    primitive["extensions"].erase(draco);
  }

  /// What a node is there several times by the extension becomes nodes of their own below it.
  void placeInstances() {
    constexpr size_t most = 100'000;
    const size_t nodes = member(text_, "nodes").size();
    for (size_t n = 0; n < nodes; ++n) {
      json node = text_["nodes"][n];
      if (!member(node, "extensions").contains(instancing) || !node.contains("mesh")) continue;
      json places = json::array();
      for (const auto& [name, index] : node["extensions"][instancing].at("attributes").items()) {
        const std::string key = name == "TRANSLATION" ? "translation"
                                : name == "ROTATION"  ? "rotation"
                                : name == "SCALE"     ? "scale"
                                                      : "";
        if (key.empty()) continue;
        const size_t each = key == "rotation" ? 4 : 3;
        const std::vector<float> numbers = numbersOf(accessor(index.get<size_t>()));
        if (numbers.size() / each > most || componentsOf(accessor(index.get<size_t>())) != each)
          throw Unreadable{"it has more copies of a thing than Gentle Dusk places, or damaged ones"};
        for (size_t i = 0; i < numbers.size() / each; ++i)
          places[i][key] = std::vector<float>(&numbers[i * each], &numbers[i * each] + each);
      }
      for (json& place : places) {
        place["mesh"] = node["mesh"], place["name"] = node.value("name", "");
        node["children"].push_back(text_["nodes"].size());
        text_["nodes"].push_back(place);
      }
      node.erase("mesh"), node["extensions"].erase(instancing);
      text_["nodes"][n] = node;
    }
  }

  std::string asBinary() const {
    std::string text = text_.dump(), out;
    text.resize((text.size() + 3) / 4 * 4, ' ');
    const size_t padded = (data_.size() + 3) / 4 * 4;
    const auto word = [&out](uint64_t value) {
      const auto small = uint32_t(value);
      out.append(reinterpret_cast<const char*>(&small), sizeof small);
    };
    out.reserve(28 + text.size() + padded);
    out += "glTF", word(2), word(28 + text.size() + padded);
    word(text.size()), out += "JSON", out += text;
    word(padded), out.append("BIN\0", 4), out += data_;
    out.resize(28 + text.size() + padded, '\0');
    return out;
  }

  const GltfFile& file_;
  json text_;
  std::string data_;
};

}  // namespace

Result<std::optional<std::string>> plainGltf(const GltfFile& file) try {
  if (member(member(file.text(), "asset"), "version").is_string() &&
      file.text()["asset"]["version"].get_ref<const std::string&>().starts_with("1"))
    return Error{"Cannot read " + file.path().string() +
                     ": it is glTF 1, which nobody writes any more. Export it again, as glTF 2.0.",
                 ErrorKind::unreadable};
  if (!isPacked(file.text())) return std::optional<std::string>();
  return std::optional(Unpacking(file).run());
} catch (const Unreadable& unreadable) {
  return Error{"Cannot read " + file.path().string() + ": " + unreadable.why +
                   ". Export it again, without compression.",
               ErrorKind::unreadable};
} catch (const nlohmann::json::exception& nonsense) {
  return Error{"Cannot read " + file.path().string() + ": it is no sound glTF (" + nonsense.what() +
                   "). Export it again.",
               ErrorKind::unreadable};
}

}  // namespace dusk
