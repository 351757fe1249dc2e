#include "app/stations/vantage/vantage_work.h"

#include "app/document/session.h"
#include "app/jobs/jobs.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"
#include "core/vantage/levels.h"
#include "core/vantage/snap.h"

namespace dusk {

VantageWork::VantageWork(Session& session, Jobs& jobs) : session_(session), jobs_(jobs) {
  connect(&jobs_, &Jobs::changed, this, &VantageWork::changed);
  // What is half drawn or proposed belongs to the shot it was begun on.
  const auto forget = [this] {
    box_.reset(), pinPoint_.reset(), pin_ = length_ = -1;
    dropProposal();
  };
  connect(&session_, &Session::documentChanged, this, forget);
  connect(&session_, &Session::shotChanged, this, forget);
}

void VantageWork::setDrawing(Drawing drawing) {
  drawing_ = drawing;
  emit changed();
}

void VantageWork::setSnaps(bool on) {
  snaps_ = on;
  emit changed();
}

void VantageWork::setBox(const std::optional<Box>& box) {
  box_ = box;
  emit changed();
}

void VantageWork::selectPin(int index) {
  pin_ = index;
  if (index >= 0) length_ = -1;
  emit changed();
}

void VantageWork::setPinPoint(const std::optional<Vec3d>& world) {
  pinPoint_ = world;
  emit changed();
}

void VantageWork::selectLength(int index) {
  length_ = index;
  if (index >= 0) pin_ = -1;
  emit changed();
}

const Job* VantageWork::looking() const { return jobs_.find("edges"); }

void VantageWork::findEdges() {
  const AssetRef plate = session_.shot().plate;
  if (plate.empty() || looking()) return;
  proposal_.reset();
  struct Found {
    EdgeProposal edges;
    bool bends;
  };
  jobs_.run<Found>(
      {words("Looking for edges"), "edges"},
      [assets = session_.assets(), plate,
       evidence = session_.shot().evidence](Progress& progress) -> Result<Found> {
        const auto photo = assets->photo(plate);
        if (!photo) return photo.error();
        auto edges = dusk::findEdges(**photo, evidence.focalMm35, progress);
        if (!edges) return edges.error();
        Evidence with = evidence;
        with.strokes = edges->strokes;
        const bool bends =
            edges->bent || bendsMatter(with, (*photo)->picture.width, (*photo)->picture.height);
        return Found{std::move(*edges), bends};
      },
      [this, plate](Found& found) {
        if (session_.shot().plate != plate) return;
        if (found.edges.strokes.empty())
          return session_.say(
              words("No straight edges that belong together were found. Draw strokes by hand."));
        proposal_ = Proposal{found.edges.strokes, {}, found.bends, {}};
        judgeProposal();
        emit changed();
        if (const std::string doubt = found.edges.doubt(); !doubt.empty())
          session_.say(QString::fromStdString(doubt));
      });
}

void VantageWork::cancelFinding() {
  if (Job* running = jobs_.find("edges")) running->cancel();
}

void VantageWork::judgeProposal() {
  if (!proposal_) return;
  Evidence e = session_.shot().evidence;
  e.strokes.clear();
  for (const Stroke& s : proposal_->strokes)
    if (!proposal_->dropped.contains(s.id)) e.strokes.push_back(s);
  e.solveK1 = proposal_->bends;
  const Camera& camera = session_.shot().vantage.camera;
  proposal_->answer = solve(e, camera.width, camera.height);
}

void VantageWork::toggle(const std::string& id) {
  if (!proposal_ || !byId(proposal_->strokes, id)) return;
  if (!proposal_->dropped.erase(id)) proposal_->dropped.insert(id);
  judgeProposal();
  emit changed();
}

void VantageWork::swapRuns(Run from, Run to) {
  if (!proposal_ || from == to) return;
  for (Stroke& s : proposal_->strokes) s.run = s.run == from ? to : s.run == to ? from : s.run;
  judgeProposal();
  emit changed();
}

void VantageWork::takeProposal() {
  if (!proposal_) return;
  const Proposal taken = *proposal_;
  proposal_.reset();
  session_.editEvidence(words("take the edges found"), [&](Evidence& e) {
    for (Stroke s : taken.strokes) {
      if (taken.dropped.contains(s.id)) continue;
      s.id = freshId(e.strokes, "stroke");
      e.strokes.push_back(std::move(s));
    }
    e.solveK1 |= taken.bends;
  });
  emit changed();
}

void VantageWork::dropProposal() {
  proposal_.reset();
  emit changed();
}

void VantageWork::snapStroke(const std::string& id, int gesture) {
  const auto photo = session_.assets()->loadedPhoto(session_.shot().plate);
  const Stroke* stroke = byId(session_.shot().evidence.strokes, id);
  if (!photo || !stroke) return;
  const std::vector<Vec2d> drawn = stroke->drawn.empty() ? stroke->points : stroke->drawn;
  const auto edge = snapped(*photo, drawn, reachPx_);
  if (!edge) return session_.say(words("No edge stands out there: the stroke stays as drawn."));
  session_.editEvidence(
      words("snap a stroke"),
      [&](Evidence& e) {
        if (Stroke* s = byId(e.strokes, id)) s->drawn = drawn, s->points = edge->points;
      },
      gesture);
}

void VantageWork::freeStroke(const std::string& id) {
  session_.editEvidence(words("free a stroke from its edge"), [&](Evidence& e) {
    if (Stroke* s = byId(e.strokes, id); s && !s->drawn.empty()) s->points = s->drawn, s->drawn.clear();
  });
}

void VantageWork::editFrame(const QString& what, const std::function<void(Evidence&)>& change) {
  if (session_.shot().vantage.locked)
    return session_.say(
        words("The vantage is locked against accidents. Unlock it on the desk to change it."));
  session_.editEvidence(what, change);
}

void VantageWork::addLevel(double heightM) {
  session_.editShot(words("add a level plane"), [&](Shot& shot) {
    const std::string id = freshId(shot.levels, "level");
    shot.levels.push_back({id, words("Level ") + id.substr(id.rfind('-') + 1), heightM});
  });
}

void VantageWork::footprintToLevel() {
  const Shot& shot = session_.shot();
  const auto& footprint = shot.evidence.footprint;
  if (!footprint || !footprint->sizeM || !shot.vantage.solved)
    return session_.refuse(words("Draw a footprint round the raised thing and give its size first."));
  Evidence without = shot.evidence;
  without.footprint.reset();
  const VantageAnswer answer = solve(without, shot.vantage.camera.width, shot.vantage.camera.height);
  if (!answer.vantage.solved || !answer.scaleKnown)
    return session_.refuse(
        words("Without this footprint the camera or the true size would not be known: give a "
              "known length or the camera's height first."));
  const auto height = heightOfRectangle(answer.vantage.camera, footprint->corners, *footprint->sizeM);
  if (!height) return session_.refuse(words("A level rectangle of that size does not fit these corners."));
  session_.editShot(words("make the footprint a level plane"), [&](Shot& s) {
    s.evidence.footprint.reset();
    if (!s.vantage.locked) session_.solveAgain(s);
    // Not before: levels go along where the size is told otherwise.
    const std::string id = freshId(s.levels, "level");
    s.levels.push_back({id, words("Level ") + id.substr(id.rfind('-') + 1), *height});
  });
}

void VantageWork::keep() {
  session_.editShot(words("keep the vantage"), [](Shot& shot) {
    const std::string id = freshId(shot.keptVantages, "kept");
    shot.keptVantages.push_back(
        {id, words("Vantage ") + id.substr(id.rfind('-') + 1), shot.evidence, shot.vantage});
  });
}

void VantageWork::use(const std::string& id) {
  session_.editShot(words("use a kept vantage"), [&](Shot& shot) {
    const KeptVantage* kept = byId(shot.keptVantages, id);
    if (!kept) return;
    shot.evidence = kept->evidence;
    shot.vantage = kept->vantage;
    shot.vantage.locked = shot.vantage.solved;  // against accidents
  });
}

void VantageWork::forget(const std::string& id) {
  session_.editShot(words("forget a kept vantage"), [&](Shot& shot) {
    std::erase_if(shot.keptVantages, [&](const KeptVantage& k) { return k.id == id; });
  });
}

}  // namespace dusk
