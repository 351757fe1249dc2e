#include "app/stations/plate/camera_desk.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/rows.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/light/hand_camera.h"
#include "core/project/by_id.h"

namespace dusk {

CameraDesk::CameraDesk(Workbench& bench) : Desk(bench.session, {}, {}), list_(new QListWidget) {
  setAccessibleName(words("Cameras by hand"));
  list_->setAccessibleName(words("Kept cameras"));
  list_->setToolTip(
      words("Cameras that were put aside. Enter goes there, F2 renames, Delete takes one off the list"));
  list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
  add(list_);
  connect(list_, &QListWidget::itemActivated, this, [this] { use(inHand()); });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().trimmed().toStdString();
    if (name.empty()) {  // no name is none: the old one is shown again, once the editor has gone
      filled_.clear();
      QTimer::singleShot(0, this, [this] { fill(); });
      return;
    }
    // The list has it already: filling it anew would take the editor away that still tells of it.
    if (KeptCamera* own = byId(filled_, id); own) own->name = name;
    session_.editShot(words("rename a camera"), [&](Shot& shot) {
      if (KeptCamera* camera = byId(shot.cameras, id); camera) camera->name = name;
    });
  });
  auto* away = new QShortcut(QKeySequence(Qt::Key_Delete), list_);
  away->setContext(Qt::WidgetShortcut);
  connect(away, &QShortcut::activated, this, [this] { forget(inHand()); });
  QWidget* row = beginRow();
  button(words("Keep this camera"),
         words("Puts the camera aside under a name: lens, place and what it looks at"), [this] { keep(); });
  auto* go = button(words("Go there"), words("Takes the chosen camera: one step back undoes it"),
                    [this] { use(inHand()); });
  auto* drop =
      button(words("Forget it"), words("Takes the chosen camera off the list"), [this] { forget(inHand()); });
  endRow();
  auto* locked = toggle(
      words("Locked"), words("No drag, key or number moves the camera, nor does a set that is changed"),
      [this](const Project& p) {
        return isByHand() ? std::optional(session_.shotIn(p).backdrop.locked) : std::nullopt;
      },
      [this](Project& p, bool on) { session_.shotIn(p).backdrop.locked = on; });
  onRefresh([=, this] {
    fill();
    row->setVisible(isByHand()), locked->setVisible(isByHand());
    go->setEnabled(list_->count() > 0 && !session_.shot().backdrop.locked);
    drop->setEnabled(list_->count() > 0);
  });
}

bool CameraDesk::isByHand() const { return session_.shot().backdrop.kind != BackdropKind::photo; }

std::string CameraDesk::inHand() const {
  const QListWidgetItem* item = list_->currentItem() ? list_->currentItem() : list_->item(0);
  return item ? item->data(Qt::UserRole).toString().toStdString() : std::string();
}

void CameraDesk::keep() {
  session_.editShot(words("keep the camera"), [](Shot& shot) {
    KeptCamera camera = keptOf(shot.backdrop);
    camera.id = freshId(shot.cameras, "camera");
    camera.name = words("Camera ") + camera.id.substr(camera.id.rfind('-') + 1);
    shot.cameras.push_back(std::move(camera));
  });
  list_->setCurrentRow(list_->count() - 1);
}

void CameraDesk::use(const std::string& id) {
  const KeptCamera* camera = byId(session_.shot().cameras, id);
  if (!camera || session_.shot().backdrop.locked) return;
  session_.editBackdrop(words("go to ") + shown(camera->name),
                        [kept = *camera](Backdrop& b) { useKept(b, kept); });
}

void CameraDesk::forget(const std::string& id) {
  if (!byId(session_.shot().cameras, id)) return;
  session_.editShot(words("forget a camera"), [&](Shot& shot) {
    std::erase_if(shot.cameras, [&](const KeptCamera& camera) { return camera.id == id; });
  });
}

void CameraDesk::fill() {
  const KeptCamera now = keptOf(session_.shot().backdrop);
  std::vector<KeptCamera> wanted = session_.shot().cameras;
  wanted.push_back(now);
  list_->setVisible(wanted.size() > 1 && isByHand());
  if (wanted == filled_) return;  // a name that is being typed stays
  filled_ = std::move(wanted);
  const QSignalBlocker quiet(list_);
  const std::string before = inHand();
  list_->clear();
  for (const KeptCamera& camera : session_.shot().cameras) {
    auto* item = new QListWidgetItem(shown(camera.name), list_);
    item->setData(Qt::UserRole, shown(camera.id));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    KeptCamera unnamed = camera;
    unnamed.id = now.id, unnamed.name = now.name;
    item->setFont(unnamed == now ? look::heading() : font());  // where one is
    item->setToolTip(QString(words("%1 mm, %2 m high, %3 m away"))
                         .arg(camera.focalMm35, 0, 'g', 4)
                         .arg(camera.cameraHeightM, 0, 'f', 2)
                         .arg(camera.distanceM, 0, 'f', 2));
    if (camera.id == before) list_->setCurrentItem(item);
  }
  fitToRows(*list_);
}

}  // namespace dusk
