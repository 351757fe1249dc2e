#include "app/stations/blend/clean_hands.h"

#include <QtWidgets>

#include "app/stations/blend/mask_hands.h"
#include "app/views/camera_overlay.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/project/by_id.h"
#include "core/vantage/horizon.h"
#include "core/vantage/straighten.h"

namespace dusk {
namespace {

void put(Shot& shot, const CleanUp& cleanUp) {
  if (CleanUp* before = byId(shot.cleanUps, cleanUp.id))
    *before = cleanUp;
  else
    shot.cleanUps.push_back(cleanUp);
}

Vec2d middleOf(const std::vector<Vec2d>& loop) {
  Vec2d sum(0, 0);
  for (const Vec2d& p : loop) sum += p;
  return sum / std::max(1.0, double(loop.size()));
}

}  // namespace

void fillAndKeep(Workbench& bench, const CleanUp& cleanUp, const QString& step) {
  Shot with = bench.session.shot();
  put(with, cleanUp);
  bench.jobs.run<std::shared_ptr<const Photo>>(
      {words("Cleaning the plate"), "clean-up"},
      [assets = bench.session.assets(), with](Progress& progress) { return assets->photo(with, &progress); },
      [&session = bench.session, cleanUp, step, id = with.id](std::shared_ptr<const Photo>&) {
        if (session.shot().id != id) return;
        session.editShot(step, [&](Shot& shot) { put(shot, cleanUp); });
        session.selectCleanUp(cleanUp.id);
      });
}

const CleanUp* CleanHands::inHand() const {
  return byId(session_.shot().cleanUps, session_.selectedCleanUp());
}

bool CleanHands::press(const Vec2d& at) {
  if (session_.nextDrag() == NextDrag::cleanUp) return line_ = {at}, true;
  const CleanUp* now = inHand();
  if (session_.nextDrag() != NextDrag::cleanUpFrom || !now) return false;
  CleanUp changed = *now;
  const Vec2d aside = photoPixel(session_.shot().vantage, at) - middleOf(changed.loop);
  changed.from = Vec2d(std::round(aside.x), std::round(aside.y));
  session_.setNextDrag(NextDrag::own);
  fillAndKeep(bench_, changed, words("fill from there"));
  return true;
}

void CleanHands::drag(const Vec2d& at) {
  if (!line_.empty() && (at - line_.back()).length() > 1.5 / view_.scale()) line_.push_back(at);
}

bool CleanHands::release() {
  if (line_.empty()) return false;
  const std::vector<Vec2d> line = std::exchange(line_, {});
  if (line.size() < 4)
    return session_.refuse(words("Keep the button down and draw the line in one go.")), true;
  const Shot& shot = session_.shot();
  CleanUp made;
  made.id = freshId(shot.cleanUps, "clean-up");
  made.name = words("Spot ") + made.id.substr(made.id.rfind('-') + 1);
  for (const Vec2d& p : fewerPoints(line, 1.0 / view_.scale()))
    made.loop.push_back(photoPixel(shot.vantage, p));
  made.horizon = groundHorizon(shot.vantage);
  session_.setNextDrag(NextDrag::own);
  fillAndKeep(bench_, made, words("clean the plate"));
  return true;
}

void CleanHands::paint(QPainter& painter) const {
  const QTransform t = view_.toScreen();
  if (!line_.empty()) paintDrawn(painter, t, line_, true, look::mark::rose);
  const CleanUp* now = inHand();
  if (!now) return;
  const Vantage& vantage = session_.shot().vantage;
  std::vector<Vec2d> loop, source;
  for (const Vec2d& p : now->loop) {
    loop.push_back(workingPixel(vantage, p));
    if (now->from) source.push_back(workingPixel(vantage, p + *now->from));
  }
  paintDrawn(painter, t, loop, true, look::mark::rose);
  if (source.empty()) return;
  paintDrawn(painter, t, source, true, look::mark::tide);
  painter.drawLine(t.map(toPoint(middleOf(source))), t.map(toPoint(middleOf(loop))));
}

}  // namespace dusk
