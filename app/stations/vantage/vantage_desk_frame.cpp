// The Vantage desk's lower part: the world's frame, level planes, vantages put aside, camera files.
#include <QtWidgets>

#include "app/stations/vantage/camera_jobs.h"
#include "app/stations/vantage/vantage_desk.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/look.h"
#include "app/widgets/rows.h"
#include "core/base/words.h"
#include "core/vantage/camera.h"

namespace dusk {

void VantageDesk::buildFrame() {
  beginFold(words("Origin, axes and levels"), false);
  beginRow();
  button(words("Set the origin"), words("Then click its place on the ground"),
         [this] { work_.setDrawing(Drawing::origin); });
  button(words("Quarter turn"),
         words("Turns the world a quarter about the upright; nothing moves in the picture"), [this] {
           work_.editFrame(words("turn the world a quarter"),
                           [](Evidence& e) { e.quarterTurns = (e.quarterTurns + 1) % 4; });
         });
  endRow();
  beginRow();
  auto* box = new QCheckBox(words("Check box"));
  box->setToolTip(words("A wire box that stands on the ground: drag its foot about and compare"));
  connect(box, &QCheckBox::toggled, this, [this](bool on) {
    const Camera& c = session_.shot().vantage.camera;
    const auto spot = levelPoint(c, {c.width * 0.5, c.height * 0.75});
    work_.setBox(on && spot ? std::optional(VantageWork::Box{{spot->x, spot->y}, boxEdge_->value()})
                            : std::nullopt);
  });
  add(box);
  boxEdge_ = new NumberField;
  boxEdge_->setRange(0.005, 100);
  boxEdge_->setDecimals(3);
  boxEdge_->setSingleStep(0.05);
  boxEdge_->setValue(0.3);
  boxEdge_->setUnit("m");
  boxEdge_->setToolTip(words("Edge of the check box"));
  boxEdge_->setAccessibleName(words("Edge of the check box"));
  connect(boxEdge_, &QDoubleSpinBox::valueChanged, this, [this](double edge) {
    if (!work_.box()) return;
    auto changed = *work_.box();
    changed.edgeM = edge;
    work_.setBox(changed);
  });
  add(boxEdge_);
  endRow();
  onRefresh([this, box] {
    const QSignalBlocker quiet(box);
    box->setEnabled(session_.shot().vantage.solved);
    box->setChecked(work_.box().has_value());
  });
  button(words("The footprint is a raised level"),
         words("A sheet on a table: its size gives the height of its plane, and it leaves the evidence"),
         [this] { work_.footprintToLevel(); });
  auto* levels = list(words("Level planes"), [](const Shot& s) {
    std::vector<std::pair<std::string, QString>> rows;
    for (const LevelPlane& l : s.levels)
      rows.push_back(
          {l.id, QString("%L1   %L2 m").arg(QString::fromStdString(l.name)).arg(l.heightM, 0, 'f', 3)});
    return rows;
  });
  auto* remove =
      button(words("Delete level"), words("Deletes the level plane chosen in the list"), [this, levels] {
        if (!levels->currentItem()) return;
        const std::string id = levels->currentItem()->data(Qt::UserRole).toString().toStdString();
        session_.editShot(words("delete a level plane"), [&](Shot& s) {
          std::erase_if(s.levels, [&](const LevelPlane& l) { return l.id == id; });
        });
      });
  onRefresh([this, remove] { remove->setVisible(!session_.shot().levels.empty()); });
  endFold();
}

QListWidget* VantageDesk::list(
    const QString& name, std::function<std::vector<std::pair<std::string, QString>>(const Shot&)> rows) {
  auto* list = new QListWidget;
  list->setAccessibleName(name);
  list->setToolTip(name);
  add(list);
  onRefresh([=, this] {
    const auto now = rows(session_.shot());
    list->setVisible(!now.empty());
    const int current = list->currentRow();
    list->clear();
    for (const auto& [id, text] : now) {
      auto* item = new QListWidgetItem(text, list);
      item->setData(Qt::UserRole, QString::fromStdString(id));
    }
    fitToRows(*list);
    list->setCurrentRow(std::clamp(current, 0, std::max(0, list->count() - 1)));
  });
  return list;
}

void VantageDesk::buildKept() {
  beginFold(words("Kept vantages and files"), false);
  auto* kept = list(words("Kept vantages"), [](const Shot& s) {
    std::vector<std::pair<std::string, QString>> rows;
    for (const KeptVantage& k : s.keptVantages) {
      const Camera& c = k.vantage.camera;
      rows.push_back({k.id, QString::fromStdString(k.name) +
                                (k.vantage.solved
                                     ? QString("   %L1 mm ± %L2   %L3 px")
                                           .arg(focalMm35(c), 0, 'f', 1)
                                           .arg(focalMm35(c) * k.vantage.sigma.focalPx / c.focalPx, 0, 'f', 1)
                                           .arg(k.vantage.rmsPx, 0, 'f', 2)
                                     : QString(words("   not solved")))});
    }
    return rows;
  });
  const auto chosen = [kept] {
    return kept->currentItem() ? kept->currentItem()->data(Qt::UserRole).toString().toStdString()
                               : std::string();
  };
  connect(kept, &QListWidget::itemActivated, this, [this, chosen] { work_.use(chosen()); });
  beginRow();
  button(words("Keep this one"), words("Puts this vantage and its evidence aside, to compare another with"),
         [this] { work_.keep(); });
  auto* use = button(words("Use"), words("Goes back to the chosen one, and locks it against accidents"),
                     [this, chosen] { work_.use(chosen()); });
  auto* forget = button(words("Forget"), words("Takes the chosen one off the list"),
                        [this, chosen] { work_.forget(chosen()); });
  endRow();
  onRefresh([=, this] {
    for (QWidget* w : {use, forget}) w->setEnabled(!session_.shot().keptVantages.empty());
  });
  beginRow();
  button(words("Save camera…"), words("Writes the camera as glTF 2.0 or as JSON"), [this] {
    const QString file = choosePlace(this, words("Save the camera"), FileKind::camera, "camera.gltf", "gltf");
    if (!file.isEmpty()) saveCamera(bench_, file);
  });
  button(words("Load camera…"), words("Takes a camera from a glTF or JSON file, and locks it"), [this] {
    const QString file = chooseFile(this, words("Load a camera"), FileKind::camera);
    if (!file.isEmpty()) loadCamera(bench_, file);
  });
  endRow();
  endFold();
}

}  // namespace dusk
