#include <QtWidgets>

#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/desk.h"
#include "app/widgets/shot_desk.h"
#include "core/base/words.h"
#include "core/product/model.h"
#include "core/set/stand_in_piece.h"

namespace dusk {
namespace {

class ContactDesk : public ShotDesk {
 public:
  explicit ContactDesk(Session& session)
      : ShotDesk(
            session, words("Contact"),
            words("How the product touches the place. The photo's ground is lit twice, without and with the "
                  "product; the photo is multiplied by the ratio, so shadows keep its texture and colour.")) {
    toggle(
        words("The ground catches shadows"),
        words(
            "The ground Z = 0 takes the product's shadow and its bounce, and shows in its reflections as the "
            "photo does"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).contact.groundCatches); },
        [this](Project& p, bool on) { session_.shotIn(p).contact.groundCatches = on; });
    heading(words("Foot and ground"));
    number(
        words("Lift"), {-1e4, 1e4, 0.5, 1, "mm"},
        words("Gap between the lowest point and the ground: 0 stands"),
        [this](const Project&) {
          const Placement* p = session_.placement();
          return p ? std::optional(p->liftM * 1000) : std::nullopt;
        },
        [this](Project& project, double v) {
          if (Placement* p = session_.placementIn(session_.shotIn(project))) p->liftM = v / 1000;
        });
    button(words("Stand on the ground"), words("Sets the lift to 0"), [this] {
      session_.editShot(words("stand on the ground"), [](Shot& shot) {
        for (Placement& p : shot.placements) p.liftM = 0;
      });
    });
    standIns();
    beginFold(words("Glossy ground"), false);
    shotNumber(words("Gloss"), {0, 1, 0.05, 2, "", true},
               words("Strength of the ground's mirror-like side: wet stone, polish"), &Shot::contact,
               &Contact::gloss);
    shotNumber(words("Its roughness"), {0, 1, 0.02, 2, "", true}, words("0 mirrors sharply, 1 not at all"),
               &Shot::contact, &Contact::glossRoughness);
    shotNumber(words("Its IOR"), {1, 3, 0.01, 2, ""}, words("Index of refraction: 1.33 water, 1.5 lacquer"),
               &Shot::contact, &Contact::glossIor);
    forNextDrag(
        words("Measure a mirrored edge…"),
        words("Drag from an edge of a thing to its mirror image: contrast and softness tell how the ground "
              "mirrors; with a stand-in in hand, how its top does"),
        Session::NextDrag::mirrorEdge);
    endFold();
    beginFold(words("How far shadows reach"), false);
    choice(
        words("Shadows end"), {words("by themselves"), words("never"), "between"},
        words("By themselves: never on a photo; on an even backdrop before the border, which then keeps its "
              "colour"),
        [this](const Project& p) { return int(session_.shotIn(p).contact.reach); },
        [this](Project& p, int i) { session_.shotIn(p).contact.reach = ShadowReach(i); });
    const auto end = [this](const char* label, const char* tip, double Contact::*member) {
      length(
          label, tip,
          [=, this](const Project& p) {
            const Contact& c = session_.shotIn(p).contact;
            return c.reach == ShadowReach::given ? std::optional(c.*member) : std::nullopt;
          },
          [=, this](Project& p, double v) { session_.shotIn(p).contact.*member = std::max(0.0, v); });
    };
    end(words("Whole up to"), words("As traced so far from the product"), &Contact::reachFromM);
    end(words("Gone beyond"), words("Nothing of the shadow is left so far from the product"),
        &Contact::reachToM);
    endFold();
    heading(words("In the finished picture"));
    shotNumber(words("Shadow"), {0, 2, 0.05, 2, "×", true},
               words("Strength of the shadow; 1 as traced, no new tracing"), &Shot::blend,
               &BlendSettings::shadowStrength);
    shotNumber(words("Reflection"), {0, 2, 0.05, 2, "×", true},
               words("Strength of the ground's reflection; 1 as traced"), &Shot::blend,
               &BlendSettings::reflectionStrength);
    colour(
        words("Shadow tint"), words("Colour that is left in the full shadow; black keeps it as traced"),
        [this](const Project& p) { return std::optional(session_.shotIn(p).blend.shadowTint); },
        [this](Project& p, const Vec3d& c) { session_.shotIn(p).blend.shadowTint = c; });
    note(words("The ground has no edge: it catches until it changes the photo by less than 0.15 %."));
    stretch();
  }

 private:
  template <typename P>
  auto now(P& p) -> decltype(&session_.shotIn(p).standIns[0]) {
    return byId(session_.shotIn(p).standIns, session_.selectedStandIn());
  }

  std::shared_ptr<const Model> modelInHand() const {
    const Product* product = session_.product();
    return product ? session_.assets()->loadedModel(*product) : nullptr;
  }
  std::optional<bool> onlyCatches(const Project& p) const {
    const auto model = modelInHand();
    const Product* product = model ? byId(p.products, session_.product()->id) : nullptr;
    if (!product) return {};
    return std::all_of(model->parts.begin(), model->parts.end(),
                       [&](const Part& part) { return roleOf(*product, part.path).catcher; });
  }

  void standIns() {
    heading(words("Stand-ins"));
    note(words(
        "Simple shapes where things of the photo are: they catch, block and reflect for them, and never "
        "show."));
    toggle(
        words("The product in hand only catches"),
        words("It stands for what the photo shows there, as a scan or a model of the place does: it catches "
              "shadows and bounce, blocks and reflects, and never shows. Single parts: Surface, In the "
              "picture"),
        [this](const Project& p) { return onlyCatches(p); },
        [this](Project& p, bool on) {
          const auto model = modelInHand();
          if (Product* product = session_.productIn(p); product && model)
            letCatch(*product, rootsOf(*model), on);
        });
    beginRow();
    forNextDrag(words("Draw one…"),
                words("Drag over the foot of the thing in the picture, then pull up its top"),
                Session::NextDrag::standIn);
    auto* away =
        button(words("Take it away"), words("Deletes the stand-in in hand (Delete in the picture)"), [this] {
          const std::string id = session_.selectedStandIn();
          session_.editShot(words("take a stand-in away"), [&](Shot& shot) {
            std::erase_if(shot.standIns, [&](const StandIn& s) { return s.id == id; });
          });
        });
    auto* render = button(
        words("Render it"),
        words("A piece of its shape and measures is rendered in its stead, to be dressed; the stand-in is "
              "switched off"),
        [this] {
          std::string made;
          session_.edit(words("render a stand-in"), [&](Project& p) {
            made = renderStandIn(p, session_.shotIndex(), session_.selectedStandIn());
          });
          if (!made.empty()) session_.selectPlacement(made);
        });
    endRow();
    onRefresh([this, away, render] {
      for (QWidget* w : {away, render}) w->setEnabled(now(session_.project()) != nullptr);
    });
    auto* which = new QComboBox;
    which->setAccessibleName(words("Stand-in"));
    which->setPlaceholderText(words("click one, or choose it here"));
    which->setToolTip(words("The stand-in in hand"));
    connect(which, &QComboBox::activated, this,
            [this, which](int i) { session_.selectStandIn(which->itemData(i).toString().toStdString()); });
    add(which);
    onRefresh([this, which] {
      const QSignalBlocker quiet(which);
      which->clear();
      for (const StandIn& s : session_.shot().standIns)
        which->addItem(QString::fromStdString(s.name), QString::fromStdString(s.id));
      which->setCurrentIndex(which->findData(QString::fromStdString(session_.selectedStandIn())));
      which->setVisible(which->count() > 0);
    });
    auto* name = new QLineEdit;
    name->setToolTip(words("What the thing is called"));
    connect(name, &QLineEdit::editingFinished, this, [this, name] {
      const std::string text = name->text().trimmed().toStdString();
      if (!text.empty())
        session_.edit(words("rename a stand-in"), [&](Project& p) {
          if (StandIn* s = now(p)) s->name = text;
        });
    });
    auto* nameRow = labelled(words("Name"), name);
    add(nameRow);
    onRefresh([this, name, nameRow] {
      const StandIn* s = now(session_.project());
      nameRow->setVisible(s);
      if (s && !name->hasFocus()) name->setText(QString::fromStdString(s->name));
    });
    auto* shape = choice(
        words("Most like"), {words("box"), words("cylinder"), words("ball"), words("sheet")},
        words("What it is most like; a sheet is a table top or a wall"),
        [this](const Project& p) { return now(p) ? int(now(p)->kind) : -1; },
        [this](Project& p, int kind) {
          if (StandIn* s = now(p)) s->kind = StandInKind(kind);
        });
    onRefresh([this, shape] { shape->parentWidget()->setVisible(now(session_.project())); });
    using K = StandInKind;
    size(words("Wide"), 0, {K::box, K::cylinder, K::ball, K::sheet});
    size(words("Deep"), 1, {K::box, K::sheet});
    size(words("Tall"), 2, {K::box, K::cylinder});
    place(words("Position a"), 0), place(words("Position b"), 1), place(words("Base height"), 2);
    angle(words("Turned"), words("About the upright, counter-clockwise from above"), &StandIn::turnDegrees,
          {K::box, K::sheet});
    angle(words("Lean"), words("0 lies like a table top, 90 stands like a wall"), &StandIn::leanDegrees,
          {K::sheet});
    flag(words("It catches"), words("Takes the product's shadow and its bounce"), &StandIn::catches);
    flag(words("It blocks"), words("Keeps light from the product, and hides what is behind it"),
         &StandIn::blocks);
    share(words("Its own gloss"), {0, 1, 0.05, 2, "", true}, words("Strength of its mirror-like side"),
          &StandIn::gloss);
    share(words("How rough"), {0, 1, 0.02, 2, "", true}, words("0 mirrors sharply"),
          &StandIn::glossRoughness);
  }

  Get has(std::vector<StandInKind> only, std::function<double(const StandIn&)> value) {
    return [this, only, value](const Project& p) -> std::optional<double> {
      const StandIn* s = now(p);
      if (!s || std::find(only.begin(), only.end(), s->kind) == only.end()) return {};
      return value(*s);
    };
  }
  void size(const char* label, int axis, std::vector<StandInKind> only) {
    length(label, words("Outer size of the thing it stands for"),
           has(only, [=](const StandIn& s) { return s.sizeM[axis]; }), [=, this](Project& p, double v) {
             if (StandIn* s = now(p)) s->sizeM[axis] = std::max(0.001, v);
           });
  }
  static std::vector<StandInKind> all() {
    return {StandInKind::box, StandInKind::cylinder, StandInKind::ball, StandInKind::sheet};
  }
  void place(const char* label, int axis) {
    length(label, words("Where the middle of its foot is"),
           has(all(), [=](const StandIn& s) { return s.positionM[axis]; }), [=, this](Project& p, double v) {
             if (StandIn* s = now(p)) s->positionM[axis] = v;
           });
  }
  void angle(const char* label, const char* tip, double StandIn::*member, std::vector<StandInKind> only) {
    number(label, {-360, 360, 1, 1, "°"}, tip, has(only, [=](const StandIn& s) { return s.*member; }),
           [=, this](Project& p, double v) {
             if (StandIn* s = now(p)) s->*member = v;
           });
  }
  void share(const char* label, const Range& range, const char* tip, double StandIn::*member) {
    number(label, range, tip, has(all(), [=](const StandIn& s) { return s.*member; }),
           [=, this](Project& p, double v) {
             if (StandIn* s = now(p)) s->*member = v;
           });
  }
  void flag(const char* label, const char* tip, bool StandIn::*member) {
    auto* box = toggle(
        label, tip,
        [=, this](const Project& p) { return now(p) ? std::optional(now(p)->*member) : std::nullopt; },
        [=, this](Project& p, bool on) {
          if (StandIn* s = now(p)) s->*member = on;
        });
    onRefresh([this, box] { box->setVisible(now(session_.project())); });
  }
};

}  // namespace

Desk* makeContactDesk(Workbench& bench) { return new ContactDesk(bench.session); }

}  // namespace dusk
