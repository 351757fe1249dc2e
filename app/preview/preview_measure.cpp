// What the proof strip shows, measured on what is traced for the screen.
#include "app/preview/blended.h"
#include "app/preview/images.h"
#include "app/preview/preview_state.h"
#include "app/preview/shadow_watch.h"
#include "core/proof/checks.h"
#include "core/proof/mend.h"
#include "core/proof/tones.h"
#include "core/trace/resized_passes.h"

namespace dusk {

void Preview::measure(const Latest& latest) {
  const Stage& stage = *latest.stage;
  const Project project = live();
  const Shot* found = byId(project.shots, stage.shotId);
  if (!found) return;
  const Shot& shot = *found;
  auto proofs = std::make_shared<Proofs>();
  proofs->findings =
      prove(project, size_t(found - project.shots.data()), *stage.assets, nullptr, Models::loaded);
  proofs->shotId = stage.shotId;
  proofs->shadows = compareShadows(shot, *stage.assets);
  proofs->shadow = shadows_->look(shot, stage.assets);
  if (proofs->shadow)
    for (Finding& f : shadowFindings(*proofs->shadow, shot)) proofs->findings.push_back(std::move(f));
  if (stage.plate && !stage.scene->geometry->empty()) measurePicture(latest, project, shot, *proofs);
  for (Finding& f : proofs->findings) f.says = clientWords(f);
  emit proofsReady(proofs);
}

/// What needs pixels.
void Preview::measurePicture(const Latest& latest, const Project& project, const Shot& shot, Proofs& proofs) {
  const Stage& stage = *latest.stage;
  const auto view = stage.assets->view(stage.view);
  if (!view) return;
  const PixelArea inside = stage.picture();
  const bool goesBeyond = inside.width() > 0;
  const auto within = [&]<typename T>(std::shared_ptr<const T> all) {
    return goesBeyond ? std::make_shared<const T>(cropped(*all, inside)) : all;
  };
  const auto codes = std::make_shared<const Picture>(blended_->codes(shot, blendInput(latest), **view));
  const std::shared_ptr<const Picture> shown = within(codes);
  const std::shared_ptr<const Passes> passes = within(latest.passes);
  proofs.edges = compareEdges(*shown, *passes);
  if (proofs.edges.product) proofs.productEdge = enlarged(*shown, proofs.edges.product->at, 9, 6);
  if (proofs.edges.photo) proofs.photoEdge = enlarged(*shown, proofs.edges.photo->at, 9, 6);
  const auto add = [&](const std::optional<Finding>& finding) {
    if (finding) proofs.findings.push_back(*finding);
  };
  add(edgeFinding(proofs.edges));
  add(tonesFinding(*shown, *passes, **view));
  add(catcherFinding(shot, stage.scene->place, *passes));
  if (!stage.isWhole()) return;
  if (stage.shownPlate) add(borderFinding(shot, *shown, *within(stage.shownPlate)));
  Progress progress;
  ProofOf of{project,
             shot,
             *stage.assets,
             passes.get(),
             Models::loaded,
             progress,
             goesBeyond ? latest.passes.get() : nullptr};
  checkCrops(of, proofs.findings);
  // Until it is finished noise goes away by itself, and then it is taken out.
  if (auto calm = finishedPasses(stage)) {
    calm = within(calm);
    of.passes = calm.get();
    checkNoise(of, proofs.findings);
  }
}

std::shared_ptr<const Passes> Preview::finishedPasses(const Stage& stage) const {
  const std::lock_guard lock(mutex_);
  return latest_ && latest_->finished && latest_->stage.get() == &stage ? latest_->passes : nullptr;
}

void Preview::measureAgain(const Latest& measured) {
  Progress progress;
  measure(measured.passes ? measured : developed(measured, *measured.film, 0, false, progress));
}

}  // namespace dusk
