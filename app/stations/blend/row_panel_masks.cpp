// The masks of a row or correction.
#include <QtWidgets>

#include "app/stations/blend/flow_row.h"
#include "app/stations/blend/row_panel.h"
#include "core/base/words.h"

namespace dusk {
namespace {

struct KindName {
  const char *title, *tip;
};
constexpr KindName kindNames[] = {
    {marked("Outline"), marked("The inside of a drawn shape")},
    {marked("Brush"), marked("Along a drawn line")},
    {marked("Straight gradient"), marked("From full to nothing between two points")},
    {marked("Round gradient"), marked("From full to nothing about a point")},
    {marked("Brightness"), marked("A range of the row's own brightness")},
    {marked("Hue"), marked("A range of the row's own hues")},
    {marked("Depth"), marked("A range of the product's distance")},
    {marked("Facing"), marked("How much the product's surface faces the camera")},
    {marked("Parts"), marked("Parts of the product, by their mattes")},
    {marked("Layer"), marked("What another layer or a cut-out covers")},
};

/// Id and name of all that lies before something else.
std::vector<std::pair<std::string, std::string>> coveringThings(const BlendSettings& blend) {
  std::vector<std::pair<std::string, std::string>> all;
  for (const ExtraLayer& layer : blend.layers) all.emplace_back(layer.id, layer.name);
  for (const CutOut& cut : blend.cutOuts) all.emplace_back(cut.id, cut.name);
  return all;
}

bool isDrawn(MaskKind kind) { return kind <= MaskKind::round; }

}  // namespace

void RowPanel::editMask(const QString& what, const std::function<void(Mask&)>& change) {
  editRow(what, [&](BlendRow& r) {
    std::vector<Mask>& all = masksAt(r, place_.correction);
    if (size_t(place_.mask) < all.size()) change(all[size_t(place_.mask)]);
  });
}

void RowPanel::masks() {
  auto* line = new FlowRow;
  const std::vector<Mask>& all = masksAt(row(), place_.correction);
  for (size_t i = 0; i < all.size(); ++i) {
    auto* chip = new QPushButton(words(kindNames[int(all[i].kind)].title));
    chip->setCheckable(true);
    chip->setChecked(int(i) == place_.mask);
    chip->setToolTip(QString(words(kindNames[int(all[i].kind)].tip)) +
                     words(".\nClick to open it or to fold it away"));
    chip->setAccessibleName(
        QString(words("Mask %1: %2")).arg(i + 1).arg(words(kindNames[int(all[i].kind)].title)));
    connect(chip, &QPushButton::clicked, this, [this, i] {
      session_.takeBlend({place_.row, place_.correction, place_.mask == int(i) ? -1 : int(i)});
    });
    line->addWidget(chip);
    if (chip->isChecked()) hand_ = chip;
  }
  more_ = new QPushButton(words("+ Mask"));
  more_->setToolTip(place_.correction >= 0 ? words("Where this correction acts")
                                           : words("Where this row shows"));
  auto* menu = new QMenu(more_);
  menu->setToolTipsVisible(true);
  for (int k = 0; k < int(std::size(kindNames)); ++k) {
    QAction* action = menu->addAction(words(kindNames[k].title));
    action->setToolTip(words(kindNames[k].tip));
    connect(action, &QAction::triggered, this, [this, k] {
      const Camera& camera = session_.shot().vantage.camera;
      Mask m = newMask(MaskKind(k), std::max(16, camera.width), std::max(16, camera.height),
                       bench_.preview.productSeen().value_or(ProductSeen{}));
      const auto things = coveringThings(session_.shot().blend);
      if (m.kind == MaskKind::layer && !things.empty()) m.layer = things.front().first;
      if (m.kind == MaskKind::parts && !session_.selectedPart().empty())
        m.parts = session_.partsInHand(session_.selectedPart());
      const int at = int(masksAt(row(), place_.correction).size());
      editRow(words("add a mask"), [&](BlendRow& r) { masksAt(r, place_.correction).push_back(m); });
      session_.takeBlend({place_.row, place_.correction, at});
      if (m.kind == MaskKind::outline || m.kind == MaskKind::brush)
        session_.setNextDrag(Session::NextDrag::mask);
    });
  }
  more_->setMenu(menu);
  line->addWidget(more_);
  add(line);
  if (all.empty()) return;
  auto* shows = new QCheckBox(words("Show where they act"));
  shows->setToolTip(
      words("What the masks leave alone turns grey in the picture; nothing of it is delivered"));
  onRefresh([this, shows] {
    const auto now = bench_.preview.shownShare();
    const QSignalBlocker quiet(shows);
    shows->setChecked(now && now->cutOut.empty());
  });
  connect(shows, &QCheckBox::toggled, this, [this](bool on) {
    bench_.preview.showShare(on ? std::optional(ShownShare{place_}) : std::nullopt);
  });
  add(shows);
}

void RowPanel::maskNumber(const char* label, const Range& range, const char* tip, double Mask::*member) {
  number(
      label, range, tip,
      [=, this](const Project& p) -> std::optional<double> {
        const auto& all = masksAt(row(p), place_.correction);
        if (size_t(place_.mask) >= all.size()) return {};
        return all[size_t(place_.mask)].*member;
      },
      [=, this](Project& p, double v) {
        masksAt(*rowNamed(session_.shotIn(p).blend, place_.row), place_.correction)[size_t(place_.mask)].*
            member = v;
      });
}

void RowPanel::layerOfMask() {
  const auto things = coveringThings(session_.shot().blend);
  QStringList names;
  for (const auto& [id, name] : things) names << QString::fromStdString(name);
  if (things.empty()) note(words("There is no layer and no cut-out yet."));
  choice(
      words("Covered by"), names, words("The layer or cut-out whose opacity the mask takes"),
      [=, this](const Project& p) {
        const auto& all = masksAt(row(p), place_.correction);
        const auto at = std::find_if(things.begin(), things.end(), [&](const auto& t) {
          return size_t(place_.mask) < all.size() && t.first == all[size_t(place_.mask)].layer;
        });
        return at == things.end() ? -1 : int(at - things.begin());
      },
      [=, this](Project& p, int i) {
        masksAt(*rowNamed(session_.shotIn(p).blend, place_.row), place_.correction)[size_t(place_.mask)]
            .layer = things[size_t(i)].first;
      });
}

void RowPanel::maskFields(const Mask& m) {
  const auto maskIn = [this](const Project& p) -> const Mask* {
    const auto& all = masksAt(row(p), place_.correction);
    return size_t(place_.mask) < all.size() ? &all[size_t(place_.mask)] : nullptr;
  };
  const auto write = [this](Project& p) -> Mask& {
    return masksAt(*rowNamed(session_.shotIn(p).blend, place_.row), place_.correction)[size_t(place_.mask)];
  };
  choice(
      words("Joins"), {words("Adds"), words("Takes away"), words("Keeps what both have")},
      words("How it joins the masks before it"),
      [=](const Project& p) { return maskIn(p) ? int(maskIn(p)->join) : -1; },
      [=](Project& p, int i) { write(p).join = MaskJoin(i); });
  toggle(
      words("Inverted"), words("Takes what it would leave"),
      [=](const Project& p) { return maskIn(p) ? std::optional(maskIn(p)->inverted) : std::nullopt; },
      [=](Project& p, bool on) { write(p).inverted = on; });
  if (isDrawn(m.kind)) {
    auto* hold = choice(
        words("Stays with"), {words("The frame"), words("The ground"), words("The product")},
        words("What it follows when the camera or the product moves"),
        [=](const Project& p) { return maskIn(p) ? int(maskIn(p)->hold) : -1; }, [](Project&, int) {});
    // The points are told by what holds them: they are brought over so that nothing moves in the picture.
    hold->disconnect(this);
    connect(hold, &QComboBox::activated, this, [this](int i) { emit holdWanted(i); });
  }
  if (m.kind == MaskKind::outline || m.kind == MaskKind::brush) {
    toggle(
        words("Curved"), words("A smooth curve through its points"),
        [=](const Project& p) { return maskIn(p) ? std::optional(maskIn(p)->curved) : std::nullopt; },
        [=](Project& p, bool on) { write(p).curved = on; });
    number(
        words("Feather"), {0, 2000, 1, 0, "px"},
        words("Width of the soft border, of all points; Shift and a drag on a point for one"),
        [=](const Project& p) {
          const Mask* now = maskIn(p);
          return now && !now->points.empty() ? std::optional(now->points[0].feather) : std::nullopt;
        },
        [=](Project& p, double v) {
          for (MaskPoint& point : write(p).points) point.feather = v;
        });
    if (m.kind == MaskKind::brush)
      maskNumber(words("Brush"), {1, 2000, 1, 0, "px"}, words("Its width"), &Mask::widthPx);
    forNextDrag(words("Draw it anew"), words("The next drag in the picture draws its line"),
                Session::NextDrag::mask);
  }
  if (m.kind >= MaskKind::brightness && m.kind < MaskKind::parts) {
    const bool hue = m.kind == MaskKind::hue, depth = m.kind == MaskKind::depth;
    const char* unit = hue ? "deg" : depth ? "m" : "";
    const double high = hue ? 720 : depth ? 1000 : 1, step = hue ? 1 : 0.01;
    const int decimals = hue ? 0 : 2;
    maskNumber(words("From"), {0, high, step, decimals, unit, !depth}, words("Where the range begins"),
               &Mask::from);
    maskNumber(words("To"), {0, high, step, decimals, unit, !depth}, words("Where it ends"), &Mask::to);
    maskNumber(words("Soft over"), {0, high, step, decimals, unit, !depth},
               words("On both sides, on to nothing"), &Mask::soft);
  }
  if (m.kind == MaskKind::parts) {
    QStringList names;
    for (const std::string& part : m.parts) names << QString::fromStdString(part.substr(part.rfind('/') + 1));
    note(names.isEmpty() ? QString(words("No part yet: take one in hand in the picture."))
                         : names.join(", "));
    button(words("The parts in hand"), words("The mask takes the parts that are selected"), [this] {
      const auto parts = session_.partsInHand(session_.selectedPart());
      editMask(words("parts of a mask"), [&](Mask& mask) { mask.parts = parts; });
      session_.takeBlend({place_.row, place_.correction, -1});
    });
  }
  if (m.kind == MaskKind::layer) layerOfMask();
  button(words("Take the mask off"), words("Removes this mask"), [this] {
    editRow(words("take a mask off"), [&](BlendRow& r) {
      auto& all = masksAt(r, place_.correction);
      if (size_t(place_.mask) < all.size()) all.erase(all.begin() + place_.mask);
    });
    session_.takeBlend({place_.row, place_.correction, -1});
  });
}

}  // namespace dusk
