#include "app/stations/light/light_sets.h"

#include <QtWidgets>

#include "app/document/preferences.h"
#include "app/jobs/aside.h"
#include "app/stations/light/light_jobs.h"
#include "app/stations/parts.h"
#include "app/stations/workbench.h"
#include "app/widgets/file_choice.h"
#include "app/widgets/picture_icon.h"
#include "core/base/installed.h"
#include "core/base/words.h"
#include "core/colour/view.h"
#include "core/picture/read.h"

namespace dusk {
namespace fs = std::filesystem;

QImage ballsIn(const Panorama& panorama, int size) {
  QImage image(2 * size, size, QImage::Format_ARGB32);
  image.fill(Qt::transparent);
  const auto view = ColourView::make("plain sRGB");
  if (!view) return image;
  // As bright as a grey ball's front comes to middle grey.
  const float front = luminance(panorama.irradiance({0, -1, 0.3f})) / pif,
              gain = front > 0 ? 0.5f / front : 1;
  for (int y = 0; y < size; ++y)
    for (int x = 0; x < 2 * size; ++x) {
      const bool mirror = x >= size;
      const float r = size * 0.47f, nx = ((mirror ? x - size : x) + 0.5f - size / 2.0f) / r,
                  nz = (size / 2.0f - y - 0.5f) / r, across = nx * nx + nz * nz;
      const float rim = std::clamp((1.02f - std::sqrt(across)) * r, 0.0f, 1.0f);
      if (rim <= 0) continue;
      const Vec3f n(nx, -std::sqrt(std::max(0.0f, 1 - across)), nz), look(0, 1, 0);
      Rgb c = mirror ? panorama.radiance((look - n * (2 * look.dot(n))).normalized()) * 0.9f
                     : panorama.irradiance(n) * (0.5f / pif);
      c *= gain;
      (*view)->toDisplay(&c.x, 1);
      image.setPixel(x, y, qRgba(int(c.x * 255), int(c.y * 255), int(c.z * 255), int(rim * 255)));
    }
  return image;
}

fs::path LightSets::shipped() { return sharedFolder("light-sets"); }

LightSets::LightSets(Workbench& bench) : list_(new QListWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize({112, 56});
  list_->setGridSize({126, 82});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setMinimumHeight(256);
  list_->setAccessibleName(words("Light sets"));
  list_->setToolTip(words("Double-click or Enter lights the shot with it"));
  column->addWidget(list_);
  auto* own = new QPushButton(words("A folder of my own…"));
  own->setToolTip(words("Shows the panorama files of a folder here, too"));
  column->addWidget(own);
  connect(own, &QPushButton::clicked, this, [this] {
    const QString folder = chooseFolder(this, words("Your panoramas"), FileKind::panorama);
    if (folder.isEmpty()) return;
    Preferences::own().set("panoramas", folder);
  });
  connect(&Preferences::own(), &Preferences::changed, this, [this](const QString& key) {
    if (key == "panoramas" && filled_) fill();
  });
  connect(list_, &QListWidget::itemActivated, this,
          [&bench](QListWidgetItem* item) { takePanorama(bench, item->data(Qt::UserRole).toString()); });
}

void LightSets::showEvent(QShowEvent* e) {
  QWidget::showEvent(e);
  if (!filled_) fill();
}

void LightSets::fill() {
  filled_ = true;
  list_->clear();
  QStringList folders{QString::fromStdString(shipped().string()),
                      Preferences::own().value("panoramas").toString()};
  folders.removeAll({});
  for (const QString& folder : folders)
    for (const QFileInfo& file : QDir(folder).entryInfoList({"*.exr", "*.hdr"}, QDir::Files, QDir::Name)) {
      auto* item = new QListWidgetItem(file.completeBaseName().replace('-', ' '), list_);
      item->setData(Qt::UserRole, file.absoluteFilePath());
      item->setToolTip(file.absoluteFilePath());
      runAside([path = file.absoluteFilePath().toStdString()]() -> QImage {
        auto light = readLight(path);
        // Thumbnails need no more than this, whatever the file has.
        return light ? ballsIn(*Panorama::make(resized(*light, 512, 256)), 56) : QImage();
      }).then(this, [this, at = item->data(Qt::UserRole)](const QImage& image) {
        for (int i = 0; i < list_->count(); ++i)
          if (list_->item(i)->data(Qt::UserRole) == at)
            list_->item(i)->setIcon(pictureIcon(QPixmap::fromImage(image)));
      });
    }
}

}  // namespace dusk
