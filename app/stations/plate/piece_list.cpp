#include "app/stations/plate/piece_list.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/widgets/look.h"
#include "app/widgets/picture_icon.h"
#include "core/base/words.h"
#include "core/product/set/piece_kinds.h"

namespace dusk {
namespace {

const QSize drawingSize{72, 56};
enum Role { kindRole = Qt::UserRole, drawnRole };

/// The piece from the front and a little above, shaded by how its faces lie.
QImage drawingOf(const PieceKind& kind) {
  const auto model = makePiece({kind.name});
  if (!model) return {};
  struct Face {
    double depth;
    QPolygonF corners;
    QColor colour;
  };
  const Vec3d across = Vec3d(0.87, 0.5, 0).normalized(), toEye = Vec3d(0.45, -0.78, 0.43).normalized(),
              up = toEye.cross(across);
  std::vector<Face> faces;
  QRectF all;
  for (const Part& part : model->parts) {
    const Mesh& mesh = model->meshOf(part);
    for (size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
      Vec3d p[3];
      for (int k = 0; k < 3; ++k) p[k] = toDouble(mesh.positions[mesh.indices[i + size_t(k)]]);
      const Vec3d n = (p[1] - p[0]).cross(p[2] - p[0]);
      if (n.length() < 1e-12) continue;
      const double facing = std::abs(n.normalized().dot(Vec3d(-0.3, -0.5, 0.81)));
      const double shade = 0.32 + 0.6 * facing;
      Face face{(p[0] + p[1] + p[2]).dot(toEye),
                {},
                QColor::fromRgbF(float(0.93 * shade), float(0.91 * shade), float(0.95 * shade))};
      for (const Vec3d& c : p) face.corners << QPointF(c.dot(across), -c.dot(up));
      all |= face.corners.boundingRect();
      faces.push_back(std::move(face));
    }
  }
  std::sort(faces.begin(), faces.end(), [](const Face& a, const Face& b) { return a.depth < b.depth; });
  QImage image(drawingSize * 2, QImage::Format_ARGB32_Premultiplied);
  image.fill(Qt::transparent);
  QPainter painter(&image);
  painter.setRenderHint(QPainter::Antialiasing);
  const double scale = std::min((image.width() - 12) / std::max(all.width(), 1e-6),
                                (image.height() - 12) / std::max(all.height(), 1e-6));
  painter.translate(image.width() / 2.0, image.height() / 2.0);
  painter.scale(scale, scale);
  painter.translate(-all.center());
  for (const Face& face : faces) {
    painter.setPen(QPen(face.colour, 0));
    painter.setBrush(face.colour);
    painter.drawPolygon(face.corners);
  }
  return image;
}

/// "300 × 300 × 200 mm" of its usual measures.
QString sizeOf(const PieceKind& kind) {
  QStringList sizes;
  for (const PieceMeasure& m : kind.measures)
    if (const std::string name = m.name;
        name == "width" || name == "length" || name == "depth" || name == "height")
      sizes << QString::number(std::lround(m.usual * 1000));
  return sizes.join(" × ") + words(" mm");
}

}  // namespace

PieceList::PieceList() {
  setAccessibleName(words("Pieces"));
  setViewMode(IconMode);
  setIconSize(drawingSize);
  setGridSize({look::px(84), drawingSize.height() + look::px(40)});
  setMovement(Static);
  setResizeMode(Adjust);
  setDragEnabled(true);
  setUniformItemSizes(true);
  setFont(look::small());
  setFixedHeight(2 * (drawingSize.height() + look::px(40)) + 8);
  setToolTip(words("Drag one into the picture, or Enter: it stands on the ground in the middle"));
  later_.setSingleShot(true);
  later_.setInterval(0);
  connect(&later_, &QTimer::timeout, this, &PieceList::drawNext);
  connect(verticalScrollBar(), &QScrollBar::valueChanged, this, [this] { later_.start(); });
  connect(this, &QListWidget::itemActivated, this,
          [this](QListWidgetItem* item) { emit taken(item->data(kindRole).toString()); });
  show({});
}

PieceList::~PieceList() { *ending_ = true; }

void PieceList::show(const QString& family) {
  clear();
  for (const PieceKind& kind : pieceKinds()) {
    if (!family.isEmpty() && family != kind.family) continue;
    auto* item = new QListWidgetItem(QString(words(kind.title)).replace(' ', '\n'), this);
    item->setData(kindRole, QString(kind.name));
    item->setToolTip(QString(words("%1, %2 as it comes")).arg(words(kind.title), sizeOf(kind)));
    item->setTextAlignment(Qt::AlignHCenter | Qt::AlignTop);
    QPixmap blank(drawingSize);
    blank.fill(Qt::transparent);
    item->setIcon(blank);
  }
  later_.start();
}

void PieceList::showEvent(QShowEvent* e) {
  QListWidget::showEvent(e);
  later_.start();
}

QMimeData* PieceList::mimeData(const QList<QListWidgetItem*>& items) const {
  auto* data = new QMimeData;
  if (!items.isEmpty())
    data->setData("application/x-dusk-piece", items.first()->data(kindRole).toString().toUtf8());
  return data;
}

/// Draws what can be seen, one after the other, beside everything else.
void PieceList::drawNext() {
  if (!isVisible()) return;
  const QRect seen = viewport()->rect().adjusted(0, -80, 0, 80);
  for (int i = 0; i < count(); ++i) {
    QListWidgetItem* at = item(i);
    if (at->data(drawnRole).toBool() || !visualItemRect(at).intersects(seen)) continue;
    at->setData(drawnRole, true);
    const QString kind = at->data(kindRole).toString();
    auto* watcher = new QFutureWatcher<QImage>(this);
    connect(watcher, &QFutureWatcher<QImage>::finished, this, [this, watcher, kind] {
      for (int k = 0; k < count(); ++k)
        if (item(k)->data(kindRole).toString() == kind)
          item(k)->setIcon(pictureIcon(QPixmap::fromImage(watcher->result())));
      watcher->deleteLater();
      drawNext();
    });
    watcher->setFuture(runAside([kind, ending = ending_] {
      const PieceKind* info = pieceKindNamed(kind.toStdString());
      return *ending || !info ? QImage() : drawingOf(*info);
    }));
    return;
  }
}

}  // namespace dusk
