// The Product desk's folds for the part in hand and for height references.
#include <QtWidgets>

#include "app/stations/product/product_desk.h"
#include "app/widgets/look.h"
#include "core/base/words.h"
#include "core/proof/prove.h"

namespace dusk {
namespace {

const Part* partOf(const Model& model, const std::string& path) {
  for (const Part& part : model.parts)
    if (part.path == path) return &part;
  return nullptr;
}

double distanceToLine(const Vec3d& p, const Vec3d& point, const Vec3d& direction) {
  return (p - point).cross(direction).length();
}

}  // namespace

void ProductDesk::buildPart() {
  part_ = note();
  onRefresh([this] {
    const std::string& path = session_.selectedPart();
    part_->setText(path.empty()
                       ? words("Click a part in the picture or in the cast: then it can be turned about a "
                               "hinge, shifted and put back.")
                       : "<b>" + QString::fromStdString(path.substr(path.rfind('/') + 1)).toHtmlEscaped() +
                             "</b>");
  });
  auto* whole = new QCheckBox(words("With its whole group"));
  whole->setToolTip(words("Moves all parts of the group together: your own group, or the file's"));
  whole->setAccessibleName(words("With its whole group"));
  connect(whole, &QCheckBox::toggled, this, [this](bool on) {
    wholeGroup_ = on;
    refreshAll();
  });
  onRefresh([this, whole] { whole->setEnabled(!session_.selectedPart().empty()); });
  add(whole);
  hinge_ = new QComboBox;
  hinge_->setToolTip(
      words("The line the part turns about: centre lines of round faces, of this part and its "
            "neighbours, and the lines through its own middle"));
  hinge_->setAccessibleName(words("Hinge"));
  hinge_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  connect(hinge_, &QComboBox::activated, this, [this](int i) {
    if (i < 0 || size_t(i) >= hinges_.size()) return;
    session_.edit(words("choose a hinge"), [&](Project& p) {
      changeMove(
          p, [&](PartMove& m) { m.pivot = hinges_[size_t(i)].point, m.axis = hinges_[size_t(i)].direction; });
    });
  });
  add(hinge_);
  onRefresh([this] { refreshHinges(); });
  const auto selected = [this] { return !session_.selectedPart().empty() && session_.product(); };
  number(
      words("Turn about it"), {-360, 360, 1, 1, "°"}, words("Turns the part about its hinge"),
      [=, this](const Project& p) {
        return selected() ? std::optional(moveNow(p).turnDegrees) : std::nullopt;
      },
      [this](Project& p, double v) { changeMove(p, [&](PartMove& m) { m.turnDegrees = v; }); });
  const char* labels[] = {words("Shift along X"), words("Shift along Y"), words("Shift along Z")};
  for (int axis = 0; axis < 3; ++axis)
    length(
        labels[axis], words("Shifts the part along the model's own axis"),
        [=, this](const Project& p) {
          return selected() ? std::optional(moveNow(p).shift[axis] * session_.product()->metresPerUnit)
                            : std::nullopt;
        },
        [=, this](Project& p, double v) {
          changeMove(p, [&](PartMove& m) { m.shift[axis] = v / session_.product()->metresPerUnit; });
        });
  auto* back =
      button(words("Put back"), words("Takes every turn and shift of the part in hand away"), [this] {
        session_.edit(words("put a part back"), [this](Project& p) {
          if (Product* product = session_.productIn(p))
            for (const std::string& path : movedPaths()) product->moves.erase(path);
        });
      });
  onRefresh([this, back] {
    const auto paths = movedPaths();
    back->setEnabled(std::any_of(paths.begin(), paths.end(),
                                 [&](const auto& path) { return session_.product()->moves.contains(path); }));
  });
}

std::vector<std::string> ProductDesk::movedPaths() const {
  const std::string& path = session_.selectedPart();
  const Product* product = session_.product();
  if (path.empty() || !product) return {};
  if (!wholeGroup_) return {path};
  if (const auto own = product->groupOfPart.find(path); own != product->groupOfPart.end()) {
    std::vector<std::string> all;
    for (const auto& [part, group] : product->groupOfPart)
      if (group == own->second) all.push_back(part);
    return all;
  }
  const auto model = session_.assets()->loadedModel(*product);
  const Part* part = model ? partOf(*model, path) : nullptr;
  if (!part || part->parent < 0) return {path};
  return {model->groups[size_t(part->parent)].path};
}

PartMove ProductDesk::moveNow(const Project& project) const {
  const Product* in = session_.product();
  const Product* product = in ? byId(project.products, in->id) : nullptr;
  const auto paths = movedPaths();
  if (product && !paths.empty())
    if (const auto found = product->moves.find(paths.front()); found != product->moves.end())
      return found->second;
  PartMove fresh;
  if (!hinges_.empty()) fresh.pivot = hinges_[0].point, fresh.axis = hinges_[0].direction;
  return fresh;
}

void ProductDesk::changeMove(Project& project, const std::function<void(PartMove&)>& change) {
  Product* product = session_.productIn(project);
  if (!product) return;
  PartMove move = moveNow(project);
  change(move);
  for (const std::string& path : movedPaths()) product->moves[path] = move;
}

std::vector<ProductDesk::Hinge> ProductDesk::hinges() const {
  std::vector<Hinge> all;
  const Product* product = session_.product();
  const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
  const Part* part = model ? partOf(*model, session_.selectedPart()) : nullptr;
  if (!part) return all;
  const double mm = product->metresPerUnit * 1000;
  const auto offer = [&](const std::string& of, const RoundAxis& a) {
    all.push_back(
        {QString("%L1, Ø %L2 mm").arg(QString::fromStdString(of)).arg(2 * double(a.radius) * mm, 0, 'g', 3),
         toDouble(a.point), toDouble(a.direction)});
  };
  for (const RoundAxis& a : part->axes) offer(words("own round face"), a);
  // Pins and shafts beside it, the nearest to its middle's box first.
  const Box box = model->boxOf(*part);
  const Vec3d middle = box.middle();
  std::vector<std::pair<double, const Part*>> beside;
  for (const Part& other : model->parts)
    if (&other != part && other.parent == part->parent && !other.axes.empty())
      beside.emplace_back(
          distanceToLine(middle, toDouble(other.axes[0].point), toDouble(other.axes[0].direction)), &other);
  std::sort(beside.begin(), beside.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  for (size_t i = 0; i < beside.size() && i < 10; ++i)
    offer(beside[i].second->name, beside[i].second->axes[0]);
  const char* names[] = {words("through its middle, along X"), words("through its middle, along Y"),
                         words("through its middle, along Z")};
  for (int k = 0; k < 3; ++k) {
    Vec3d d(0, 0, 0);
    d[k] = 1;
    all.push_back({names[k], middle, d});
  }
  return all;
}

void ProductDesk::refreshHinges() {
  hinges_ = hinges();
  const QSignalBlocker quiet(hinge_);
  hinge_->clear();
  for (const Hinge& h : hinges_) hinge_->addItem(h.text);
  hinge_->setVisible(!hinges_.empty());
  const PartMove now = moveNow(session_.project());
  for (size_t i = 0; i < hinges_.size(); ++i)
    if (hinges_[i].point == now.pivot && hinges_[i].direction == now.axis)
      return hinge_->setCurrentIndex(int(i));
}

void ProductDesk::buildReferences() {
  note(words(
      "Something upright of known height in the photo, such as a door or a brick course. By it the camera's "
      "scale is checked, and with it the product's size. It is not used to find the camera."));
  button(words("Mark one in the picture"), words("Then drag from its foot to its top"), [this] {
    using enum Session::NextDrag;
    session_.setNextDrag(session_.nextDrag() == heightReference ? own : heightReference);
    if (session_.nextDrag() == heightReference)
      session_.say(words("Drag from the foot of something upright to its top."));
  });
  auto* which = new QComboBox;
  which->setToolTip(words("The height reference that the fields below are about"));
  which->setAccessibleName(words("Height reference"));
  add(which);
  const auto now = [which](auto& shot) -> decltype(&shot.heightReferences[0]) {
    return byId(shot.heightReferences, which->currentData().toString().toStdString());
  };
  connect(which, &QComboBox::activated, this, [this] { refreshAll(); });
  onRefresh([this, which] {
    const QSignalBlocker quiet(which);
    const QVariant before = which->currentData();
    const int count = which->count();
    which->clear();
    for (const HeightReference& r : session_.shot().heightReferences)
      which->addItem(QString::fromStdString(r.name), QString::fromStdString(r.id));
    const int at = which->findData(before);
    which->setCurrentIndex(which->count() > count && count >= 0 ? which->count() - 1 : std::max(at, 0));
    which->setVisible(which->count() > 0);
  });
  auto* name = new QLineEdit;
  name->setToolTip(words("What it is: door, sheet, brick course"));
  name->setAccessibleName(words("Name of the height reference"));
  connect(name, &QLineEdit::editingFinished, this, [this, name, now] {
    const HeightReference* r = now(session_.shot());
    if (!r || name->text().trimmed().isEmpty() || name->text().toStdString() == r->name) return;
    session_.editShot(words("name a height reference"), [&](Shot& shot) {
      if (HeightReference* each = now(shot)) each->name = name->text().trimmed().toStdString();
    });
  });
  add(name);
  length(
      words("True height"), words("What it measures in the real place"),
      [this, now](const Project&) {
        const HeightReference* r = now(session_.shot());
        return r ? std::optional(r->metres) : std::nullopt;
      },
      [now, this](Project& p, double v) {
        if (HeightReference* r = now(session_.shotIn(p))) r->metres = std::max(v, 1e-4);
      });
  QLabel* measured = note();
  QPushButton* gone = button(words("Take it away"), words("Removes the height reference"), [this, now] {
    session_.editShot(words("remove a height reference"), [&](Shot& shot) {
      if (const HeightReference* r = now(shot))
        std::erase_if(shot.heightReferences,
                      [id = r->id](const HeightReference& each) { return each.id == id; });
    });
  });
  onRefresh([this, now, name, measured, gone] {
    const HeightReference* r = now(session_.shot());
    name->setVisible(r != nullptr), measured->setVisible(r != nullptr), gone->setVisible(r != nullptr);
    if (!r) return;
    if (!name->hasFocus()) name->setText(QString::fromStdString(r->name));
    const auto metres = measuredHeightM(session_.shot().vantage, *r);
    QString text =
        metres ? QString(words("The camera measures ") + look::spanned("%1 m", look::tide()) +
                         words(", %2 % of the "
                               "true height."))
                     .arg(*metres, 0, 'f', 3)
                     .arg(100 * *metres / r->metres, 0, 'f', 1)
               : QString(words("It cannot be measured: its foot must be on the ground, its top above it."));
    const Product* product = session_.product();
    const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
    if (model && metres) {
      const double tall = trueSize(*product, model->box()).z;
      text += QString(words(" The product is %1 of them tall.")).arg(tall / r->metres, 0, 'f', 2);
    }
    measured->setText(text);
  });
}

}  // namespace dusk
