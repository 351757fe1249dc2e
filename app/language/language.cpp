#include "app/language/language.h"

#include <QCoreApplication>
#include <QLibraryInfo>
#include <QLocale>
#include <QTranslator>
#include <algorithm>
#include <iterator>

#include "core/base/words.h"

namespace dusk {
namespace {

constexpr Language all[] = {{"en", "English"}, {"de", "Deutsch"}};
int spoken = 0;

/// Ours and the toolkit's, of the language in use.
struct Translators {
  QTranslator own, toolkit;
};
Translators& translators() {
  static Translators both;
  return both;
}

std::string translated(const char* english, long n) {
  // Asked of our own catalogue alone: the toolkit's means other things by the same words.
  return translators().own.translate("", english, nullptr, n < 0 ? -1 : int(n)).toStdString();
}

int ofTheSystem() {
  for (const QString& wish : QLocale::system().uiLanguages())
    for (size_t i = 0; i < std::size(all); ++i)
      if (QLocale(wish).name().section('_', 0, 0) == all[i].code) return int(i);
  return 0;
}

}  // namespace

std::span<const Language> languages() { return all; }
int spokenLanguage() { return spoken; }

void speak(int language) {
  Translators& both = translators();
  useCatalogue(nullptr);
  QCoreApplication::removeTranslator(&both.toolkit);
  spoken = language < 0 ? ofTheSystem() : std::min(language, int(std::size(all)) - 1);
  const QString code = all[spoken].code;
  // Numbers as the system writes them where it speaks the same; sizes in pixels are read without marks
  // between.
  QLocale numbers = QLocale::system().name().startsWith(code) ? QLocale::system()
                    : spoken == 0                             ? QLocale::c()
                                                              : QLocale(code);
  numbers.setNumberOptions(QLocale::OmitGroupSeparator);
  QLocale::setDefault(numbers);
  if (spoken == 0) return;
  if (both.own.load(":/language/" + code + ".qm")) useCatalogue(translated);
  if (both.toolkit.load("qtbase_" + code, QLibraryInfo::path(QLibraryInfo::TranslationsPath)))
    QCoreApplication::installTranslator(&both.toolkit);
}

}  // namespace dusk
