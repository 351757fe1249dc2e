#include "core/base/median.h"
#include "core/base/words.h"
#include "core/light/backdrop.h"
#include "core/product/side_files.h"
#include "core/project/deliverable_kinds.h"
#include "core/project/links.h"
#include "core/proof/checks.h"
#include "core/proof/match.h"
#include "core/vantage/frames.h"

namespace dusk {

void checkFiles(const ProofOf& of, Findings& findings) {
  Project one = of.project;
  one.shots = {of.shot};
  std::set<std::string> missing;
  eachLink(one, [&](AssetRef& ref, LinkKind) {
    std::error_code code;
    if (!std::filesystem::is_regular_file(of.assets.pathOf(ref), code)) missing.insert(ref.path);
  });
  for (const Placement& placement : of.shot.placements) {
    const Product* product = byId(of.project.products, placement.productId);
    const auto model = product ? of.assets.loadedModel(*product) : nullptr;
    if (!model) continue;
    for (const std::string& name : SideFiles::missing(model->sideFiles))
      missing.insert(name + words(" of ") + product->name);
  }
  std::string names;
  for (const std::string& path : missing) names += (names.empty() ? ": " : ", ") + path;
  findings.push_back({"files-missing", words("linked files that are not there") + names,
                      double(missing.size()), 0, 0, "",
                      words("Find them, or take what uses them out of the project."), "Plate"});
  const auto changed = of.assets.changedSinceLinked();
  names.clear();
  for (const AssetRef& ref : changed) names += (names.empty() ? ": " : ", ") + ref.path;
  findings.push_back({"files-changed", words("linked files that are others by now") + names,
                      double(changed.size()), 0, 0, "",
                      words("Take them as they are, or bring the old ones back."), "Plate"});
  int withoutShadow = 0;
  for (const Deliverable& d : of.shot.deliverables) {
    const auto holds = [&](const char* pass) {
      return std::find(d.passes.begin(), d.passes.end(), pass) != d.passes.end();
    };
    withoutShadow += d.on && infoOf(d.kind).hasPasses && !d.passes.empty() && !holds("shadow_ratio") &&
                     !holds("shadow_alpha") && d.alpha == DeliveredAlpha::none;
  }
  int untraced = 0;
  const RenderSettings& r = of.shot.render;
  for (const Deliverable& d : of.shot.deliverables)
    for (const std::string& pass : d.passes)
      untraced += d.on && infoOf(d.kind).hasPasses && (pass == "occlusion" || pass == "clay") &&
                  (!r.extraPasses.count(pass) || (pass == "occlusion" && r.occlusionM <= 0));
  findings.push_back(
      {"passes-missing", words("passes that files ask for and nobody traces"), double(untraced), 0, 0, "",
       words("Switch them on at the Render station, among the passes that cost time."), "Hand over"});
  findings.push_back({"passes-chosen", words("files with passes, but without the shadow's"),
                      double(withoutShadow), 0, 0, "",
                      words("Choose shadow_ratio or shadow_alpha, too, or all passes."), "Hand over"});
}

namespace {

/// Share of an area's border on which the product lies, in percent, and where that is most, in pixels.
std::pair<double, Vec2d> coverOnBorder(const Picture& alpha, const PixelArea& area) {
  double covered = 0, length = 0;
  Vec2d sum(0, 0);
  const auto look = [&](int x, int y) {
    const bool on = alpha.at(std::clamp(x, 0, alpha.width - 1), std::clamp(y, 0, alpha.height - 1))[0] > 0.5f;
    covered += on, length += 1;
    if (on) sum += Vec2d(x, y);
  };
  for (int x = area.x0; x < area.x1; ++x) look(x, area.y0), look(x, area.y1 - 1);
  for (int y = area.y0; y < area.y1; ++y) look(area.x0, y), look(area.x1 - 1, y);
  return {100 * covered / length, covered > 0 ? sum / covered : Vec2d(0, 0)};
}

}  // namespace

void checkCrops(const ProofOf& of, Findings& findings) {
  const Picture& alpha = of.passes->alpha;
  if (of.shot.placements.empty() || alpha.empty()) return;
  const Passes& all = of.traced ? *of.traced : *of.passes;
  const auto tell = [&](const std::string& what, const FramedArea& f) {
    const int x = all.picture.x0, y = all.picture.y0;
    const auto [share, at] =
        coverOnBorder(all.alpha, {f.area.x0 + x, f.area.y0 + y, f.area.x1 + x, f.area.y1 + y});
    Finding finding{
        "product-cut", words("border of ") + what + words(" that cuts the product"),      share,      0, 0.2,
        "%",           words("Move the product or the frame, or make the frame larger."), "Hand over"};
    finding.subject = f.id;
    if (share > 0) finding.at = Vec2d((at.x - x) / alpha.width, (at.y - y) / alpha.height);
    findings.push_back(std::move(finding));
  };
  std::set<std::string> told;
  for (const Deliverable& d : of.shot.deliverables) {
    if (!d.on || !told.insert(d.frameId).second) continue;
    const FramedArea f = framed(of.shot, d, alpha.width, alpha.height);
    if (!hasPieces(of)) tell(f.id.empty() ? words("the picture") : words("the frame \"") + f.name + "\"", f);
    const Camera& camera = of.shot.vantage.camera;
    if (f.id.empty() || camera.width <= 0) continue;
    const FramedArea full = framed(of.shot, d, camera.width, camera.height);
    findings.push_back({"frame-enlarged",
                        words("the frame \"") + f.name + words("\" against the photo's own pixels"),
                        100 * full.enlarged(),
                        0,
                        103,
                        "%",
                        words("Ask for fewer pixels, or show more of the picture."),
                        "Hand over",
                        {},
                        {},
                        f.id});
  }
}

void checkNoise(const ProofOf& of, Findings& findings) {
  const Picture& beauty = of.passes->beauty;
  if (of.shot.placements.empty() || beauty.width < 3 || beauty.height < 3) return;
  int count = 0, covered = 0;
  std::optional<Vec2d> at;
  std::vector<double> around;
  for (int y = 1; y + 1 < beauty.height; ++y)
    for (int x = 1; x + 1 < beauty.width; ++x) {
      if (of.passes->alpha.at(x, y)[0] < 1) continue;
      ++covered;
      const double own = double(luminance(beauty.rgbAt(x, y)));
      if (own < 0.5) continue;
      around.clear();
      for (int v = -1; v <= 1; ++v)
        for (int u = -1; u <= 1; ++u)
          if (u || v) around.push_back(double(luminance(beauty.rgbAt(x + u, y + v))));
      // A highlight has neighbours that are bright, too; a lucky path has none.
      if (own < 5 * *std::max_element(around.begin(), around.end()) + 0.3) continue;
      ++count;
      if (!at) at = Vec2d((x + 0.5) / beauty.width, (y + 0.5) / beauty.height);
    }
  if (covered == 0) return;
  // Before an even backdrop nothing hides what is left; in a photo, its own grain does.
  if (isEven(of.shot.backdrop) && of.models == Models::wait) {
    const Vec3d left = measureRender(*of.passes).grain;
    findings.push_back({"render-noise",
                        words("noise left in the product, as a deviation"),
                        std::max({left.x, left.y, left.z}),
                        0,
                        1.5,
                        "codes",
                        words("Trace more samples, or take more of the noise out."),
                        "Render",
                        {},
                        at});
  }
  findings.push_back({"fireflies",
                      words("pixels of the product that outshine all around them, of a million"),
                      1e6 * count / covered,
                      0,
                      40,
                      "",
                      words("Trace more samples, or limit bright bounces."),
                      "Render",
                      {},
                      at});
}

std::optional<MatchKind> matchKindOf(const std::string& id) {
  for (size_t i = 0; i < std::size(matchIds); ++i)
    if (id == matchIds[i]) return MatchKind(i);
  return {};
}

void checkCharacter(const ProofOf& of, Findings& findings) {
  if (of.models == Models::loaded || of.shot.backdrop.kind != BackdropKind::photo || of.shot.plate.empty() ||
      of.shot.placements.empty() || !of.shot.vantage.solved)
    return;
  if (const auto photo = measurePhoto(of.shot, of.assets, of.progress))
    compareCharacter(of, *photo, findings);
}

void compareCharacter(const ProofOf& of, const PhotoCharacter& photo, Findings& findings) {
  const auto at = spotOf(of.shot, of.shot.placements.front());
  for (const MatchRow& row : matchRows(photo, measureRender(*of.passes), of.shot.blend)) {
    // Its edges are measured where they are, by "edge-softness".
    if (!row.photo || row.kind == MatchKind::softness || row.kind == MatchKind::halo) continue;
    const double allowed = std::max(2 * row.margin, row.scale);
    findings.push_back({matchIds[size_t(row.kind)],
                        std::string(row.title) + words(" of the product against the photo's"),
                        row.gap(),
                        -allowed,
                        row.atLeast ? 1e9 : allowed,
                        row.unit,
                        words("Match the photo."),
                        "Blend",
                        {},
                        at});
  }
}

}  // namespace dusk
