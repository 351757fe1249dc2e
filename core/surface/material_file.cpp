#include "core/surface/material_file.h"

#include <cstdio>
#include <pugixml.hpp>
#include <sstream>

#include "core/base/words.h"
#include "core/surface/values.h"

namespace dusk {
namespace {

using S = Surface;

/// An input of the Standard Surface that is a number here, too.
struct NumberInput {
  const char* name;
  double Surface::*number;
  double usual;  ///< the format's own default
  std::optional<SurfaceValue> fed{};
};
struct ColourInput {
  const char* name;
  Vec3d Surface::*colour;
  Vec3d usual;
  std::optional<SurfaceValue> fed{};
};

const std::vector<NumberInput>& numbers() {
  using enum SurfaceValue;
  static const std::vector<NumberInput> all = {
      {"metalness", &S::metalness, 0, metalness},
      {"specular", &S::specular, 1, specular},
      {"specular_roughness", &S::roughness, 0.2, roughness},
      {"specular_IOR", &S::ior, 1.5},
      {"specular_anisotropy", &S::anisotropy, 0, anisotropy},
      {"transmission", &S::transmission, 0, transmission},
      {"transmission_depth", &S::absorptionDepthM, 0},
      {"transmission_scatter_anisotropy", &S::scatterForward, 0},
      {"transmission_dispersion", &S::abbe, 0},
      {"subsurface", &S::subsurface, 0, subsurface},
      {"sheen", &S::sheen, 0, sheen},
      {"sheen_roughness", &S::sheenRoughness, 0.3, sheenRoughness},
      {"coat", &S::clearcoat, 0, clearcoat},
      {"coat_roughness", &S::clearcoatRoughness, 0.1, clearcoatRoughness},
      {"thin_film_thickness", &S::filmNm, 0, film},
      {"thin_film_IOR", &S::filmIor, 1.5}};
  return all;
}
const std::vector<ColourInput>& colours() {
  using enum SurfaceValue;
  static const std::vector<ColourInput> all = {{"base_color", &S::baseColour, Vec3d(0.8), baseColour},
                                               {"transmission_color", &S::absorptionColour, Vec3d(1)},
                                               {"sheen_color", &S::sheenColour, Vec3d(1), sheenColour},
                                               {"coat_color", &S::coatColour, Vec3d(1)}};
  return all;
}

std::string text(double v) {
  char out[40];
  std::snprintf(out, sizeof out, "%.9g", v);
  return out;
}
std::string text(const Vec3d& v) { return text(v.x) + ", " + text(v.y) + ", " + text(v.z); }

/// Numbers parted by commas.
std::vector<double> numbersIn(const std::string& value) {
  std::vector<double> all;
  std::istringstream parts(value);
  for (std::string one; std::getline(parts, one, ',');) {
    char* end = nullptr;
    const double v = std::strtod(one.c_str(), &end);
    if (end == one.c_str() || !std::isfinite(v)) return {};
    all.push_back(v);
  }
  return all;
}

/// A name as XML has them.
std::string nameFor(const std::string& name, size_t number) {
  std::string out;
  for (const char c : name) out += std::isalnum(uint8_t(c)) ? c : '_';
  return (out.empty() || std::isdigit(uint8_t(out[0])) ? "m_" + out : out) + "_" + std::to_string(number + 1);
}

class Out {
 public:
  explicit Out(MaterialNotes& notes) : notes_(notes) {
    root_ = document_.append_child("materialx");
    root_.append_attribute("version") = "1.38";
    root_.append_attribute("colorspace") = "lin_rec709";
  }

  void add(const Surface& s, size_t number) {
    const std::string name = nameFor(s.name, number), shader = name + "_shader";
    // Nodes that are named must come first for readers that go once through.
    pugi::xml_node node = called(root_.append_child("standard_surface"), shader, "surfaceshader");
    input(node, "base", "float", "1");
    for (const ColourInput& c : colours())
      if (s.*c.colour != c.usual || fedBy(s, c.fed))
        value(node, s, c.name, "color3", text(s.*c.colour), c.fed);
    for (const NumberInput& n : numbers())
      if (s.*n.number != n.usual || fedBy(s, n.fed))
        value(node, s, n.name, "float", text(s.*n.number), n.fed);
    if (s.anisotropyTurnDegrees != 0) {
      const double turn = s.anisotropyTurnDegrees / 360;
      input(node, "specular_rotation", "float", text(turn - std::floor(turn)));
    }
    if (s.subsurface > 0) {
      input(node, "subsurface_color", "color3", text(s.baseColour));
      input(node, "subsurface_radius", "color3", text(s.subsurfaceMm * 0.001));
      input(node, "subsurface_anisotropy", "float", text(s.scatterForward));
    }
    if (s.thinWalled) input(node, "thin_walled", "boolean", "true");
    if (s.opacity < 1) input(node, "opacity", "color3", text(Vec3d(s.opacity)));
    if (const double most = std::max({s.emission.x, s.emission.y, s.emission.z}); most > 0) {
      input(node, "emission", "float", text(most));
      input(node, "emission_color", "color3", text(s.emission / most));
    }
    if (const auto picture = pictureOf(s, SurfaceValue::normal)) normal(node, s, *picture);
    connect(called(root_.append_child("surfacematerial"), name, "material"), "surfaceshader", "surfaceshader",
            shader);
    losses(s);
  }

  std::string written() const {
    std::ostringstream out;
    document_.save(out, "  ");
    return out.str();
  }

 private:
  static bool fedBy(const Surface& s, const std::optional<SurfaceValue>& value) {
    return value && s.feeds.contains(*value);
  }
  /// Gives an element the name and the type that all have.
  static pugi::xml_node called(pugi::xml_node element, const std::string& name, const char* type) {
    element.append_attribute("name") = name.c_str();
    element.append_attribute("type") = type;
    return element;
  }
  static pugi::xml_node input(pugi::xml_node node, const char* name, const char* type,
                              const std::string& value) {
    pugi::xml_node in = called(node.append_child("input"), name, type);
    in.append_attribute("value") = value.c_str();
    return in;
  }
  /// An input that another node gives.
  static void connect(pugi::xml_node node, const char* name, const char* type, const std::string& from) {
    called(node.append_child("input"), name, type).append_attribute("nodename") = from.c_str();
  }
  /// The one picture that gives a value, where that is all there is.
  static std::optional<Feed> pictureOf(const Surface& s, SurfaceValue value) {
    const auto found = s.feeds.find(value);
    if (found == s.feeds.end() || found->second.size() != 1) return {};
    const Feed& f = found->second.front();
    return f.on && f.kind == FeedKind::picture && f.texture < 0 && f.strength >= 1 && !f.picture.empty()
               ? std::optional(f)
               : std::nullopt;
  }
  std::string image(const Surface& s, const Feed& f, const char* type) {
    const bool tiled = f.mapping.sizeMm.x > 0;
    const std::string name = nameFor(s.name + "_picture", pictures_++);
    pugi::xml_node node = called(root_.prepend_child(tiled ? "tiledimage" : "image"), name, type);
    pugi::xml_node file = input(node, "file", "filename", f.picture.path);
    if (f.channel == PictureChannel::colour) file.append_attribute("colorspace") = "srgb_texture";
    if (tiled) {
      const double height = f.mapping.sizeMm.y > 0 ? f.mapping.sizeMm.y : f.mapping.sizeMm.x;
      input(node, "realworldimagesize", "vector2",
            text(f.mapping.sizeMm.x / 1000) + ", " + text(height / 1000));
    }
    return name;
  }
  void value(pugi::xml_node node, const Surface& s, const char* name, const char* type,
             const std::string& plain, const std::optional<SurfaceValue>& fed) {
    const auto picture = fed ? pictureOf(s, *fed) : std::nullopt;
    if (picture)
      connect(node, name, type, image(s, *picture, type));
    else
      input(node, name, type, plain);
  }
  void normal(pugi::xml_node node, const Surface& s, const Feed& f) {
    const std::string from = image(s, f, "vector3"), name = from + "_normal";
    connect(called(root_.insert_child_before("normalmap", node), name, "vector3"), "in", "vector3", from);
    connect(node, "normal", "vector3", name);
  }
  void losses(const Surface& s) {
    const auto say = [&](bool is, const char* what) {
      if (is) notes_.lost.push_back(s.name + ": " + what + words(" has no place in a material file."));
    };
    say(!s.coats.empty(), words("what lies on it in coats")),
        say(s.flakes > 0, words("the flakes in its lacquer"));
    for (const auto& [value, feeds] : s.feeds)
      if (!feeds.empty() && !pictureOf(s, value)) return say(true, words("what patterns and masks give"));
  }

  pugi::xml_document document_;
  pugi::xml_node root_;
  MaterialNotes& notes_;
  size_t pictures_ = 0;
};

class In {
 public:
  In(const pugi::xml_node& root, MaterialNotes& notes) : root_(root), notes_(notes) {}

  std::vector<Surface> surfaces() {
    std::vector<Surface> all;
    for (const pugi::xml_node& material : root_.children("surfacematerial"))
      if (const pugi::xml_node shader =
              named(root_, inputOf(material, "surfaceshader").attribute("nodename").value());
          std::string(shader.name()) == "standard_surface")
        all.push_back(surface(shader, material.attribute("name").value()));
    if (!all.empty()) return all;
    for (const pugi::xml_node& shader : root_.children("standard_surface"))
      all.push_back(surface(shader, shader.attribute("name").value()));
    return all;
  }

 private:
  static pugi::xml_node inputOf(const pugi::xml_node& node, const char* name) {
    return node.find_child_by_attribute("input", "name", name);
  }
  static pugi::xml_node named(const pugi::xml_node& in, const char* name) {
    return *name ? in.find_child_by_attribute("name", name) : pugi::xml_node();
  }
  /// What an input is connected to, also through a graph's output.
  pugi::xml_node source(const pugi::xml_node& input, const pugi::xml_node& within) const {
    if (const pugi::xml_node direct = named(within, input.attribute("nodename").value())) return direct;
    const pugi::xml_node graph = named(root_, input.attribute("nodegraph").value());
    const pugi::xml_node output = named(graph, input.attribute("output").value());
    return named(graph, output.attribute("nodename").value());
  }
  std::optional<Feed> picture(const pugi::xml_node& node, bool colour) const {
    const std::string kind = node.name();
    if (kind != "image" && kind != "tiledimage") return {};
    const pugi::xml_node file = inputOf(node, "file");
    Feed f;
    f.kind = FeedKind::picture, f.mapping.kind = MappingKind::coordinates;
    f.picture.path = file.attribute("value").value();
    f.channel = colour ? PictureChannel::colour : PictureChannel::red;
    if (colour && std::string(file.attribute("colorspace").value()) != "srgb_texture" &&
        file.attribute("colorspace"))
      f.channel = PictureChannel::data;
    const auto size = numbersIn(inputOf(node, "realworldimagesize").attribute("value").value());
    if (size.size() == 2 && size[0] > 0 && size[1] > 0) f.mapping.sizeMm = {size[0] * 1000, size[1] * 1000};
    return f.picture.empty() ? std::nullopt : std::optional(f);
  }
  void fed(Surface& s, const pugi::xml_node& in, const std::optional<SurfaceValue>& value, bool colour) {
    const pugi::xml_node from = source(in, root_);
    if (!from) return;
    const auto feed = picture(from, colour);
    if (feed && value)
      s.feeds[*value] = {*feed};
    else
      notes_.lost.push_back(s.name + ": " + in.attribute("name").value() + words(" comes from a <") +
                            from.name() + words(">, which is not read; the plain value was taken."));
  }
  Surface surface(const pugi::xml_node& shader, const char* name) {
    Surface s;
    s.name = name;
    for (const ColourInput& c : colours()) s.*c.colour = c.usual;
    for (const NumberInput& n : numbers()) s.*n.number = n.usual;
    const auto number = [&](const char* key, double usual) {
      const auto v = numbersIn(inputOf(shader, key).attribute("value").value());
      return v.size() == 1 ? v[0] : usual;
    };
    const auto colour = [&](const char* key, const Vec3d& usual) {
      const auto v = numbersIn(inputOf(shader, key).attribute("value").value());
      return v.size() == 3 ? Vec3d(v[0], v[1], v[2]) : usual;
    };
    for (const ColourInput& c : colours())
      s.*c.colour = colour(c.name, c.usual), fed(s, inputOf(shader, c.name), c.fed, true);
    for (const NumberInput& n : numbers())
      s.*n.number = number(n.name, n.usual), fed(s, inputOf(shader, n.name), n.fed, false);
    s.baseColour *= number("base", 1);
    if (s.transmission > 0 && s.absorptionDepthM <= 0)  // a tint of the boundary, not of the body
      s.baseColour = s.absorptionColour, s.absorptionColour = Vec3d(1);
    s.anisotropyTurnDegrees = 360 * number("specular_rotation", 0);
    s.emission = colour("emission_color", Vec3d(1)) * number("emission", 0);
    s.subsurfaceMm = colour("subsurface_radius", Vec3d(0.001)) * number("subsurface_scale", 1) * 1000.0;
    if (s.subsurface > 0) {
      s.scatterForward = number("subsurface_anisotropy", 0);
      s.baseColour =
          s.baseColour * (1 - s.subsurface) + colour("subsurface_color", s.baseColour) * s.subsurface;
    }
    s.thinWalled = std::string(inputOf(shader, "thin_walled").attribute("value").value()) == "true";
    const Vec3d opacity = colour("opacity", Vec3d(1));
    s.opacity = (opacity.x + opacity.y + opacity.z) / 3;
    if (const pugi::xml_node map = source(inputOf(shader, "normal"), root_); map)
      if (auto feed = picture(source(inputOf(map, "in"), root_), false)) {
        feed->channel = PictureChannel::data;
        s.feeds[SurfaceValue::normal] = {*feed};
      }
    return s;
  }

  pugi::xml_node root_;
  MaterialNotes& notes_;
};

/// Within what a project may hold.
void keepSound(Surface& s) {
  const auto clampTo = [](double& v, double low, double high) {
    v = std::isfinite(v) ? std::clamp(v, low, high) : low;
  };
  for (double Surface::*share :
       {&S::metalness, &S::specular, &S::roughness, &S::anisotropy, &S::transmission, &S::subsurface,
        &S::sheen, &S::sheenRoughness, &S::clearcoat, &S::clearcoatRoughness, &S::opacity})
    clampTo(s.*share, 0, 1);
  clampTo(s.ior, 1, 10), clampTo(s.filmIor, 1, 10), clampTo(s.filmNm, 0, 10'000), clampTo(s.abbe, 0, 1000);
  clampTo(s.absorptionDepthM, 0, 1e6), clampTo(s.scatterForward, -0.99, 0.99);
  clampTo(s.anisotropyTurnDegrees, -360, 360);
  for (int c = 0; c < 3; ++c) {
    for (Vec3d Surface::*colour : {&S::baseColour, &S::sheenColour, &S::coatColour, &S::absorptionColour})
      clampTo((s.*colour)[c], 0, 1);
    clampTo(s.emission[c], 0, 1e9), clampTo(s.subsurfaceMm[c], 0, 1e6);
  }
}

}  // namespace

std::string materialFileOf(const std::vector<Surface>& surfaces, MaterialNotes& notes) {
  Out out(notes);
  for (size_t i = 0; i < surfaces.size(); ++i) out.add(surfaces[i], i);
  return out.written();
}

Result<std::vector<Surface>> surfacesFromMaterialFile(const std::string& text, const std::string& name,
                                                      MaterialNotes& notes) {
  pugi::xml_document document;
  // Entities are not unfolded and nothing is fetched: the parser knows neither.
  const pugi::xml_parse_result parsed = document.load_buffer(text.data(), text.size());
  const pugi::xml_node root = document.child("materialx");
  if (!parsed || !root)
    return Error{name + words(" is not a material file (.mtlx): ") +
                     (parsed ? words("its outermost element is another one.") : parsed.description()),
                 ErrorKind::unreadable};
  std::vector<Surface> all = In(root, notes).surfaces();
  if (all.empty())
    return Error{name + words(" has no Standard Surface in it. Save it with one, or convert it."),
                 ErrorKind::unreadable};
  for (Surface& s : all) keepSound(s);
  return all;
}

}  // namespace dusk
