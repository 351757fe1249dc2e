#include "app/widgets/look.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPalette>
#include <QStyle>
#include <QStyleFactory>
#include <QWidget>

#include "app/widgets/sheet.h"

namespace dusk::look {
namespace {

double textScale = 1, systemScale = 1;
constexpr const char* dressed = "dressed";

/// The theme that is worn; the interface's thread only.
Theme& worn() {
  static Theme one = themes().front();
  return one;
}

QFont sized(int size, QFont::Weight weight) {
  QFont font("Lato");
  font.setPixelSize(px(size));
  font.setWeight(weight);
  return font;
}

QPalette palette() {
  const Theme& t = worn();
  QPalette p;
  p.setColor(QPalette::Window, t.chrome);
  p.setColor(QPalette::Base, t.field);
  p.setColor(QPalette::AlternateBase, t.chrome);
  p.setColor(QPalette::Button, t.panel);
  for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
    p.setColor(role, t.text);
  p.setColor(QPalette::PlaceholderText, t.muted);
  p.setColor(QPalette::Highlight, t.ember);
  p.setColor(QPalette::HighlightedText, t.onEmber);
  p.setColor(QPalette::Link, t.tide);
  return p;
}

void dressAll() {
  qApp->setFont(sized(13, QFont::Normal));
  qApp->setPalette(palette());
  const QString sheet = sheetOf(worn(), textScale);
  for (QWidget* window : QApplication::topLevelWidgets())
    if (window->property(dressed).toBool()) window->setStyleSheet(sheet);
}

}  // namespace

QColor chrome() { return worn().chrome; }
QColor panel() { return worn().panel; }
QColor field() { return worn().field; }
QColor raised() { return worn().raised; }
QColor dimmed() { return worn().dimmed; }
QColor line() { return worn().line; }
QColor text() { return worn().text; }
QColor muted() { return worn().muted; }
QColor ember() { return worn().ember; }
QColor tide() { return worn().tide; }
QColor rose() { return worn().rose; }
QColor moss() { return worn().moss; }
QColor skyHigh() { return worn().skyHigh; }
QColor skyLow() { return worn().skyLow; }
QColor earth() { return worn().earth; }
QColor land() { return worn().land; }
QColor hill() { return worn().hill; }

QFont small() { return sized(11, QFont::Normal); }
QFont heading() { return sized(13, QFont::DemiBold); }
QFont figure() { return sized(12, QFont::DemiBold); }
QFont large() { return sized(20, QFont::DemiBold); }

QColor faded(QColor colour, int alpha) {
  colour.setAlpha(alpha);
  return colour;
}
QString spanned(const QString& text, const QColor& colour) {
  return QString("<span style='color:%1'>%2</span>").arg(colour.name(), text);
}

int px(double length) { return int(std::lround(length * textScale)); }

void apply(QApplication& app) {
  for (const char* file : {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Semibold.ttf", ":/fonts/Lato-Bold.ttf"})
    QFontDatabase::addApplicationFont(file);
  // Systems say 12 to 16 px where nobody asked for larger text; ours is 13 px then.
  constexpr double usual = 16;
  textScale = systemScale = std::clamp(QFontInfo(QApplication::font()).pixelSize() / usual, 1.0, 1.6);
  app.setStyle(QStyleFactory::create("Fusion"));
  dressAll();
}

void dress(QWidget& window) {
  window.setProperty(dressed, true);
  window.setStyleSheet(sheetOf(worn(), textScale));
}

void setTheme(int theme, bool strong) {
  const auto all = themes();
  const Theme& wanted = all[size_t(std::clamp(theme, 0, int(all.size()) - 1))];
  const Theme next = strong ? stronger(wanted) : wanted;
  if (next == worn()) return;
  worn() = next;
  dressAll();
}

void setTextPercent(int percent) {
  const double wanted = percent > 0 ? percent / 100.0 : systemScale;
  if (wanted == textScale) return;
  textScale = wanted;
  dressAll();
}

void setRole(QWidget& widget, const char* role) {
  if (widget.property("role").toByteArray() == role) return;
  widget.setProperty("role", QByteArray(role));
  if (!widget.testAttribute(Qt::WA_WState_Polished)) return;
  widget.style()->unpolish(&widget);
  widget.style()->polish(&widget);
}

}  // namespace dusk::look
