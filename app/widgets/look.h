#pragma once
#include <QColor>
#include <QFont>
#include <QString>

class QApplication;
class QWidget;

/// The colours, type and metrics of the window: dusk, not night; or dawn.
namespace dusk::look {

// The theme's colours as they are now; see Theme for what they mean.
QColor chrome();
QColor panel();
QColor field();
QColor raised();
QColor dimmed();
QColor line();
QColor text();
QColor muted();
QColor ember();
QColor tide();
QColor rose();
QColor moss();
QColor skyHigh();
QColor skyLow();
QColor earth();
QColor land();
QColor hill();

/// Marks drawn on pictures, which are no part of the window: they keep their colours whatever the theme, and
/// have a dark rim.
namespace mark {
inline const QColor panel("#383343"), text("#ece8f1"), muted("#b1a9bf"), ember("#f2a65a"), tide("#7cc4d1"),
    rose("#ec8fa1"), moss("#a9c98a");
}
inline const QColor surround("#3a3a3a");

/// Fonts, style and palette for the whole application. Text is as large as the system's where that is larger
/// than usual, up to 1.6 times ours.
void apply(QApplication& app);
/// A window's style sheet, now and whenever colours or text change. It is set on windows and not on the whole
/// application, once their widgets are in place: a sheet of the application is worked out anew for a whole
/// branch of widgets each time that is put into another.
void dress(QWidget& window);

/// Theme by its place among themes(), and whether its contrasts are the stronger ones.
void setTheme(int theme, bool strong);
/// Text of so many percent of the usual from here on; 0: as large as the system's.
void setTextPercent(int percent);

/// How a widget is shown, by the sheet: "muted", "caption", "trouble", "heading" and others told there.
void setRole(QWidget& widget, const char* role);

/// A colour that lets through; alpha is 0 to 255.
QColor faded(QColor colour, int alpha);
/// Rich text in a colour of its own.
QString spanned(const QString& text, const QColor& colour);

/// A length that text has to fit in, of text of 13 px, for text as large as it is here.
int px(double length);

QFont small();    ///< 11 px, for units and captions
QFont heading();  ///< 13 px semibold
QFont figure();   ///< for measured numbers
QFont large();    ///< 20 px, for the number a proof is about

}  // namespace dusk::look
