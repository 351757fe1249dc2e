#pragma once
#include <QListWidget>
#include <QTimer>
#include <memory>

namespace dusk {

/// The pieces there are, as small drawings with their size. Dragged into the picture, or taken by Enter.
class PieceList : public QListWidget {
  Q_OBJECT
 public:
  PieceList();
  ~PieceList() override;
  void show(const QString& family);

 signals:
  void taken(const QString& kind);

 protected:
  QMimeData* mimeData(const QList<QListWidgetItem*>& items) const override;
  void showEvent(QShowEvent* e) override;

 private:
  void drawNext();
  QTimer later_;
  std::shared_ptr<std::atomic<bool>> ending_ = std::make_shared<std::atomic<bool>>(false);
};

}  // namespace dusk
