#include "app/widgets/look.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyleFactory>

namespace dusk::look {
namespace {

double textScale = 1, systemScale = 1;

QFont sized(int size, QFont::Weight weight) {
  QFont font("Lato");
  font.setPixelSize(px(size));
  font.setWeight(weight);
  return font;
}

const char* sheet = R"(
QWidget { color: #ece8f1; font-family: Lato; font-size: @13px; }
QMainWindow, QDialog, QMessageBox { background: #2d2936; }
QMenuBar { background: #2d2936; padding: 2px 6px; }
QMenuBar::item { padding: 4px 9px; border-radius: 4px; background: transparent; }
QMenuBar::item:selected, QMenu::item:selected { background: #453f52; }
QMenu { background: #383343; border: 1px solid #544d63; padding: 5px; }
QMenu::item { padding: 5px 26px 5px 12px; border-radius: 4px; }
QMenu::item:disabled { color: #857d94; }
QMenu::separator { height: 1px; background: #544d63; margin: 4px 8px; }
QToolTip { background: #252230; color: #ece8f1; border: 1px solid #544d63; padding: 5px; }
QScrollArea, QScrollArea > QWidget > QWidget#desk { background: transparent; border: none; }
QPushButton, QToolButton { background: #453f52; border: 1px solid #544d63; border-radius: 5px; padding: 5px 11px; }
QWidget#desk QToolButton { padding: 5px 3px; }
QPushButton:hover, QToolButton:hover { background: #514a60; }
QPushButton:pressed, QToolButton:pressed { background: #383343; }
QPushButton:checked, QToolButton:checked { background: #5a4638; border-color: #f2a65a; color: #f8c791; }
QPushButton:focus, QToolButton:focus { border-color: #f2a65a; }
QPushButton:disabled, QToolButton:disabled { color: #857d94; background: #383343; }
QPushButton#primary { background: #f2a65a; color: #2a2018; border-color: #f2a65a; font-weight: 600; }
QPushButton#primary:hover { background: #f7b878; }
QPushButton#primary:disabled { background: #5a4c44; color: #a89c96; border-color: #5a4c44; }
QDoubleSpinBox, QSpinBox, QLineEdit, QComboBox { background: #252230; border: 1px solid #453f52; border-radius: 4px; padding: 3px 6px; selection-background-color: #f2a65a; selection-color: #252230; min-height: @18px; }
QDoubleSpinBox:focus, QSpinBox:focus, QLineEdit:focus, QComboBox:focus { border-color: #f2a65a; }
QDoubleSpinBox:disabled, QSpinBox:disabled, QComboBox:disabled { color: #857d94; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; border: none; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/down.png); width: 12px; height: 12px; margin-right: 6px; }
QComboBox QAbstractItemView { background: #383343; border: 1px solid #544d63; selection-background-color: #453f52; outline: none; }
QSlider::groove:horizontal { height: 4px; background: #252230; border-radius: 2px; }
QSlider::sub-page:horizontal { background: #8c6a48; border-radius: 2px; }
QSlider::handle:horizontal { width: 12px; height: 12px; margin: -4px 0; border-radius: 6px; background: #ece8f1; }
QSlider::handle:horizontal:hover, QSlider::handle:horizontal:focus { background: #f2a65a; }
QSlider::handle:horizontal:disabled { background: #6a6378; }
QSlider::sub-page:horizontal:disabled { background: #453f52; }
QCheckBox { spacing: 8px; }
QCheckBox::indicator { width: 15px; height: 15px; border-radius: 4px; border: 1px solid #857d94; background: #252230; }
QCheckBox::indicator:checked { background: #f2a65a; border-color: #f2a65a; image: url(:/icons/tick.png); }
QTreeView::indicator { width: 13px; height: 13px; border-radius: 3px; border: 1px solid #857d94; background: #252230; }
QTreeView::indicator:checked { background: #b1a9bf; border-color: #b1a9bf; image: url(:/icons/tick.png); }
QCheckBox::indicator:focus { border-color: #f2a65a; }
QTreeView, QListWidget { background: #2d2936; border: none; outline: none; }
QTreeView::item { padding: 2px 0; min-height: @21px; }
QTreeView::item:hover, QListWidget::item:hover { background: #383343; }
QTreeView::item:selected, QListWidget::item:selected { background: #5a4638; color: #fbe3c8; }
QHeaderView::section { background: #2d2936; border: none; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: #544d63; border-radius: 4px; min-height: 28px; }
QScrollBar::handle:vertical:hover { background: #6a6378; }
QScrollBar:horizontal { background: transparent; height: 9px; }
QScrollBar::handle:horizontal { background: #544d63; border-radius: 4px; min-width: 28px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: none; }
QProgressBar { background: #252230; border: none; border-radius: 3px; height: 6px; text-align: center; }
QProgressBar::chunk { background: #f2a65a; border-radius: 3px; }
QSplitter::handle { background: #252230; }
)";

/// What depends on how large text is.
void dress(QApplication& app) {
  app.setFont(sized(13, QFont::Normal));
  QString scaled = sheet;
  for (const int size : {13, 18, 21})
    scaled.replace(QString("@%1px").arg(size), QString("%1px").arg(px(size)));
  app.setStyleSheet(scaled);
}

}  // namespace

QFont small() { return sized(11, QFont::Normal); }
QFont heading() { return sized(13, QFont::DemiBold); }
QFont figure() { return sized(12, QFont::DemiBold); }
QFont large() { return sized(20, QFont::DemiBold); }

int px(double length) { return int(std::lround(length * textScale)); }

void apply(QApplication& app) {
  for (const char* file : {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Semibold.ttf", ":/fonts/Lato-Bold.ttf"})
    QFontDatabase::addApplicationFont(file);
  // Systems say 12 to 16 px where nobody asked for larger text; ours is 13 px then.
  constexpr double usual = 16;
  textScale = systemScale = std::clamp(QFontInfo(QApplication::font()).pixelSize() / usual, 1.0, 1.6);
  app.setStyle(QStyleFactory::create("Fusion"));
  QPalette p;
  p.setColor(QPalette::Window, chrome);
  p.setColor(QPalette::Base, field);
  p.setColor(QPalette::AlternateBase, chrome);
  p.setColor(QPalette::Button, panel);
  for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
    p.setColor(role, text);
  p.setColor(QPalette::PlaceholderText, muted);
  p.setColor(QPalette::Highlight, ember);
  p.setColor(QPalette::HighlightedText, field);
  p.setColor(QPalette::Link, tide);
  app.setPalette(p);
  dress(app);
}

void setTextPercent(int percent) {
  const double wanted = percent > 0 ? percent / 100.0 : systemScale;
  if (wanted == textScale) return;
  textScale = wanted;
  dress(*qApp);
}

}  // namespace dusk::look
