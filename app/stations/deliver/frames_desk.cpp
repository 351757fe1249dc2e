#include "app/stations/deliver/frames_desk.h"

#include <QtWidgets>

#include "app/widgets/look.h"
#include "app/widgets/rows.h"
#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/project/hand_over_edit.h"
#include "core/vantage/frames.h"

namespace dusk {
namespace {

constexpr int sizeRole = Qt::UserRole + 1;

/// A name with the frame's size behind it: the name alone is typed over.
class NameAndSize : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;

 protected:
  void initStyleOption(QStyleOptionViewItem* option, const QModelIndex& index) const override {
    QStyledItemDelegate::initStyleOption(option, index);
    option->text += "   " + index.data(sizeRole).toString();
  }
};

}  // namespace

const PictureFrame* FramesDesk::inHand(const Project& p) const {
  return byId(session_.shotIn(p).frames, session_.selectedFrame());
}
PictureFrame* FramesDesk::inHand(Project& p) const {
  return byId(session_.shotIn(p).frames, session_.selectedFrame());
}

FramesDesk::FramesDesk(Workbench& bench) : Desk(bench.session, {}, {}), list_(new QListWidget) {
  setAccessibleName(words("Frames"));
  list_->setAccessibleName(words("Frames"));
  list_->setItemDelegate(new NameAndSize(list_));
  list_->setToolTip(
      words("Crops of the picture, each with a size of its own. F2 renames; drag one in the picture"));
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (item) session_.selectFrame(item->data(Qt::UserRole).toString().toStdString());
  });
  connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    const std::string id = item->data(Qt::UserRole).toString().toStdString(),
                      name = item->text().trimmed().toStdString();
    if (!name.empty())
      session_.editShot(words("rename a frame"), [&](Shot& shot) {
        if (PictureFrame* f = byId(shot.frames, id)) f->name = name;
      });
  });
  add(list_);
  beginRow();
  auto* more = button(words("Add a frame"), words("A crop of the picture in one of the usual shapes"), {});
  auto* shapes = new QMenu(more);
  for (const FrameShape& shape : frameShapes())
    shapes->addAction(
        QString("%1   %2 × %3 px").arg(words(shape.name)).arg(shape.widthPx).arg(shape.heightPx), this,
        [this, &shape] {
          std::string id;
          session_.editShot(words("add a frame"), [&](Shot& shot) { id = addFrame(shot, shape); });
          session_.selectFrame(id);
        });
  more->setMenu(shapes);
  auto* away = button(words("Take it away"),
                      words("The frame in hand is no longer one; its files show the whole picture"), [this] {
                        session_.editShot(words("take a frame away"),
                                          [&](Shot& shot) { removeFrame(shot, session_.selectedFrame()); });
                      });
  endRow();
  addSize();
  onRefresh([=, this] {
    fillList();
    away->setVisible(inHand(session_.project()));
  });
}

void FramesDesk::fillList() {
  const QSignalBlocker quiet(list_);
  list_->clear();
  for (const PictureFrame& f : session_.shot().frames) {
    auto* item = new QListWidgetItem(shown(f.name), list_);
    item->setData(Qt::UserRole, shown(f.id));
    item->setData(sizeRole, QString("%1 × %2").arg(f.widthPx).arg(f.heightPx));
    item->setFlags(item->flags() | Qt::ItemIsEditable);
    if (f.id == session_.selectedFrame()) list_->setCurrentItem(item);
  }
  list_->setVisible(list_->count() > 0);
  fitToRows(*list_);
}

void FramesDesk::addSize() {
  const auto frame = [this](const Project& p) { return inHand(p); };
  const auto isPrint = [=](const Project& p) { return frame(p) && frame(p)->dpi > 0; };
  constexpr double perInch = 25.4;
  QWidget* unit = beginRow();
  choice(
      words("Told in"), {words("pixels"), words("millimetres of a print")},
      words("How the frame's size is told"), [=](const Project& p) { return isPrint(p) ? 1 : 0; },
      [this](Project& p, int i) {
        if (PictureFrame* f = inHand(p)) f->dpi = i ? 300 : 0;
      });
  endRow();
  struct Side {
    const char* label;
    int PictureFrame::*px;
  };
  for (const Side side :
       {Side{words("Width"), &PictureFrame::widthPx}, {words("Height"), &PictureFrame::heightPx}}) {
    const auto set = [=, this](Project& p, double px) {
      if (PictureFrame* f = inHand(p)) f->*side.px = std::clamp(int(std::lround(px)), 1, 100'000);
    };
    number(
        side.label, {1, 100'000, 10, 0, "px"},
        words("Of the file, and with the other side the frame's shape"),
        [=](const Project& p) {
          return frame(p) && !isPrint(p) ? std::optional(double(frame(p)->*side.px)) : std::nullopt;
        },
        set);
    number(
        side.label, {0.1, 10'000, 1, 1, "mm"}, words("Of the print; pixels follow by the resolution"),
        [=](const Project& p) {
          return isPrint(p) ? std::optional(frame(p)->*side.px / frame(p)->dpi * perInch) : std::nullopt;
        },
        [=](Project& p, double mm) {
          if (frame(p)) set(p, mm / perInch * frame(p)->dpi);
        });
  }
  number(
      words("Resolution"), {10, 4800, 10, 0, "dpi", false, 300.0},
      words("Pixels to the inch of the print: its size in millimetres stays"),
      [=](const Project& p) { return isPrint(p) ? std::optional(frame(p)->dpi) : std::nullopt; },
      [this](Project& p, double v) {
        PictureFrame* f = inHand(p);
        if (!f || f->dpi <= 0) return;
        setFrameSize(*f, int(std::lround(f->widthPx * v / f->dpi)),
                     int(std::lround(f->heightPx * v / f->dpi)));
        f->dpi = v;
      });
  number(
      words("Shows"), {1, 400, 1, 1, "%", true, 100.0},
      words("Share of the picture's width that the frame covers"),
      [=](const Project& p) { return frame(p) ? std::optional(frame(p)->width * 100) : std::nullopt; },
      [this](Project& p, double v) {
        if (PictureFrame* f = inHand(p)) f->width = v / 100;
      });
  auto* about = toggle(
      words("Goes with the product"), words("The frame moves along when the first product is moved"),
      [=](const Project& p) { return frame(p) ? std::optional(frame(p)->aboutProduct) : std::nullopt; },
      [this](Project& p, bool on) {
        if (PictureFrame* f = inHand(p)) setAboutProduct(*f, on, productSpot(session_.shotIn(p)));
      });
  onRefresh([=, this] {
    for (QWidget* w : std::initializer_list<QWidget*>{about, unit}) w->setVisible(inHand(session_.project()));
  });
  tellOfSize();
}

void FramesDesk::tellOfSize() {
  auto* told = note();
  onRefresh([=, this] {
    const PictureFrame* f = inHand(session_.project());
    told->setVisible(f);
    if (!f) return;
    const Camera& camera = session_.shot().vantage.camera;
    const FramedArea area = framed(session_.shot(), *f, camera.width, camera.height);
    const bool isMade = session_.shot().backdrop.kind != BackdropKind::photo;
    QString text = area.enlarged() > 1.005 ? QString(words("Enlarged to %1 % of what the photo has: soft."))
                                                 .arg(100 * area.enlarged(), 0, 'f', 0)
                   : area.enlarged() < 0.995 ? QString(words("Made smaller: %1 % of the photo's pixels."))
                                                   .arg(100 * area.enlarged(), 0, 'f', 0)
                                             : QString(words("Pixel for pixel as the photo."));
    if (area.isMoved)
      text += isMade ? words(" It reaches farther beyond the picture than can be made, and is moved.")
                     : words(" It reaches beyond the picture, and is moved into it.");
    else if (!PixelArea{0, 0, camera.width, camera.height}.contains(area.area))
      text += words(" It shows what lies beyond the picture: that is traced for it.");
    told->setText(text);
  });
}

}  // namespace dusk
