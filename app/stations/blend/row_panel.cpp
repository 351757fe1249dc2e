#include "app/stations/blend/row_panel.h"

#include <QtWidgets>

#include "app/jobs/linked.h"
#include "app/stations/blend/curve_field.h"
#include "app/stations/blend/flow_row.h"
#include "app/stations/blend/stack_list.h"
#include "app/stations/blend/view_desk.h"
#include "app/stations/outside.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/blend/grain.h"

namespace dusk {

QString RowPanel::signature(const Shot& shot, const BlendPlace& place) {
  const BlendRow& row = rowNamed(shot.blend, place.row);
  QString text = QString::fromStdString(place.row) + QString("|%1|%2|").arg(place.correction).arg(place.mask);
  for (const Correction& c : row.corrections) text += QString("%1:%2,").arg(int(c.kind)).arg(c.masks.size());
  text += QString("|%1").arg(row.masks.size());
  for (const Mask& m : masksAt(row, place.correction)) text += QString(" %1").arg(int(m.kind));
  if (place.row == "view")
    for (const std::string& what :
         {shot.blend.config.file.path, shot.blend.config.file.hash, shot.blend.config.display})
      text += '|' + QString::fromStdString(what);
  if (const ExtraLayer* layer = layerOf(shot.blend, place.row))
    text += QString("|%1%2").arg(int(layer->kind)).arg(layer->anchor == LayerAnchor::fill);
  return text;
}

RowPanel::RowPanel(Workbench& bench, const BlendPlace& place)
    : Desk(bench.session, {}, {}), bench_(bench), place_(place) {
  setAccessibleName(words("Row in hand"));
  const size_t count = row().corrections.size();
  if (place_.correction >= int(count)) place_.correction = -1;
  if (place_.mask >= int(masksAt(row(), place_.correction).size())) place_.mask = -1;
  own();
  chips();
  if (place_.correction >= 0) correctionFields(row().corrections[size_t(place_.correction)]);
  masks();
  if (place_.mask >= 0) maskFields(masksAt(row(), place_.correction)[size_t(place_.mask)]);
}

void RowPanel::editRow(const QString& what, const RowEdit& change) {
  session_.editShot(what, [&](Shot& shot) {
    if (BlendRow* own = rowNamed(shot.blend, place_.row)) change(*own);
    dropIdleRows(shot.blend);
  });
}

void RowPanel::focusHand() { (hand_ ? hand_ : more_)->setFocus(); }

void RowPanel::blendNumber(const char* label, const Range& range, const char* tip,
                           const std::function<double&(BlendSettings&)>& of) {
  number(
      label, range, tip,
      [=, this](const Project& p) {
        return std::optional<double>(of(const_cast<BlendSettings&>(session_.shotIn(p).blend)));
      },
      [=, this](Project& p, double v) { of(session_.shotIn(p).blend) = v; });
}

void RowPanel::own() {
  if (place_.row.starts_with(lightRow)) lightFields();
  if (place_.row == "product") productFields();
  if (place_.row == "contact")
    blendNumber(words("Shadow"), {0, 2, 0.02, 2, "x", true, 1.0},
                words("How deep the shadow is; 1 as traced"),
                [](BlendSettings& b) -> double& { return b.shadowStrength; });
  if (place_.row == "reflections")
    blendNumber(words("Mirrored"), {0, 4, 0.02, 2, "x", true, 1.0},
                words("How strong the ground mirrors; 1 as traced"),
                [](BlendSettings& b) -> double& { return b.reflectionStrength; });
  if (place_.row == "lens") lensFields();
  if (place_.row == "grain") {
    auto* told = note();
    onRefresh([this, told] {
      const GrainLook& g = session_.shot().blend.grain;
      const Vec3d s = greyGrain(g);
      told->setText(g.sigma.empty()
                        ? words("No grain yet: Match measures the photo's, above.")
                        : QString(words("As measured: %1, %2, %3 codes of R, G, B at middle grey."))
                              .arg(s.x, 0, 'f', 1)
                              .arg(s.y, 0, 'f', 1)
                              .arg(s.z, 0, 'f', 1));
    });
  }
  if (place_.row == "view") {
    auto* desk = new ViewDesk(bench_);
    add(desk);
    connect(desk, &ViewDesk::configRead, this, [this, desk] {
      desk->hide(), desk->deleteLater();
      delete layout()->replaceWidget(desk, new ViewDesk(bench_));
    });
  }
  if (layerOf(session_.shot().blend, place_.row)) layerFields();
}

void RowPanel::lightFields() {
  const std::string group = place_.row.substr(lightRow.size());
  const auto mix = [=, this](const Project& p) {
    const auto& all = session_.shotIn(p).blend.mix;
    const auto found = all.find(group);
    return found == all.end() ? LightMix{} : found->second;
  };
  const auto set = [=, this](Project& p, const LightMix& m) {
    auto& all = session_.shotIn(p).blend.mix;
    if (m == LightMix{})
      all.erase(group);
    else
      all[group] = m;
  };
  number(
      words("This light"), {-8, 8, 0.1, 2, "EV", true, 0.0},
      words("How strong this light is, on the product and on the place; 0 as traced"),
      [=](const Project& p) { return std::optional(mix(p).ev); },
      [=](Project& p, double v) {
        LightMix m = mix(p);
        m.ev = v, set(p, m);
      });
  number(
      words("Its warmth"), {-200, 200, 5, 0, "mired", true, 0.0},
      words("Shift of its colour: above 0 warmer"),
      [=](const Project& p) { return std::optional(mix(p).mired); },
      [=](Project& p, double v) {
        LightMix m = mix(p);
        m.mired = v, set(p, m);
      });
}

void RowPanel::productFields() {
  blendNumber(words("Exposure"), {-6, 6, 0.05, 2, "EV", true, 0.0},
              words("Brightness of the product against the photo"),
              [](BlendSettings& b) -> double& { return b.exposureEv; });
  blendNumber(words("Warmth"), {-1, 1, 0.02, 2, "", true, 0.0},
              words("White balance of the product: below 0 bluer, above 0 warmer (1 = 100 mired)"),
              [](BlendSettings& b) -> double& { return b.warmth; });
  colour(
      words("White"), words("What the product is multiplied by, per channel: white leaves it"),
      [this](const Project& p) { return std::optional(session_.shotIn(p).blend.white); },
      [this](Project& p, const Vec3d& c) { session_.shotIn(p).blend.white = c; });
}

void RowPanel::lensFields() {
  const char* names[] = {words("Softness, red"), words("Softness, green"), words("Softness, blue")};
  for (int c = 0; c < 3; ++c)
    blendNumber(names[c], {0, 20, 0.05, 2, "px"}, words("Sigma of the lens's blur, in pixels of the photo"),
                [c](BlendSettings& b) -> double& { return b.lens.softPx[c]; });
  blendNumber(words("Halo"), {0, 3, 0.02, 2, "x", true, 0.0}, words("Over- and undershoot of sharpening"),
              [](BlendSettings& b) -> double& { return b.lens.halo; });
  blendNumber(words("Halo over"), {0.2, 20, 0.1, 1, "px"}, words("How far it reaches"),
              [](BlendSettings& b) -> double& { return b.lens.haloPx; });
  blendNumber(words("Red larger"), {-20, 20, 0.05, 2, "‰"},
              words("By how much red is drawn larger than green"),
              [](BlendSettings& b) -> double& { return b.lens.fringe.x; });
  blendNumber(words("Blue larger"), {-20, 20, 0.05, 2, "‰"},
              words("By how much blue is drawn larger than green"),
              [](BlendSettings& b) -> double& { return b.lens.fringe.y; });
}

void RowPanel::layerFields() {
  const auto layer = [this](const Project& p) { return layerOf(session_.shotIn(p).blend, place_.row); };
  const auto layerIn = [this](Project& p) { return layerOf(session_.shotIn(p).blend, place_.row); };
  const ExtraLayer& now = *layer(session_.project());
  choice(
      words("Mode"), layerModeTitles(), words("How it joins what is below it"),
      [=](const Project& p) { return layer(p) ? int(layer(p)->mode) : -1; },
      [=](Project& p, int i) { layerIn(p)->mode = LayerMode(i); });
  QStringList roles;
  for (const BlendRoleInfo& info : blendRoles()) roles << words(info.title);
  choice(
      words("Lies on"), roles, words("The row it lies on"),
      [=](const Project& p) { return layer(p) ? int(layer(p)->above) : -1; },
      [=](Project& p, int i) { layerIn(p)->above = BlendRole(i); });
  if (now.kind == LayerKind::picture) {
    button(words("Open outside"), openOutsideTip, [this, layer] {
      if (const ExtraLayer* l = layer(session_.project())) openOutside(session_, l->file);
    });
    choice(
        words("Anchor"),
        {words("Covers the frame"), words("Top left"), words("Top"), words("Top right"), words("Left"),
         words("Middle"), words("Right"), words("Bottom left"), words("Bottom"), words("Bottom right")},
        words("Where it stays, whatever the size and crop of the picture"),
        [=](const Project& p) { return layer(p) ? int(layer(p)->anchor) : -1; },
        [=](Project& p, int i) { layerIn(p)->anchor = LayerAnchor(i); });
    if (now.anchor != LayerAnchor::fill) {
      number(
          words("Width"), {0.5, 400, 1, 1, "%", true, 20.0}, words("Of the frame's width"),
          [=](const Project& p) { return layer(p) ? std::optional(100 * layer(p)->size) : std::nullopt; },
          [=](Project& p, double v) { layerIn(p)->size = v / 100; });
      number(
          words("Margin"), {-50, 50, 0.5, 1, "%", true, 4.0},
          words("From the frame's edges, of its shorter side"),
          [=](const Project& p) { return layer(p) ? std::optional(100 * layer(p)->margin) : std::nullopt; },
          [=](Project& p, double v) { layerIn(p)->margin = v / 100; });
    }
  } else {
    colour(
        words("Colour"), words("In scene light"),
        [=](const Project& p) { return layer(p) ? std::optional(layer(p)->colour) : std::nullopt; },
        [=](Project& p, const Vec3d& c) { layerIn(p)->colour = c; });
    if (now.kind == LayerKind::gradient)
      colour(
          words("Other end"), words("The colour it goes to, from the top to the bottom"),
          [=](const Project& p) { return layer(p) ? std::optional(layer(p)->end) : std::nullopt; },
          [=](Project& p, const Vec3d& c) { layerIn(p)->end = c; });
  }
  button(words("Take the layer away"), words("Removes this layer from the stack"), [this] {
    const std::string id = place_.row.substr(layerRow.size());
    session_.editShot(words("take a layer away"), [&](Shot& shot) {
      std::erase_if(shot.blend.layers, [&](const ExtraLayer& l) { return l.id == id; });
    });
    session_.takeBlend({"view", -1, -1});
  });
}

void RowPanel::chips() {
  auto* line = new FlowRow;
  const BlendRow& r = row();
  for (size_t i = 0; i < r.corrections.size(); ++i) {
    auto* chip = new QPushButton(words(infoOf(r.corrections[i].kind).title));
    chip->setCheckable(true);
    chip->setChecked(int(i) == place_.correction);
    chip->setToolTip(QString(words(infoOf(r.corrections[i].kind).tip)) +
                     words(".\nClick to open it or to fold it away"));
    chip->setAccessibleName(
        QString(words("Correction %1: %2")).arg(i + 1).arg(words(infoOf(r.corrections[i].kind).title)));
    connect(chip, &QPushButton::clicked, this, [this, i] {
      session_.takeBlend({place_.row, place_.correction == int(i) ? -1 : int(i), -1});
    });
    line->addWidget(chip);
    if (chip->isChecked()) hand_ = chip;
  }
  auto* add = new QPushButton(words("+ Correction"));
  add->setToolTip(words("Adds a correction to this row: it acts after those before it"));
  auto* menu = new QMenu(add);
  const BlendRole role = roleOfRow(place_.row);
  for (const CorrectionKindInfo& info : correctionKinds()) {
    if (!fits(info, role)) continue;
    QAction* action = menu->addAction(words(info.title));
    action->setToolTip(words(info.tip));
    connect(action, &QAction::triggered, this, [this, kind = info.kind] {
      const int at = int(row().corrections.size());
      editRow(QString(words("add ")) + inSentence(words(infoOf(kind).title)), [&](BlendRow& b) {
        Correction c{kind};
        if (infoOf(kind).hasCurve) c.curve = {{0, 0}, {0.25, 0.25}, {0.75, 0.75}, {1, 1}};
        b.corrections.push_back(c);
      });
      session_.takeBlend({place_.row, at, -1});
    });
  }
  menu->setToolTipsVisible(true);
  add->setMenu(menu);
  line->addWidget(add);
  if (menu->isEmpty()) add->hide();
  this->add(line);
}

void RowPanel::correctionFields(const Correction& c) {
  const size_t at = size_t(place_.correction);
  const auto get = [this, at](const Project& p) -> const Correction* {
    const BlendRow& r = row(p);
    return at < r.corrections.size() ? &r.corrections[at] : nullptr;
  };
  const auto in = [this, at](Project& p) -> Correction& {
    return rowNamed(session_.shotIn(p).blend, place_.row)->corrections[at];
  };
  toggle(
      words("On"), words("Whether this correction acts"),
      [=](const Project& p) { return get(p) ? std::optional(get(p)->on) : std::nullopt; },
      [=](Project& p, bool on) { in(p).on = on; });
  for (const CorrectionField& f : infoOf(c.kind).fields)
    number(
        words(f.title), {f.low, f.high, f.step, f.decimals, f.unit, true, f.usual}, words(f.tip),
        [=, name = f.name](const Project& p) {
          return get(p) ? std::optional(valueOf(*get(p), name)) : std::nullopt;
        },
        [=, name = std::string(f.name), usual = f.usual](Project& p, double v) {
          if (v == usual)
            in(p).values.erase(name);
          else
            in(p).values[name] = v;
        });
  number(
      words("Strength"), {0, 100, 1, 0, "%", true, 100.0}, words("How much of the correction is taken"),
      [=](const Project& p) { return get(p) ? std::optional(100 * get(p)->strength) : std::nullopt; },
      [=](Project& p, double v) { in(p).strength = v / 100; });
  if (infoOf(c.kind).hasCurve) curveFields(get, in);
  if (infoOf(c.kind).hasFile) takeTable();
  beginRow();
  const auto move = [this, at](int by) {
    const int to = int(at) + by;
    if (to < 0 || to >= int(row().corrections.size())) return;
    editRow(words("move a correction"),
            [&](BlendRow& r) { std::swap(r.corrections[at], r.corrections[size_t(to)]); });
    session_.takeBlend({place_.row, to, -1});
  };
  button(words("Earlier"), words("It acts before the one before it"), [=] { move(-1); });
  button(words("Later"), words("It acts after the one after it"), [=] { move(1); });
  button(words("Take off"), words("Takes this correction off the row"), [this, at] {
    editRow(words("take a correction off"),
            [&](BlendRow& r) { r.corrections.erase(r.corrections.begin() + long(at)); });
    session_.takeBlend({place_.row, -1, -1});
  });
  endRow();
}

void RowPanel::curveFields(const std::function<const Correction*(const Project&)>& get,
                           const std::function<Correction&(Project&)>& in) {
  auto* field = new CurveField([this, in](const std::vector<Vec2d>& points, int gesture) {
    session_.edit(
        words("bend the tone curve"), [&](Project& p) { in(p).curve = points; }, gesture);
  });
  add(field);
  onRefresh([=, this] {
    if (const Correction* now = get(session_.project())) field->setPoints(now->curve);
  });
  connect(&bench_.preview, &Preview::frameReady, field,
          [field](const std::shared_ptr<const Frame>& frame) { field->setTones(*frame); });
  if (const auto now = bench_.preview.frame(); now && now->shotId == session_.shot().id)
    field->setTones(*now);
  connect(field, &CurveField::handChanged, this, [this] { refreshAll(); });
  const auto ofHand = [&](const char* title, const char* tip, double Vec2d::*axis) {
    number(
        words(title), {0, 255, 1, 0, ""}, words(tip),
        [=](const Project& p) {
          const Correction* now = get(p);
          const auto point = field->inHand();
          return now && point && *point < now->curve.size() ? std::optional(255 * now->curve[*point].*axis)
                                                            : std::nullopt;
        },
        [=](Project& p, double code) {
          const auto point = field->inHand();
          if (!point || *point >= in(p).curve.size()) return;
          Vec2d to = in(p).curve[*point];
          to.*axis = code / 255;
          in(p).curve[*point] = field->within(*point, to);
        });
  };
  ofHand(marked("Code"), marked("Of the point in hand: the code value that comes in"), &Vec2d::x);
  ofHand(marked("Becomes"), marked("Of the point in hand: the code value that it becomes"), &Vec2d::y);
}

void RowPanel::takeTable() {
  auto* told = note();
  onRefresh([this, told] {
    const BlendRow& r = row();
    const size_t at = size_t(place_.correction);
    if (at >= r.corrections.size()) return;
    const QString path = QString::fromStdString(r.corrections[at].file.path);
    told->setText(path.isEmpty() ? words("No table yet.") : QFileInfo(path).fileName());
  });
  button(words("Choose a table…"), words("A colour table: .cube, .spi1d, .spi3d or .csp"), [this] {
    const QString file = chooseFile(this, words("Choose a colour table"), FileKind::table);
    if (file.isEmpty()) return;
    const std::filesystem::path path = pathOf(file);
    bench_.jobs.run<AssetRef>(
        {words("Reading ") + QFileInfo(file).fileName(), "table"},
        [assets = session_.assets(), path](Progress&) -> Result<AssetRef> {
          const auto table = readColourTable(path);
          if (!table) return table.error();
          return assets->refer(path);
        },
        [this, place = place_](AssetRef& ref) {
          session_.editShot(words("choose a colour table"), [&](Shot& shot) {
            BlendRow* r = rowNamed(shot.blend, place.row);
            if (r && size_t(place.correction) < r->corrections.size())
              r->corrections[size_t(place.correction)].file = ref;
          });
        });
  });
}

}  // namespace dusk
