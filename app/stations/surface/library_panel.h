#pragma once
#include <QListWidget>
#include <QTimer>
#include <QWidget>

#include "core/project/project.h"

class QComboBox;
class QLineEdit;

namespace dusk {

class Session;

/// The shelf: every surface of the library, of the project and of the person's own, by family and by words,
/// as traced test shapes. Dragged onto a part it is tried on at once; Enter or a double click gives it to the
/// selected part.
class LibraryPanel : public QWidget {
  Q_OBJECT
 public:
  explicit LibraryPanel(Session& session);
  ~LibraryPanel() override;
  /// The surface chosen in the list; empty when none.
  std::string chosen() const;
  /// Reads the project's and the person's surfaces again.
  void refresh();

 signals:
  void taken(const QString& id);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void fill();
  void traceNext();
  void showMenu(const QPoint& at);

  Session& session_;
  QLineEdit* words_;
  QComboBox* family_;
  QListWidget* list_;
  std::vector<Surface> projects_, own_;
  QStringList traced_;  ///< of the list as it is
  bool stale_ = true;
  QTimer later_;
  std::shared_ptr<std::atomic<bool>> ending_ = std::make_shared<std::atomic<bool>>(false);
};

}  // namespace dusk
