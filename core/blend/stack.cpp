#include "core/blend/stack.h"

#include "core/base/words.h"
#include "core/blend/blend.h"
#include "core/blend/blocks.h"
#include "core/blend/combine.h"
#include "core/blend/cut_out.h"
#include "core/blend/grain.h"
#include "core/blend/lanes.h"
#include "core/blend/layer.h"
#include "core/blend/product_rows.h"
#include "core/project/by_id.h"
#include "core/project/correction_kinds.h"
#include "core/vantage/camera.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

DUSK_LANES void shadowed(float* out, const float* light, const float* change, int count) {
  for (int i = 0; i < count; ++i) out[i] = light[i] * (1 + change[i]);
}
DUSK_LANES void changeOf(float* out, const float* ratio, int count, float weight) {
  for (int i = 0; i < count; ++i) {
    // Light that the product throws onto the ground is no shadow: it stays as traced.
    const float d = ratio[i] - 1;
    out[i] = d < 0 ? higher(d * weight, -1.0f) : d;
  }
}
DUSK_LANES void freed(float* out, const float* mirror, const float* alpha, int count, float weight) {
  for (int i = 0; i < count; ++i) {
    const float free = 1 - alpha[i];
    out[i] = mirror[i] * weight / higher(free, 1e-3f) * where(free > 1e-3f);
  }
}
DUSK_LANES void addedTo(float* out, const float* light, const float* more, int count) {
  for (int i = 0; i < count; ++i) out[i] = more[i] == 0 ? light[i] : higher(light[i] + more[i], 0.0f);
}
DUSK_LANES void overRow(float* out, const float* light, const float* product, const float* alpha, int count) {
  for (int i = 0; i < count; ++i) {
    const float sum = light[i] * (1 - alpha[i]) + product[i];
    out[i] = alpha[i] == 0 && product[i] == 0 ? light[i] : higher(sum, 0.0f);
  }
}
DUSK_LANES void inFront(float* out, const float* light, const float* thing, const float* alpha, int count) {
  for (int i = 0; i < count; ++i) out[i] = alpha[i] == 0 ? light[i] : light[i] * (1 - alpha[i]) + thing[i];
}

class Builder {
 public:
  Builder(const Shot& shot, const BlendSources& sources)
      : shot_(shot), blend_(shot.blend), sources_(sources) {
    const Passes& p = *sources.passes;
    BlendFrame& frame = world_.frame;
    frame.whole = sources.area.width() > 0 ? sources.area : PixelArea{0, 0, p.width(), p.height()};
    frame.width = sources.width ? sources.width : p.width();
    frame.height = sources.height ? sources.height : p.height();
    frame.crop = sources.crop;
    frame.scale = sources.plateWidth ? double(frame.width) / sources.plateWidth : 1;
    if (!p.depth.empty()) frame.depth = sourceOf(of(p.depth), frame.whole, 1);
    MaskWorld& w = world_;
    if (!p.facing.empty()) w.facing = sourceOf(of(p.facing), frame.whole, 1);
    if (!p.covers.empty()) w.passes = sources.passes, w.partOfId = sources.partOfId;
    w.solved = shot.vantage.solved, w.product = sources.product;
    if (w.solved) w.camera = resized(workingCamera(shot.vantage), frame.width, frame.height);
    stack_.shownPlate = sources.shownPlate;
    w.alphaOf = [this](const std::string& id) { return alphaOf(id); };
    if (sources.masks)
      w.tell = [this](const std::vector<Mask>& masks, const NodePtr& taken) {
        if (&masks == sources_.masks) stack_.taken = taken;
      };
    find_ = [this](const AssetRef& ref) -> std::shared_ptr<const ColourTable> {
      if (!sources_.assets) return nullptr;
      const auto table = sources_.assets->table(ref);
      if (!table) return note(table.error().message), nullptr;
      return *table;
    };
  }

  Stack build() {
    const bool all = !sources_.withoutProduct;
    const std::tuple<BlendRole, void (Builder::*)(), bool> rows[] = {
        {BlendRole::plate, &Builder::plate, true},
        {BlendRole::contact, &Builder::contact, all},
        {BlendRole::reflections, &Builder::reflections, all},
        {BlendRole::product, &Builder::product, all},
        {BlendRole::glow, &Builder::glow, all},
        {BlendRole::front, &Builder::front, true},
        {BlendRole::lens, nullptr, true},
        {BlendRole::grain, &Builder::grain, true},
        {BlendRole::view, &Builder::view, true}};
    for (const auto& [role, make, isMade] : rows) {
      if (make && isMade) (this->*make)();
      tellStage(infoOf(role).title);
      layersOn(role);
    }
    if (!sources_.cutOut.empty()) stack_.taken = alphaOf(sources_.cutOut);
    stack_.light = light_, stack_.cover = cover_;
    return std::move(stack_);
  }

 private:
  const PixelArea& whole() const { return world_.frame.whole; }
  std::shared_ptr<const Picture> of(const Picture& picture) const { return {sources_.passes, &picture}; }
  void note(const std::string& text) {
    if (std::find(stack_.notes.begin(), stack_.notes.end(), text) == stack_.notes.end())
      stack_.notes.push_back(text);
  }
  void tellStage(const std::string& name) {
    if (stack_.stages.empty() || stack_.stages.back().light != light_)
      stack_.stages.push_back({name, light_});
  }
  const BlendRow& row(BlendRole role) const { return rowOf(blend_, role); }
  bool shows(BlendRole role) const { return row(role).on && row(role).strength > 0; }
  NodePtr maskOf(BlendRole role, const NodePtr& light) { return maskNode(row(role).masks, light, world_); }
  NodePtr corrected(const NodePtr& light, BlendRole role) {
    return dusk::corrected(light, row(role).corrections, role, world_, find_);
  }
  /// Zero where a row does not show: what is added or taken is weighed.
  NodePtr weighted(const NodePtr& node, BlendRole role) {
    return dusk::weighted(node, float(row(role).strength), maskOf(role, light_));
  }

  void plate() {
    if (sources_.plate) {
      stack_.plate = light_ = sourceOf(sources_.plate, whole(), 3);
      const NodePtr changed = corrected(light_, BlendRole::plate), mask = maskOf(BlendRole::plate, light_);
      if (changed != light_) light_ = between(light_, changed, float(row(BlendRole::plate).strength), mask);
    }
    if (!light_ || !shows(BlendRole::plate)) light_ = black();
  }
  NodePtr black() const {
    ExtraLayer none;
    none.kind = LayerKind::colour, none.colour = Vec3d(0);
    return combined({layerNode(none, nullptr, world_.frame)}, 3, NodeKey("black"),
                    [](const auto&, float* const* out, int count, int, int) {
                      for (int c = 0; c < 3; ++c) std::fill(out[c], out[c] + count, 0.0f);
                    });
  }

  void contact() {
    if (sources_.plate && shows(BlendRole::contact)) {
      const NodePtr ratio = ratioNode(shot_, sources_, whole());
      const Rgb weight = (Rgb(1) - toFloat(blend_.shadowTint)) * float(blend_.shadowStrength);
      NodePtr change = combined({ratio}, 3, NodeKey("change").with(weight),
                                [weight](const auto& in, float* const* out, int count, int, int) {
                                  for (int c = 0; c < 3; ++c)
                                    changeOf(out[c], in[0][size_t(c)], count, weight[c]);
                                });
      change = weighted(corrected(change, BlendRole::contact), BlendRole::contact);
      change_ = change;
      light_ = combined({light_, change}, 3, NodeKey("contact"),
                        [](const auto& in, float* const* out, int count, int, int) {
                          for (size_t c = 0; c < 3; ++c) shadowed(out[c], in[0][c], in[1][c], count);
                        });
    }
  }

  void reflections() {
    const NodePtr mirror = sources_.plate ? mirrorNode(shot_, sources_, whole()) : nullptr;
    if (mirror && shows(BlendRole::reflections)) {
      const NodePtr alpha = sourceOf(of(sources_.passes->alpha), whole(), 1);
      const float weight = float(blend_.reflectionStrength);
      // Samples of the ground alone carry it: over the part of a pixel that is ground it is more.
      NodePtr difference = combined({mirror, alpha}, 3, NodeKey("freed").with(weight),
                                    [weight](const auto& in, float* const* out, int count, int, int) {
                                      for (size_t c = 0; c < 3; ++c)
                                        freed(out[c], in[0][c], in[1][0], count, weight);
                                    });
      difference = weighted(corrected(difference, BlendRole::reflections), BlendRole::reflections);
      light_ = combined({light_, difference}, 3, NodeKey("reflections"),
                        [](const auto& in, float* const* out, int count, int, int) {
                          for (size_t c = 0; c < 3; ++c) addedTo(out[c], in[0][c], in[1][c], count);
                        });
    }
  }

  void product() {
    if (shows(BlendRole::product)) {
      NodePtr product = productNode(shot_, sources_, world_, find_);
      product = weighted(product, BlendRole::product);
      const NodePtr drawn = shows(BlendRole::lens)
                                ? throughLens(product, blend_.lens, row(BlendRole::lens).strength,
                                              maskOf(BlendRole::lens, product), world_.frame)
                                : product;
      light_ = combined({light_, drawn}, 3, NodeKey("product"),
                        [](const auto& in, float* const* out, int count, int, int) {
                          const bool each = in[1].size() == 6;
                          for (size_t c = 0; c < 3; ++c)
                            overRow(out[c], in[0][c], in[1][c], in[1][each ? c + 3 : 3], count);
                        });
      cover_ =
          combined({drawn}, 3, NodeKey("cover"), [](const auto& in, float* const* out, int count, int, int) {
            for (size_t c = 0; c < 3; ++c) std::copy_n(in[0][in[0].size() == 6 ? c + 3 : 3], count, out[c]);
          });
    }
  }

  /// What the row's corrections make of the light that parts give off is added, less that light itself.
  void glow() {
    const NodePtr shines = shows(BlendRole::glow) && !row(BlendRole::glow).corrections.empty()
                               ? emissionNode(sources_, whole())
                               : nullptr;
    if (shines) {
      const NodePtr changed = corrected(shines, BlendRole::glow);
      if (changed != shines) {
        const NodePtr more = weighted(combined({changed, shines}, 3, NodeKey("more"),
                                               [](const auto& in, float* const* out, int count, int, int) {
                                                 for (size_t c = 0; c < 3; ++c)
                                                   for (int i = 0; i < count; ++i)
                                                     out[c][i] = in[0][c][i] - in[1][c][i];
                                               }),
                                      BlendRole::glow);
        light_ = combined({light_, more}, 3, NodeKey("glow of parts"),
                          [](const auto& in, float* const* out, int count, int, int) {
                            for (size_t c = 0; c < 3; ++c) addedTo(out[c], in[0][c], in[1][c], count);
                          });
      }
    }
  }

  void front() {
    if (shows(BlendRole::front) && sources_.cutOuts && sources_.plate)
      for (const CutOut& c : blend_.cutOuts) {
        if (!c.on) continue;
        const auto made = sources_.cutOuts->inFrame(shot_, c, world_.frame);
        if (!made) {
          note(made.error().message);
          continue;
        }
        NodePtr thing = cutOutNode(*made, c, world_.frame);
        // What its stand-in takes of the product's shadow.
        if (change_ && byId(shot_.standIns, c.standInId))
          thing = combined({thing, change_}, 4, NodeKey("shadowed"),
                           [](const auto& in, float* const* out, int count, int, int) {
                             for (size_t k = 0; k < 3; ++k) shadowed(out[k], in[0][k], in[1][k], count);
                             std::copy_n(in[0][3], count, out[3]);
                           });
        thing = weighted(
            dusk::corrected(thing, row(BlendRole::front).corrections, BlendRole::front, world_, find_),
            BlendRole::front);
        light_ = combined({light_, thing}, 3, NodeKey("in front"),
                          [](const auto& in, float* const* out, int count, int, int) {
                            for (size_t k = 0; k < 3; ++k)
                              inFront(out[k], in[0][k], in[1][k], in[1][3], count);
                          });
        if (cover_)
          cover_ = combined({cover_, thing}, 3, NodeKey("hidden"),
                            [](const auto& in, float* const* out, int count, int, int) {
                              for (size_t k = 0; k < 3; ++k)
                                for (int i = 0; i < count; ++i) out[k][i] = in[0][k][i] * (1 - in[1][3][i]);
                            });
      }
  }

  void grain() {
    if (shows(BlendRole::grain) && cover_ && stack_.plate)
      light_ = between(
          light_,
          grained(light_, stack_.plate, cover_, blend_.grain, row(BlendRole::grain).strength, world_.frame),
          1, maskOf(BlendRole::grain, light_));
    // As a camera does it: packed with its grain.
    if (shows(BlendRole::grain) && stack_.plate && !blend_.blocks.brightness.empty())
      light_ = between(light_, blocked(light_, stack_.plate, blend_.blocks, world_.frame),
                       float(row(BlendRole::grain).strength), maskOf(BlendRole::grain, light_));
  }

  void view() {
    const BlendRow& r = row(BlendRole::view);
    const NodePtr changed = r.on ? corrected(light_, BlendRole::view) : light_,
                  mask = maskOf(BlendRole::view, light_);
    if (changed != light_) light_ = between(light_, changed, float(r.strength), mask);
  }

  void layersOn(BlendRole role) {
    for (const ExtraLayer& l : blend_.layers) {
      if (l.above != role || !l.row.on || l.row.strength == 0) continue;
      const auto picture = pictureOf(l);
      NodePtr shown = layerNode(l, picture, world_.frame);
      if (!shown) continue;
      shown = dusk::corrected(shown, l.row.corrections, BlendRole::front, world_, find_);
      light_ = over(light_, shown, l.mode, float(l.row.strength), maskNode(l.row.masks, light_, world_));
      tellStage(l.name);
    }
  }
  std::shared_ptr<const Texture> pictureOf(const ExtraLayer& l) {
    if (l.kind != LayerKind::picture || l.file.empty() || !sources_.assets) return nullptr;
    Progress progress;
    const auto texture = sources_.assets->texture(l.file, true, l.page, progress);
    if (texture) return *texture;
    note(words("The layer \"") + l.name + words("\" is left out. ") + texture.error().message);
    return nullptr;
  }

  /// Of a layer or cut-out as it is before corrections and masks, so that none asks for itself.
  NodePtr alphaOf(const std::string& id) {
    NodePtr thing;
    if (const ExtraLayer* layer = byId(blend_.layers, id)) {
      thing = layerNode(*layer, pictureOf(*layer), world_.frame);
    } else if (const CutOut* cut = byId(blend_.cutOuts, id); cut && sources_.cutOuts && sources_.plate) {
      const auto made = sources_.cutOuts->inFrame(shot_, *cut, world_.frame);
      if (!made) return note(made.error().message), nullptr;
      thing = cutOutNode(*made, *cut, world_.frame);
    }
    if (!thing) return nullptr;
    return combined({thing}, 1, NodeKey("alpha"), [](const auto& in, float* const* out, int count, int, int) {
      std::copy_n(in[0][3], count, out[0]);
    });
  }

  const Shot& shot_;
  const BlendSettings& blend_;
  const BlendSources& sources_;
  FindTable find_;
  NodePtr light_, cover_;
  NodePtr change_;  ///< by the share of light that the product changes on the place; as it shows
  MaskWorld world_;
  Stack stack_;
};

}  // namespace

Stack buildStack(const Shot& shot, const BlendSources& sources) { return Builder(shot, sources).build(); }

}  // namespace dusk
