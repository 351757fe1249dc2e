// What the lessons teach: each step is one real action, and is told by what it changed.
#include <QtWidgets>

#include "app/stations/deliver/delivery.h"
#include "app/stations/stations.h"
#include "app/window/horizon_bar.h"
#include "app/window/lesson.h"
#include "app/window/main_window.h"
#include "core/base/words.h"
#include "core/set/furnish.h"

namespace dusk {
namespace {

using Control = std::function<QWidget*(MainWindow&)>;
using IsDone = std::function<bool(MainWindow&, const Project&)>;

/// The control of the desk that says so, as text or as its name.
Control control(const char* words) {
  return [words](MainWindow& window) -> QWidget* {
    for (QWidget* w : window.findChildren<QWidget*>()) {
      if (!w->isVisible()) continue;
      const auto* button = qobject_cast<QAbstractButton*>(w);
      if ((button && button->text() == words) || w->accessibleName() == words) return w;
    }
    return nullptr;
  };
}
QWidget* thePicture(MainWindow& window) { return &window.picture(); }

const Shot& shotOf(MainWindow& window) { return window.session().shot(); }
/// The same shot as it was; a new one where it was not there yet.
const Shot& shotBefore(MainWindow& window, const Project& before) {
  static const Shot none;
  const Shot* shot = byId(before.shots, shotOf(window).id);
  return shot ? *shot : none;
}
/// Done once something of the shot - a member, or what a function tells - differs from how it was.
template <typename Of>
IsDone differs(Of of) {
  return [of](MainWindow& window, const Project& before) {
    return !(std::invoke(of, shotOf(window)) == std::invoke(of, shotBefore(window, before)));
  };
}
IsDone moreOf(size_t (*count)(const Shot&)) {
  return [count](MainWindow& window, const Project& before) {
    return count(shotOf(window)) > count(shotBefore(window, before));
  };
}

std::string view(const Shot& s) { return s.blend.view; }

LessonStep bringIn() {
  return {Station::product, words("Bring in a model…: take brackwater-gauge.step. It comes in at true size."),
          control(words("Bring in a model…")), moreOf([](const Shot& s) { return s.placements.size(); })};
}

LessonStep wear() {
  return {Station::surface,
          words("Click a part in the picture, then double-click a surface on the shelf: the part wears it."),
          control(words("Surfaces")), [](MainWindow& window, const Project& before) {
            return !(window.session().base().products == before.products);
          }};
}

}  // namespace

Lesson firstPicture() {
  return {
      words("A first picture"),
      {{Station::plate, words("Every picture begins with its photo. Choose a photo…: take quay-plate.jpg."),
        control(words("Choose a photo…")),
        [](MainWindow& w, const Project&) { return !shotOf(w).plate.empty(); }},
       {Station::vantage, words("Find edges looks for straight edges; they tell where the camera stood."),
        control(words("Find edges")),
        [](MainWindow& w, const Project&) {
          return w.bench().vantageWork.proposal().has_value() || shotOf(w).vantage.solved;
        }},
       {Station::vantage,
        words("Three runs of edges were found, drawn over the photo. Add edges makes them evidence."),
        control(words("Add edges")), [](MainWindow& w, const Project&) { return shotOf(w).vantage.solved; }},
       bringIn(),
       {Station::product, words("Drag the gauge over the ground, to where it should stand."), thePicture,
        differs(&Shot::placements)},
       wear(),
       {Station::light,
        words("Choose a panorama…: take quay-panorama.exr. The place lights the gauge as it lit the photo."),
        control(words("Choose a panorama…")),
        [](MainWindow& w, const Project&) { return !shotOf(w).surroundings.panorama.empty(); }},
       {Station::light,
        words("Align with the photo turns the panorama until its light, landmarks and edges agree."),
        control(words("Align with the photo")), differs(&Shot::surroundings)},
       {Station::blend,
        words("Match the photo measures grain, softness and blacks, and puts them on the gauge."),
        control(words("Match the photo")), differs(&Shot::blend)},
       {Station::deliver, words("Deliver writes the files, beside the project."), control(words("Deliver")),
        [](MainWindow& w, const Project&) {
          return w.jobs().isRunning(deliveryKey) || w.horizon().hasDelivered();
        }}}};
}

Lesson lessonOf(Station station) {
  Lesson lesson{stationName(station), {}};
  switch (station) {
    case Station::plate:
      lesson.steps = {
          {station,
           words("View says how light becomes the screen's colours. Choose another, and see bright spots "
                 "change."),
           control(words("View")), differs(view)},
          {station,
           words("Choose the view that suits the photo: for a picture of a camera that is plain sRGB."),
           control(words("View")), differs(view)}};
      break;
    case Station::vantage:
      lesson.steps = {
          {station,
           words("Take run a, then draw a stroke along an edge that lies level in the photo; it snaps to the "
                 "edge."),
           control(words("Draw run a")), moreOf([](const Shot& s) { return s.evidence.strokes.size(); })},
          {station,
           words("Take run b, and draw along an edge that lies level at a right angle to the first."),
           control(words("Draw run b")), moreOf([](const Shot& s) { return s.evidence.strokes.size(); })}};
      break;
    case Station::product:
      lesson.steps = {
          {station, words("Drag the product in the picture: it stays on the ground, at true size."),
           thePicture, differs(&Shot::placements)},
          {station, words("Turn it by its knob, the small disc beside it, or lift it off the ground."),
           thePicture, differs(&Shot::placements)}};
      break;
    case Station::surface:
      lesson.steps = {wear()};
      break;
    case Station::light:
      lesson.steps = {{station,
                       words("Drag in the picture: the surroundings turn, and the shadow goes along."),
                       thePicture, differs(&Shot::surroundings)}};
      break;
    case Station::contact:
      lesson.steps = {
          {station,
           words("Shadow makes the shadow in the picture weaker or stronger; 1 is as it was traced."),
           control(words("Shadow")), differs([](const Shot& s) { return s.blend.shadowStrength; })},
          {station,
           words("Draw one…, then drag over the foot of a thing in the photo, and pull up its top: now it "
                 "takes "
                 "shadows."),
           control(words("Draw one…")), moreOf([](const Shot& s) { return s.standIns.size(); })}};
      break;
    case Station::render:
      lesson.steps = {{station,
                       words("Detail on screen: coarser is done sooner. Files always have every pixel."),
                       control(words("Detail on screen")), differs(&Shot::render)}};
      break;
    case Station::blend:
      lesson.steps = {
          {station,
           words("Match the photo measures grain, softness and blacks, and puts them on the product."),
           control(words("Match the photo")), differs(&Shot::blend)},
          {station,
           words("Compare lays a curtain over the picture: what it was beside what it is. Change something, "
                 "and "
                 "look."),
           control(words("Compare")), differs(&Shot::blend)}};
      break;
    case Station::deliver:
      lesson.steps = {
          {station, words("The list says what is written. Add a file to it, or change the one in hand."),
           control(words("Files to hand over")), differs(&Shot::deliverables)},
          {station, words("Deliver traces at full size and writes them all."), control(words("Deliver")),
           [](MainWindow& w, const Project&) {
             return w.jobs().isRunning(deliveryKey) || w.horizon().hasDelivered();
           }}};
      break;
  }
  return lesson;
}

namespace {

/// One step of a set; done once it is no more as it was delivered.
LessonStep stepOf(OfDelivery what) {
  const IsDone isDone = [what](MainWindow& window, const Project& before) {
    const Session& session = window.session();
    if (session.base() == before) return false;
    const auto still = asDelivered(session.project(), session.shotIndex());
    return std::find(still.begin(), still.end(), what) == still.end();
  };
  switch (what) {
    case OfDelivery::seed:
      return {
          Station::plate,
          words("Throw the die: sizes, places and colours that no other picture has. Each throw is undone "
                "with Ctrl+Z."),
          control(words("Throw the die")), isDone};
    case OfDelivery::sliders:
      return {Station::plate,
              words("Move a slider: palette, clutter, time of day. In the middle they are as everybody has "
                    "them."),
              [](MainWindow& window) -> QWidget* {
                if (const SetKind* kind = setKindNamed(shotOf(window).set.kind))
                  for (const SetSlider& slider : kind->sliders)
                    if (QWidget* found = control(words(slider.title))(window)) return found;
                return nullptr;
              },
              isDone};
    case OfDelivery::pieces:
      return {
          Station::product,
          words("Drag a piece of the set to another place, give it another size in its fields, or take it "
                "away with Delete."),
          thePicture, isDone};
    case OfDelivery::lamps:
      return {
          Station::light,
          words("Take one of its lamps in hand, in the cast on the left, and move it or change its power."),
          thePicture, isDone};
    case OfDelivery::camera:
      break;
  }
  return {Station::plate, words("Drag in the picture: the camera goes round what you take. Shift: nearer."),
          thePicture, isDone};
}

}  // namespace

Lesson makeItMine(MainWindow& window) {
  Lesson lesson{words("Make it mine"), {}};
  for (const OfDelivery what : asDelivered(window.session().project(), window.session().shotIndex()))
    lesson.steps.push_back(stepOf(what));
  return lesson;
}

}  // namespace dusk
