#include "core/deliver/pass_list.h"

#include "core/base/words.h"
#include "core/deliver/cryptomatte.h"
#include "core/trace/compile.h"
#include "core/trace/film.h"

namespace dusk {
namespace {

const char* componentAbout[componentCount] = {
    marked("light straight from a lamp or the sky, scattered by the surface's own colour"),
    marked("the same after one bounce or more"),
    marked("mirrored straight from a lamp or the sky"),
    marked("other things mirrored"),
    marked("light straight through glass"),
    marked("what is seen through glass"),
    marked("light that the product itself gives off")};

bool isEven(const Picture& p, float value) {
  return std::all_of(p.pixels.begin(), p.pixels.end(), [&](float v) { return v == value; });
}

/// Flat colours, far apart for ids that are near.
Rgb flatColour(uint32_t id) {
  const float hue = std::fmod(float(id) * 0.61803399f, 1.0f) * 6, value = id % 3 == 0   ? 0.5f
                                                                          : id % 3 == 1 ? 0.8f
                                                                                        : 0.3f;
  const auto channel = [&](float shift) {
    return value * std::clamp(std::abs(std::fmod(hue + shift, 6.0f) - 3) - 1, 0.12f, 1.0f);
  };
  return {channel(0), channel(4), channel(2)};
}

/// Cover of the parts that are not to count in the alpha: they only add their light. Empty where all count.
std::vector<float> uncountedOf(const Passes& passes, const Scene& scene) {
  std::vector<bool> counts{true};  // by id
  for (const auto& instance : scene.roles)
    for (const PartRole& role : instance) counts.push_back(role.alpha);
  std::vector<float> uncounted;
  if (std::find(counts.begin(), counts.end(), false) == counts.end()) return uncounted;
  for (size_t i = 0; i < passes.covers.size(); ++i) {
    float share = 0;
    for (const Covers::Cover& cover : passes.covers[i].list)
      if (cover.id < counts.size() && !counts[cover.id]) share += cover.share;
    uncounted.push_back(std::min(share, passes.alpha.pixels[i]));
  }
  return uncounted;
}

}  // namespace

std::vector<NamedPass> namedPasses(Passes passes, const Scene& scene) {
  std::vector<NamedPass> all;
  const auto add = [&](const std::string& name, const std::string& about, Picture picture,
                       PassKind kind = PassKind::light) {
    const bool empty = picture.empty() || isEven(picture, kind == PassKind::ratio ? 1 : 0);
    if (!picture.empty()) all.push_back({name, about, std::move(picture), kind, empty, {}});
  };
  const int w = passes.width(), h = passes.height();
  const size_t count = size_t(w) * size_t(h);
  Picture beauty(w, h, {"R", "G", "B", "A"}), shadow(w, h, {"A"}), flat = Picture::rgb(w, h);
  const std::vector<float> uncounted = uncountedOf(passes, scene);
  for (size_t i = 0; i < count; ++i) {
    std::copy_n(&passes.beauty.pixels[i * 3], 3, &beauty.pixels[i * 4]);
    beauty.pixels[i * 4 + 3] = passes.alpha.pixels[i] - (uncounted.empty() ? 0 : uncounted[i]);
    const float* r = &passes.ratio.pixels[i * 3];
    shadow.pixels[i] = std::max(0.0f, 1 - luminance({r[0], r[1], r[2]})) * (1 - passes.alpha.pixels[i]);
    if (passes.covers.empty()) continue;
    for (const Covers::Cover& cover : passes.covers[i].list)
      if (cover.id)
        for (int c = 0; c < 3; ++c) flat.pixels[i * 3 + size_t(c)] += flatColour(cover.id)[c] * cover.share;
  }
  add("beauty", words("all light from the product, with its cover as alpha"), std::move(beauty));
  add("shadow_ratio", words("light on the ground with the product over without: multiply the photo by it"),
      std::move(passes.ratio), PassKind::ratio);
  add("shadow_alpha", words("the shadow as cover of a black layer, for programs that cannot multiply"),
      std::move(shadow), PassKind::share);
  add("reflection", words("what a glossy ground mirrors more or less: add it"), std::move(passes.reflection));
  const bool one = passes.groups.size() == 1;
  for (GroupPasses& g : passes.groups) {
    const std::string from = one ? "" : g.name + ".";
    for (int c = 0; c < componentCount; ++c)
      add(from + componentNames[c], componentAbout[c], std::move(g.part[size_t(c)]));
    add(from + "ground_with", words("light on the ground with the product there"), std::move(g.with));
    add(from + "ground_without", words("light on the ground without it"), std::move(g.without));
    if (!one)
      add(from + "reflection", words("this light's share of the glossy ground's change"),
          std::move(g.mirror));
  }
  add("albedo", words("the surfaces' own colours"), std::move(passes.albedo));
  add("normal", words("which way the surfaces look, in the world"), std::move(passes.normal),
      PassKind::direction);
  add("depth", words("metres along the optical axis"), std::move(passes.depth), PassKind::metres);
  add("position", words("metres in the world"), std::move(passes.position), PassKind::place);
  add("facing", words("1 where the surface looks at the camera, 0 at its rims"), std::move(passes.facing),
      PassKind::share);
  add("occlusion", words("how free the near surroundings are"), std::move(passes.occlusion), PassKind::share);
  if (passes.covers.empty()) return all;
  add("part_colours", words("one flat colour a part"), std::move(flat));
  std::vector<std::string> parts, surfaces, products;
  for (const PartLabel& l : scene.labels)
    parts.push_back(l.part), surfaces.push_back(l.surface), products.push_back(l.product);
  for (auto& [layer, names] :
       {std::pair("CryptoPart", &parts), {"CryptoSurface", &surfaces}, {"CryptoProduct", &products}}) {
    Cryptomatte matte = cryptomatte(layer, passes, *names);
    for (size_t k = 0; k < matte.ranks.size(); ++k) {
      add(layer + ("0" + std::to_string(k)), words("ID mattes by the open Cryptomatte convention"),
          std::move(matte.ranks[k]), PassKind::identity);
      all.back().metadata = matte.metadata;
    }
  }
  return all;
}

std::vector<std::string> passFamilies() {
  std::vector<std::string> names{"beauty", "shadow_ratio", "shadow_alpha", "reflection"};
  names.insert(names.end(), std::begin(componentNames), std::end(componentNames));
  for (const char* name :
       {"ground_with", "ground_without", "albedo", "normal", "depth", "position", "facing", "occlusion",
        "part_colours", "CryptoPart", "CryptoSurface", "CryptoProduct", "clay"})
    names.push_back(name);
  return names;
}

bool isChosen(const std::vector<std::string>& chosen, const std::string& pass) {
  if (chosen.empty()) return true;
  const size_t dot = pass.rfind('.');
  const std::string family = dot == std::string::npos ? pass : pass.substr(dot + 1);
  return std::any_of(chosen.begin(), chosen.end(), [&](const std::string& name) {
    return name == pass || name == family || (name.starts_with("Crypto") && pass.starts_with(name));
  });
}

std::vector<NamedPass> possiblePasses(const Scene& scene) {
  Passes all = Film(1, 1, scene.lights->groups()).resolve(true);
  all.reflection = Picture::rgb(1, 1);
  for (GroupPasses& g : all.groups) g.mirror = Picture::rgb(1, 1);
  if (scene.occlusionM > 0) all.occlusion = Picture(1, 1, {"Y"});
  return namedPasses(std::move(all), scene);
}

std::vector<OverridePass> overridePasses(const Project& project, const RenderSettings& settings) {
  std::vector<OverridePass> all;
  const std::string surface = "surface:";
  for (const std::string& wanted : settings.extraPasses) {
    if (wanted == "clay") {
      BsdfParameters grey;
      grey.base = Rgb(0.5f), grey.roughness = 1, grey.ior = 1;
      all.push_back({"clay", words("every part in one matte grey"), grey});
    } else if (wanted.starts_with(surface)) {
      const Surface* s = byId(project.surfaces, wanted.substr(surface.size()));
      if (s) all.push_back({"all_" + s->id, words("every part in ") + s->name, parametersOf(*s)});
    }
  }
  return all;
}

Scene overridden(const Scene& scene, const BsdfParameters& surface) {
  Scene same = scene;
  const auto material = std::make_shared<PlainMaterial>(surface);
  for (auto& list : same.materials) std::fill(list.begin(), list.end(), material);
  same.occlusionM = 0;
  for (auto& moment : same.during) moment = std::make_shared<const Scene>(overridden(*moment, surface));
  return same;
}

}  // namespace dusk
