#pragma once
#include <QString>
#include <QStringList>
#include <filesystem>

class QWidget;

namespace dusk {

/// What kind of file is chosen: each kind remembers its last folder between sessions.
enum class FileKind {
  project,
  photo,
  footage,  ///< films, and photos of a sequence
  panorama,
  model,
  camera,
  delivery,
  print,
  material,
  palette,
  table,
  layer,
  list,   ///< of files to hand over
  config  ///< of colours: OpenColorIO
};

/// Asks for files to read; empty when the person thinks better of it. `many`: several may be chosen.
QStringList chooseFiles(QWidget* parent, const QString& title, FileKind kind, bool many = false);
QString chooseFile(QWidget* parent, const QString& title, FileKind kind);
/// Asks for a place to write to, with `ending` added where none is typed.
QString choosePlace(QWidget* parent, const QString& title, FileKind kind, const QString& name,
                    const QString& ending);
QString chooseFolder(QWidget* parent, const QString& title, FileKind kind);

/// Asks for a file that is set once for all projects; `filter` as a file dialog takes it.
QString chooseAnyFile(QWidget* parent, const QString& title, const QString& filter);

/// The path of a file that was chosen.
inline std::filesystem::path pathOf(const QString& file) { return file.toStdString(); }

/// The next choice of that kind begins in `folder`.
void offerFolder(FileKind kind, const QString& folder);

/// The filter line of a kind, from what the libraries here read.
QString filterOf(FileKind kind);

}  // namespace dusk
