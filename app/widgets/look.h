#pragma once
#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

/// The colours, type and metrics of the window: dusk, not night.
namespace dusk::look {

inline const QColor chrome("#2d2936"), panel("#383343"), field("#252230"), raised("#453f52"), line("#544d63");
inline const QColor text("#ece8f1"), muted("#b1a9bf");
inline const QColor ember("#f2a65a");  ///< selected
inline const QColor tide("#7cc4d1");   ///< measured
inline const QColor rose("#ec8fa1");   ///< off
inline const QColor moss("#a9c98a");   ///< proved
inline const QColor surround("#3a3a3a");

/// Fonts, palette and style sheet for the whole application. Text is as large as the system's where that is
/// larger than usual, up to 1.6 times ours.
void apply(QApplication& app);
/// Text of so many percent of the usual from here on; 0: as large as the system's.
void setTextPercent(int percent);

/// A length that text has to fit in, of text of 13 px, for text as large as it is here.
int px(double length);

QFont small();    ///< 11 px, for units and captions
QFont heading();  ///< 13 px semibold
QFont figure();   ///< for measured numbers
QFont large();    ///< 20 px, for the number a proof is about

}  // namespace dusk::look
