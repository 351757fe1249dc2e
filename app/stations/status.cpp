#include "app/stations/status.h"

#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/project/light_edit.h"
#include "core/vantage/camera.h"
#include "core/vantage/solve.h"

namespace dusk {
namespace {

using State = StationStatus::State;

StationStatus judged(const Finding* f, const QString& figure) {
  return {!f ? State::begun : f->ok() ? State::proved : State::off, figure};
}

}  // namespace

StationStatus plateStatus(const StatusInput& in) {
  const Camera& c = in.shot().vantage.camera;
  if (!hasPlate(in.shot())) return {State::untouched, words("no photo yet")};
  return {State::proved, QString("%1 × %2").arg(c.width).arg(c.height)};
}

StationStatus vantageStatus(const StatusInput& in) {
  const Vantage& v = in.shot().vantage;
  if (!v.solved) {
    const Evidence& e = in.shot().evidence;
    const bool drawn = !e.strokes.empty() || e.footprint || !e.pins.empty();
    return {drawn ? State::off : State::untouched, words("not solved")};
  }
  const double mm = focalMm35(v.camera);
  if (v.sigma.focalPx == 0) return {State::proved, QString(words("%1 mm, by hand")).arg(decimal(mm, 1))};
  // Measured in pixels alone: how large things are, is not known yet.
  const State state = v.rmsPx <= fitLimitPx(v.camera) ? State::proved : State::off;
  if (!scaleIsKnown(in.shot().evidence))
    return {state, QString(words("%1 mm, size assumed")).arg(decimal(mm, 1))};
  return {state, QString("%L1 px, %L2 mm ± %L3")
                     .arg(v.rmsPx, 0, 'f', 1)
                     .arg(mm, 0, 'f', 1)
                     .arg(mm * v.sigma.focalPx / v.camera.focalPx, 0, 'f', 1)};
}

StationStatus productStatus(const StatusInput& in) {
  // The pieces of a set are not what is to be shown in it.
  const auto& placements = in.shot().placements;
  const auto placed = std::count_if(placements.begin(), placements.end(), [&](const Placement& at) {
    const Product* product = byId(in.session.project().products, at.productId);
    return !product || product->piece.kind.empty();
  });
  if (placed == 0) return {State::untouched, words("none yet")};
  return {State::proved, QString(words("%1 placed")).arg(placed)};
}

StationStatus surfaceStatus(const StatusInput& in) {
  size_t dressed = 0;
  for (const Product& p : in.session.project().products) dressed += p.surfaceOfPart.size();
  if (!dressed) return {State::untouched, words("as in the file")};
  return {State::proved, QString(words("%1 part dressed", "%1 parts dressed", long(dressed))).arg(dressed)};
}

StationStatus lightStatus(const StatusInput& in) {
  if (in.shot().surroundings.panorama.empty() && in.shot().lamps.empty())
    return {State::untouched, words("even sky")};
  const Finding* f = in.finding("shadow-angle");
  if (!f && in.shot().backdrop.kind != BackdropKind::photo) {
    // Without a photo there is no shadow to fall like.
    const auto& lamps = in.shot().lamps;
    const auto lit = std::count_if(lamps.begin(), lamps.end(), [](const Lamp& l) { return l.on; }) +
                     !in.shot().surroundings.panorama.empty();
    return {lit ? State::proved : State::untouched, QString(words("lights: %1")).arg(lit)};
  }
  if (f) return judged(f, QString(words("shadow %1° off")).arg(decimal(f->value, 1)));
  if (!in.shot().surroundings.panorama.empty() && isAsItCame(in.shot().surroundings))
    return judged(f, words("not aligned yet"));
  if (!in.proofs) return judged(f, in.shot().gnomon ? words("being read") : words("no gnomon yet"));
  if (!in.proofs->shadows.productDegrees)
    return in.shot().gnomon ? StationStatus{State::off, words("casts no shadow")}
                            : StationStatus{State::proved, words("soft light")};
  return judged(f, in.shot().gnomon ? words("no clear shadow") : words("no gnomon yet"));
}

StationStatus contactStatus(const StatusInput& in) {
  if (in.shot().placements.empty()) return {State::untouched, words("nothing stands")};
  if (const Finding* cut = in.finding("catcher-cut"); cut && !cut->ok())
    return {State::off, QString(words("shadow cut, %1 %")).arg(decimal(cut->value, 1))};
  const Finding* f = in.finding("contact-gap");
  return judged(f, f ? QString(words("gap %1 mm")).arg(decimal(f->value, 1)) : QString(words("being read")));
}

StationStatus renderStatus(const StatusInput& in) {
  if (!in.wanted || in.shot().placements.empty()) return {State::untouched, words("nothing to trace")};
  return {in.samples >= in.wanted ? State::proved : State::begun,
          in.samples ? QString(words("%1 of %2 samples")).arg(in.samples).arg(in.wanted)
                     : QString(words("coarse"))};
}

StationStatus blendStatus(const StatusInput& in) {
  if (const Finding* lost = in.finding("tones-lost"); lost && !lost->ok())
    return {State::off, QString(words("%1 % blank")).arg(decimal(lost->value, 0))};
  const Finding* f = in.finding("edge-softness");
  if (!f)
    return {State::untouched, in.shot().backdrop.kind == BackdropKind::photo ? words("edges not seen yet")
                                                                             : words("no photo to match")};
  return judged(f, QString(words("edges %1 ×")).arg(decimal(f->value, 2)));
}

StationStatus deliverStatus(const StatusInput& in) {
  if (in.delivered) return {State::proved, QString(words("%1 written")).arg(in.delivered)};
  const auto& files = in.shot().deliverables;
  const auto wanted = std::count_if(files.begin(), files.end(), [](const Deliverable& d) { return d.on; });
  return {wanted ? State::begun : State::untouched, QString(words("%1 asked for")).arg(wanted)};
}

}  // namespace dusk
