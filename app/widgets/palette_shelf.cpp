#include "app/widgets/palette_shelf.h"

#include <QtWidgets>

#include "app/document/session.h"
#include "app/widgets/file_choice.h"
#include "core/base/files.h"
#include "core/base/words.h"
#include "core/colour/palette.h"

namespace dusk {

ColourChip::ColourChip(const QColor& colour, const QString& tip) {
  setFixedSize(22, 22);
  setStyleSheet(QString("background: %1; border: 1px solid #857d94;").arg(colour.name()));
  setToolTip(tip);
  setAccessibleName(tip);
}

PaletteShelf::PaletteShelf(Session& session) : session_(session), scroll_(new QScrollArea) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  auto* button = new QPushButton(words("Palette…"));
  button->setToolTip(words("Shows the colours of an open palette file (.gpl)"));
  column->addWidget(button);
  scroll_->setWidgetResizable(true);
  scroll_->setFrameShape(QFrame::NoFrame);
  scroll_->setFixedHeight(80);
  scroll_->hide();
  column->addWidget(scroll_);
  connect(button, &QPushButton::clicked, this, [this] {
    const QString file = chooseFile(window(), words("Open a palette"), FileKind::palette);
    if (!file.isEmpty()) show(file);
  });
  if (const QString last = QSettings().value("palette").toString(); QFile::exists(last)) show(last);
}

void PaletteShelf::show(const QString& file) {
  constexpr int across = 11;
  const auto text = readFile(file.toStdString(), size_t{1} << 22);
  const auto palette =
      text ? paletteFromText(*text, QFileInfo(file).fileName().toStdString()) : Result<Palette>(text.error());
  if (!palette) return session_.say(QString::fromStdString(palette.error().message), true);
  QSettings().setValue("palette", file);
  auto* holder = new QWidget;
  auto* grid = new QGridLayout(holder);
  grid->setSpacing(3);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  int n = 0;
  for (const Palette::Colour& c : palette->colours) {
    const QColor colour = QColor::fromRgbF(float(c.code.x), float(c.code.y), float(c.code.z));
    auto* chip = new ColourChip(colour, c.name.empty() ? colour.name() : QString::fromStdString(c.name));
    connect(chip, &QToolButton::clicked, this, [this, colour] { emit chosen(colour); });
    grid->addWidget(chip, n / across, n % across);
    ++n;
  }
  scroll_->setWidget(holder);
  scroll_->setAccessibleName(words("Palette ") + QString::fromStdString(palette->name));
  scroll_->show();
  emit grown();
}

}  // namespace dusk
