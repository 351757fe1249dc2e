#pragma once
#include <QLocale>
#include <QString>
#include <QStringList>
#include <algorithm>
#include <cmath>
#include <string>

#include "core/base/words.h"

namespace dusk {

/// A text of the document, to be shown.
inline QString shown(const std::string& text) { return QString::fromStdString(text); }

/// A whole number with its thousands apart, as the language in use writes it.
inline QString grouped(qulonglong number) {
  QLocale own;
  if (own.language() == QLocale::C) own = QLocale(QLocale::English);
  own.setNumberOptions(QLocale::DefaultNumberOptions);
  return own.toString(number);
}

/// A number with so many decimals, as the language in use writes it; what rounds to nothing has no sign.
inline QString decimal(double number, int decimals) {
  const double unit = std::pow(10, -decimals);
  return QLocale().toString(std::abs(number) < unit / 2 ? 0.0 : number, 'f', decimals);
}

/// A unit as it follows its number: degrees stand close by it, all others a space apart.
inline QString unitAfter(const QString& unit) { return unit.isEmpty() || unit == "°" ? unit : ' ' + unit; }

/// A label as it reads within a sentence: small, but in languages that write their nouns large.
inline QString inSentence(const QString& label) {
  return QLocale().language() == QLocale::German ? label : label.toLower();
}

/// What a table gives, or a name, in the language in use.
inline QString words(const QString& english) { return shown(words(english.toStdString())); }

/// What is typed into a field that finds: its words.
inline QStringList wordsOf(const QString& typed) { return typed.split(' ', Qt::SkipEmptyParts); }

/// Whether a text has all the words, large or small.
inline bool hasAll(const QString& text, const QStringList& words) {
  return std::all_of(words.begin(), words.end(),
                     [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
}

}  // namespace dusk
