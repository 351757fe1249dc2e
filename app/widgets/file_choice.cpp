#include "app/widgets/file_choice.h"

#include <QFileDialog>
#include <QSettings>
#include <QStandardPaths>
#include <QUrl>

#include "core/base/words.h"
#include "core/deliver/film_read.h"
#include "core/picture/formats.h"
#include "core/product/formats.h"
#include "core/surface/drawn.h"

namespace dusk {
namespace {

QString keyOf(FileKind kind) {
  static const char* names[] = {"project", "photo",    "footage", "panorama", "model", "camera", "delivery",
                                "print",   "material", "palette", "table",    "layer", "list",   "config"};
  static_assert(std::size(names) == size_t(FileKind::config) + 1);
  return QString("folders/") + names[int(kind)];
}
constexpr const char* lastOfAll = "folders/last";

QString standardFolder(QStandardPaths::StandardLocation where) {
  const QString folder = QStandardPaths::writableLocation(where);
  return QDir(folder).exists() ? folder : QString();
}
/// Where such files were last; where anything was; where a person keeps them.
QString firstFolder(FileKind kind) {
  const bool isPicture = kind == FileKind::photo || kind == FileKind::footage || kind == FileKind::panorama ||
                         kind == FileKind::print || kind == FileKind::layer;
  for (const QString& folder :
       {QSettings().value(keyOf(kind)).toString(), QSettings().value(lastOfAll).toString(),
        standardFolder(isPicture ? QStandardPaths::PicturesLocation : QStandardPaths::DocumentsLocation)})
    if (!folder.isEmpty() && QDir(folder).exists()) return folder;
  return QDir::homePath();
}
void remember(FileKind kind, const QString& folder) {
  QSettings().setValue(keyOf(kind), folder);
  QSettings().setValue(lastOfAll, folder);
}

QString filter(const char* what, const std::vector<std::string>& endings) {
  QStringList all;
  for (const std::string& ending : endings) {
    all << "*" + QString::fromStdString(ending);
    all << "*" + QString::fromStdString(ending).toUpper();
  }
  return QString("%1 (%2)").arg(what, all.join(' '));
}

/// Our own dialog, so that it looks like the rest and its tools have their icons.
void prepare(QFileDialog& dialog, FileKind kind) {
  dialog.setOption(QFileDialog::DontUseNativeDialog);
  dialog.setOption(QFileDialog::HideNameFilterDetails);  // they are dozens
  dialog.setDirectory(firstFolder(kind));
  QList<QUrl> beside{QUrl("file:"), QUrl::fromLocalFile(QDir::homePath())};
  for (const auto where : {QStandardPaths::DesktopLocation, QStandardPaths::DocumentsLocation,
                           QStandardPaths::PicturesLocation, QStandardPaths::DownloadLocation})
    if (const QString folder = standardFolder(where); !folder.isEmpty() && folder != QDir::homePath())
      beside << QUrl::fromLocalFile(folder);
  dialog.setSidebarUrls(beside);
  dialog.resize(860, 560);
}

/// By what was chosen, which may have been typed with its folder.
void rememberOf(FileKind kind, const QFileDialog& dialog) {
  remember(kind, QFileInfo(dialog.selectedFiles().value(0)).absolutePath());
}

}  // namespace

void offerFolder(FileKind kind, const QString& folder) { remember(kind, folder); }

QString filterOf(FileKind kind) {
  switch (kind) {
    case FileKind::project:
      return words("Gentle Dusk projects (*.dusk)");
    case FileKind::photo:
      return filter(words("Photographs"), photoEndings());
    case FileKind::footage: {
      auto both = filmEndings();
      both.insert(both.end(), photoEndings().begin(), photoEndings().end());
      return filter(words("Films and photographs"), both);
    }
    case FileKind::panorama:
      return filter(words("Panoramas"), lightEndings());
    case FileKind::model:
      return filter(words("Models"), modelEndings());
    case FileKind::camera:
      return words("Cameras (*.gltf *.glb *.json)");
    case FileKind::print:
      return filter(words("Pictures and drawings"), printEndings());
    case FileKind::material:
      return words("Material files (*.mtlx)");
    case FileKind::layer:
      return filter(words("Pictures and drawings"), printEndings());
    case FileKind::table:
      return words("Colour tables (*.cube *.spi1d *.spi3d *.csp)");
    case FileKind::config:
      return words("OpenColorIO configurations (*.ocio)");
    case FileKind::list:
      return words("Lists of files to hand over (*.json)");
    case FileKind::palette:
      return words("Palettes (*.gpl)");
    case FileKind::delivery:
      break;
  }
  return {};
}

QStringList chooseFiles(QWidget* parent, const QString& title, FileKind kind, bool many) {
  QFileDialog dialog(parent, title, {}, filterOf(kind));
  prepare(dialog, kind);
  dialog.setFileMode(many ? QFileDialog::ExistingFiles : QFileDialog::ExistingFile);
  if (!dialog.exec()) return {};
  rememberOf(kind, dialog);
  return dialog.selectedFiles();
}

QString chooseAnyFile(QWidget* parent, const QString& title, const QString& filter) {
  QFileDialog dialog(parent, title, {}, filter);
  prepare(dialog, FileKind::config);
  dialog.setFileMode(QFileDialog::ExistingFile);
  return dialog.exec() ? dialog.selectedFiles().value(0) : QString();
}

QString chooseFile(QWidget* parent, const QString& title, FileKind kind) {
  return chooseFiles(parent, title, kind).value(0);
}

QString choosePlace(QWidget* parent, const QString& title, FileKind kind, const QString& name,
                    const QString& ending) {
  QFileDialog dialog(parent, title, {}, filterOf(kind));
  prepare(dialog, kind);
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setDefaultSuffix(ending);
  dialog.selectFile(name);
  if (!dialog.exec()) return {};
  rememberOf(kind, dialog);
  return dialog.selectedFiles().value(0);
}

QString chooseFolder(QWidget* parent, const QString& title, FileKind kind) {
  QFileDialog dialog(parent, title);
  prepare(dialog, kind);
  dialog.setFileMode(QFileDialog::Directory);
  dialog.setOption(QFileDialog::ShowDirsOnly);
  if (!dialog.exec()) return {};
  remember(kind, dialog.selectedFiles().value(0));
  return dialog.selectedFiles().value(0);
}

}  // namespace dusk
