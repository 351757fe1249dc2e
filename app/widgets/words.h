#pragma once
#include <QString>
#include <QStringList>
#include <algorithm>
#include <string>

namespace dusk {

/// A text of the document, to be shown.
inline QString shown(const std::string& text) { return QString::fromStdString(text); }

/// What is typed into a field that finds: its words.
inline QStringList wordsOf(const QString& typed) { return typed.split(' ', Qt::SkipEmptyParts); }

/// Whether a text has all the words, large or small.
inline bool hasAll(const QString& text, const QStringList& words) {
  return std::all_of(words.begin(), words.end(),
                     [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); });
}

}  // namespace dusk
