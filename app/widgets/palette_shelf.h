#pragma once
#include <QToolButton>

class QScrollArea;

namespace dusk {

class Session;

/// A small square of a colour that can be pressed.
class ColourChip : public QToolButton {
  Q_OBJECT
 public:
  ColourChip(const QColor& colour, const QString& tip);
};

/// The colours of an open palette file, remembered from one time to the next.
class PaletteShelf : public QWidget {
  Q_OBJECT
 public:
  explicit PaletteShelf(Session& session);
  void show(const QString& file);

 signals:
  void chosen(const QColor& colour);
  void grown();

 private:
  Session& session_;
  QScrollArea* scroll_;
};

}  // namespace dusk
