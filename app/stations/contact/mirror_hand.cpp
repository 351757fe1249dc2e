#include "app/stations/contact/mirror_hand.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/proof/mirror_look.h"
#include "core/trace/place.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

/// What mirrors: the stand-in in hand by its top, or else the ground.
double mirrorHeightM(const Shot& shot, const StandIn* standIn) {
  if (standIn) return standIn->hasTop() ? standIn->topM() : standIn->positionM.z;
  return placeOf(shot).groundM;
}

Result<MirrorLook> measured(const Shot& shot, AssetStore& assets, const std::string& standInId,
                            const MirroredEdge& edge) {
  const auto plate = assets.plate(shot);
  if (!plate) return plate.error();
  const StandIn* standIn = byId(shot.standIns, standInId);
  return measureMirror(**plate, workingCamera(shot.vantage), mirrorHeightM(shot, standIn),
                       standIn ? standIn->glossIor : shot.contact.glossIor, edge);
}

void set(Shot& shot, const std::string& standInId, const MirrorLook& look) {
  const auto rounded = [](double v) { return std::round(v * 100) / 100; };
  const double strength = rounded(look.strength), roughness = rounded(look.roughness),
               ior = rounded(look.ior);
  if (StandIn* s = byId(shot.standIns, standInId))
    s->gloss = strength, s->glossRoughness = roughness, s->glossIor = ior;
  else
    shot.contact.gloss = strength, shot.contact.glossRoughness = roughness, shot.contact.glossIor = ior;
}

}  // namespace

void MirrorHand::paint(QPainter& painter) const {
  if (!line_) return;
  const QLineF line = view_.toScreen().map(*line_);
  painter.setBrush(Qt::NoBrush);
  for (const auto& pen : {QPen(QColor(20, 18, 26, 160), 4), QPen(look::mark::ember, 1.8, Qt::DashLine)}) {
    painter.setPen(pen);
    painter.drawLine(line);
    for (const QPointF& end : {line.p1(), line.p2()}) painter.drawEllipse(end, 7, 7);
  }
}

void MirrorHand::release() {
  if (!line_) return;
  const MirroredEdge edge{{line_->x1(), line_->y1()}, {line_->x2(), line_->y2()}};
  line_.reset();
  Session& session = bench_.session;
  session.setNextDrag(Session::NextDrag::own);
  bench_.jobs.run<MirrorLook>(
      {words("Measuring a mirrored edge"), "mirror-edge"},
      [shot = session.shot(), assets = session.assets(), standIn = session.selectedStandIn(),
       edge](Progress&) { return measured(shot, *assets, standIn, edge); },
      [&session, id = session.shot().id, standIn = session.selectedStandIn()](MirrorLook& look) {
        session.editShotOf(id, words("measure a mirrored edge"),
                           [&](Shot& shot) { set(shot, standIn, look); });
        session.say(
            QString(words("Measured: gloss %1 ± %2, roughness %3."))
                .arg(decimal(look.strength, 2), decimal(look.strengthSigma, 2), decimal(look.roughness, 2)));
      });
}

}  // namespace dusk
