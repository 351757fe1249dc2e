#include "app/widgets/sheet.h"

#include <QRegularExpression>
#include <cmath>
#include <utility>

namespace dusk::look {
namespace {

// $colour is one of the theme, $name what it is called, @N a size of text. What has a role is told by
// look::setRole.
const char* sheet = R"(
QWidget { color: $text; font-family: Lato; font-size: @13px; }
QMainWindow, QDialog, QMessageBox { background: $chrome; }
QMenuBar { background: $chrome; padding: 2px 6px; }
QMenuBar::item { padding: 4px 9px; border-radius: 4px; background: transparent; }
QMenuBar::item:selected, QMenu::item:selected { background: $raised; }
QMenu { background: $panel; border: 1px solid $line; padding: 5px; }
QMenu::item { padding: 5px 26px 5px 12px; border-radius: 4px; }
QMenu::item:disabled { color: $faint; }
QMenu::separator { height: 1px; background: $line; margin: 4px 8px; }
QToolTip { background: $field; color: $text; border: 1px solid $line; padding: 5px; }
QScrollArea, QScrollArea > QWidget > QWidget#desk { background: transparent; border: none; }
QPushButton, QToolButton { background: $raised; border: 1px solid $line; border-radius: 5px; padding: 5px 11px; }
QWidget#desk QToolButton { padding: 5px 3px; }
QFileDialog QToolButton { padding: 3px; }
QPushButton:hover, QToolButton:hover { background: $hover; }
QPushButton:pressed, QToolButton:pressed { background: $panel; }
QPushButton:checked, QToolButton:checked { background: $selected; border-color: $ember; color: $onSelected; }
QPushButton:focus, QToolButton:focus { border-color: $ember; }
QPushButton:disabled, QToolButton:disabled { color: $faint; background: $panel; }
QPushButton#primary { background: $ember; color: $onEmber; border-color: $ember; font-weight: 600; }
QPushButton#primary:hover { background: $emberHover; }
QPushButton#primary:focus { border-color: $text; }
QPushButton#primary:disabled { background: $selected; color: $faint; border-color: $selected; }
QDoubleSpinBox, QSpinBox, QLineEdit, QComboBox { background: $field; border: 1px solid $raised; border-radius: 4px; padding: 3px 6px; selection-background-color: $ember; selection-color: $onEmber; min-height: @18px; }
QDoubleSpinBox:focus, QSpinBox:focus, QLineEdit:focus, QComboBox:focus { border-color: $ember; }
QDoubleSpinBox:disabled, QSpinBox:disabled, QComboBox:disabled { color: $faint; }
QDoubleSpinBox::up-button, QDoubleSpinBox::down-button, QSpinBox::up-button, QSpinBox::down-button { width: 0; border: none; }
QComboBox::drop-down { border: none; width: 18px; }
QComboBox::down-arrow { image: url(:/icons/down.png); width: 12px; height: 12px; margin-right: 6px; }
QComboBox QAbstractItemView { background: $panel; border: 1px solid $line; selection-background-color: $raised; selection-color: $text; outline: none; }
QSlider::groove:horizontal { height: 4px; background: $field; border-radius: 2px; }
QSlider::sub-page:horizontal { background: $land; border-radius: 2px; }
QSlider::handle:horizontal { width: 12px; height: 12px; margin: -4px 0; border-radius: 6px; background: $text; }
QSlider::handle:horizontal:hover, QSlider::handle:horizontal:focus { background: $ember; }
QSlider::handle:horizontal:disabled { background: $faint; }
QSlider::sub-page:horizontal:disabled { background: $raised; }
QCheckBox { spacing: 8px; }
QCheckBox::indicator { width: 15px; height: 15px; border-radius: 4px; border: 1px solid $edge; background: $field; }
QCheckBox::indicator:checked { background: $ember; border-color: $ember; image: url(:/icons/tick-$name.png); }
QCheckBox::indicator:focus { border-color: $ember; }
QCheckBox:disabled { color: $faint; }
QTreeView::indicator { width: 13px; height: 13px; border-radius: 3px; border: 1px solid $edge; background: $field; }
QTreeView::indicator:checked { background: $muted; border-color: $muted; image: url(:/icons/tick-$name.png); }
QTreeView, QListWidget { background: $chrome; border: none; outline: none; }
QTreeView::item { padding: 2px 0; min-height: @21px; }
QTreeView::item:hover, QListWidget::item:hover { background: $panel; }
QTreeView::item:selected, QListWidget::item:selected { background: $selected; color: $onSelected; }
QHeaderView::section { background: $chrome; border: none; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar::handle:vertical { background: $line; border-radius: 4px; min-height: 28px; }
QScrollBar::handle:vertical:hover { background: $faint; }
QScrollBar:horizontal { background: transparent; height: 9px; }
QScrollBar::handle:horizontal { background: $line; border-radius: 4px; min-width: 28px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: none; }
QProgressBar { background: $field; border: none; border-radius: 3px; height: 6px; text-align: center; }
QProgressBar::chunk { background: $ember; border-radius: 3px; }
QSplitter::handle { background: $dimmed; }

*[role="muted"] { color: $muted; }
*[role="bold"] { font-weight: 600; }
*[role="title"] { font-weight: 600; font-size: @17px; }
*[role="large"] { font-weight: 600; font-size: @20px; }
QLabel[role="title"], QLabel[role="large"] { padding-top: 2px; qproperty-indent: 0; }
*[role="heading"] { font-weight: 600; color: $ember; margin-top: 7px; }
QLabel[role="menu-heading"] { color: $muted; font-size: @11px; padding: 4px 12px 2px 12px; }
*[role="caption"] { color: $muted; font-size: @12px; }
*[role="small"] { color: $muted; font-size: @11px; }
*[role="trouble"] { color: $rose; }
*[role="trouble-caption"] { color: $rose; font-size: @12px; }
*[role="proved"] { color: $moss; }
*[role="panel-title"] { font-weight: 600; color: $muted; padding-left: 6px; }
*[role="panel-count"] { color: $muted; font-size: @11px; padding-left: 6px; }
QWidget[role="band"] { background: $raised; }
QWidget[role="lesson"] { background: $mossGround; border-top: 1px solid $moss; }
QFrame[role="popover"] { background: $raised; border: 1px solid $edge; border-radius: 8px; }
QWidget#desk[role="branch"] { border-left: 2px solid $ember; }
QWidget#header { background: $chrome; }
QWidget#header QToolButton { padding: 3px 10px; }
QStackedWidget#desks, QStackedWidget#desks QScrollArea, QStackedWidget#desks QWidget#desk { background: $panel; }
QToolButton[role="tab"] { padding: 0 4px; font-size: @12px; }
QToolButton[role="fold"], QWidget#desk QToolButton[role="fold"] { border: none; background: transparent; font-weight: 600; color: $ember; padding: 2px 0; text-align: left; }
QToolButton[role="fold"]:focus, QToolButton[role="opener"]:focus { border-bottom: 1px solid $ember; }
QToolButton[role="opener"] { border: none; background: transparent; }
QToolButton[role="axis"] { border: none; background: transparent; text-align: left; color: $muted; }
QToolButton[role="axis-in-hand"] { border: none; background: transparent; text-align: left; color: $ember; }
QListWidget[role="samples"] { background: $field; border-radius: 6px; font-size: @11px; }
QListWidget[role="pages"]::item { padding: 6px 8px; border: 0; background: transparent; }
QListWidget[role="rows"]::item { padding: 3px 4px; border: 0; background: transparent; }
)";

using Named = std::pair<const char*, QColor Theme::*>;
constexpr Named names[] = {
    {"chrome", &Theme::chrome},
    {"panel", &Theme::panel},
    {"field", &Theme::field},
    {"raised", &Theme::raised},
    {"dimmed", &Theme::dimmed},
    {"hover", &Theme::hover},
    {"line", &Theme::line},
    {"edge", &Theme::edge},
    {"text", &Theme::text},
    {"muted", &Theme::muted},
    {"faint", &Theme::faint},
    {"ember", &Theme::ember},
    {"emberHover", &Theme::emberHover},
    {"onEmber", &Theme::onEmber},
    {"selected", &Theme::selected},
    {"onSelected", &Theme::onSelected},
    {"rose", &Theme::rose},
    {"moss", &Theme::moss},
    {"mossGround", &Theme::mossGround},
    {"land", &Theme::land},
};

QString valueOf(const QString& token, const Theme& theme, double textScale) {
  if (token[0] == '@') return QString::number(std::lround(token.mid(1).toInt() * textScale));
  if (token == "$name") return theme.name;
  for (const auto& [name, colour] : names)
    if (token.mid(1) == name) return (theme.*colour).name();
  return token;
}

}  // namespace

QString sheetOf(const Theme& theme, double textScale) {
  static const QRegularExpression token("[$][a-zA-Z]+|@[0-9]+");
  const QString from = sheet;
  QString filled;
  qsizetype done = 0;
  for (auto each = token.globalMatch(from); each.hasNext();) {
    const auto match = each.next();
    filled += from.mid(done, match.capturedStart() - done) + valueOf(match.captured(), theme, textScale);
    done = match.capturedEnd();
  }
  return filled + from.mid(done);
}

}  // namespace dusk::look
