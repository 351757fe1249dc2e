#include "app/document/preferences.h"

#include <QSettings>
#include <algorithm>

#include "app/document/units.h"
#include "app/language/language.h"
#include "core/base/words.h"

namespace dusk {
namespace {

using K = PreferenceKind;

QString unitNames() {
  QStringList names;
  for (const ShownUnit& unit : shownUnits()) names << unit.name;
  return names.join('|');
}

QString languageNames() {
  QStringList names{marked("as the system")};
  for (const Language& each : languages()) names << each.name;
  return names.join('|');
}

const Preference all[] = {
    {"language", marked("Window"), marked("Language"), marked("Of the window; from the next start on"),
     K::choice, 0, 0, 0, "", languageNames()},
    {"lengths", marked("Window"), marked("Lengths in"), marked("The unit lengths are shown and typed in"),
     K::choice, 0, 0, 0, "", unitNames()},
    {"theme", marked("Window"), marked("Colours"),
     marked("Of the window; what lies round the picture stays a neutral grey"), K::choice, 0, 0, 0, "",
     marked("dusk|dawn")},
    {"contrast", marked("Window"), marked("Contrast"),
     marked("How far text and lines stand out from their grounds"), K::choice, 0, 0, 0, "",
     marked("usual|stronger")},
    {"textPercent", marked("Window"), marked("Text"),
     marked("How large text is; some heights follow at the next start"), K::choice, 0, 0, 0, "",
     marked("as large as the system's|usual|15 % larger|30 % larger|60 % larger")},
    {"surround", marked("Window"), marked("Surround of the picture"),
     marked("Neutral, so that it does not tint the eye"), K::choice, 0, 0, 0, "", marked("dark|grey|white")},
    {"startPage", marked("Window"), marked("Begin with the first page"),
     marked("An empty window shows demos and the last work"), K::yesNo, true},
    {"autosaveMinutes", marked("Work"), marked("Save by itself"),
     marked("Saves a project that has a file; unsaved work is kept either way, and comes back after a crash"),
     K::number, 0, 0, 120, "min", marked("never")},
    {"threads", marked("Work"), marked("Cores for the picture"),
     marked("How many threads trace; fewer leave more to other programs"), K::number, 0, 0, 256, "",
     marked("all")},
    {"memoryGb", marked("Work"), marked("Memory for photos and models"),
     marked("What nobody uses goes when more than this is loaded; holds from the next project on"), K::number,
     6, 1, 512, "GB"},
    {"screenProfile", marked("Colour"), marked("Profile of the screen"),
     marked("An ICC profile, as its measuring made it: pictures are shown by it; files and values stay as "
            "they are"),
     K::file, "", 0, 0, "", marked("Profiles of screens (*.icc *.icm)")},
    {"colourConfig", marked("Colour"), marked("Colour configuration"),
     marked("An OpenColorIO configuration by which pictures of new projects are shown; for one picture: "
            "Blend, View"),
     K::file, "", 0, 0, "", marked("OpenColorIO configurations (*.ocio)")},
    {"editor", marked("Work"), marked("Editor of pictures"),
     marked("The program that opens layers' and surfaces' pictures; none: the system's usual one"), K::file,
     "", 0, 0, "", marked("Programs (*)")},
    {"cache", marked("Files"), marked("Cache in"),
     marked("Where what can be made again is kept, from the next start on; none: the system's usual place"),
     K::folder, ""},
    {"panoramas", marked("Files"), marked("Panoramas of your own"),
     marked("A folder whose panoramas are shown beside the light sets"), K::folder, ""},
};

const Preference* find(const QString& key) {
  for (const Preference& p : all)
    if (key == p.key) return &p;
  return nullptr;
}

/// What is no number is as usual; what is out of range is brought into it.
QVariant sound(const Preference& p, const QVariant& value) {
  bool isNumber = false;
  const int typed = value.toInt(&isNumber), number = isNumber ? typed : p.usual.toInt();
  switch (p.kind) {
    case K::choice:
      return std::clamp(number, 0, int(p.words.count('|')));
    case K::number:
      return std::clamp(number, int(p.low), int(p.high));
    case K::yesNo:
      return value.toBool();
    case K::folder:
    case K::file:
      break;
  }
  return value.toString();
}

}  // namespace

std::span<const Preference> preferences() { return all; }

QStringList preferencePages() {
  QStringList pages;
  for (const Preference& p : all)
    if (!pages.contains(p.page)) pages << p.page;
  return pages;
}

Preferences& Preferences::own() {
  static Preferences one;
  return one;
}

QVariant Preferences::value(const QString& key) const {
  const Preference* p = find(key);
  return p ? sound(*p, QSettings().value(key, p->usual)) : QVariant();
}

void Preferences::set(const QString& key, const QVariant& value) {
  const Preference* p = find(key);
  if (!p) return;
  const QVariant now = sound(*p, value);
  if (now == this->value(key)) return;
  QSettings().setValue(key, now);
  emit changed(key);
}

void Preferences::reset(const QString& page) {
  for (const Preference& p : all)
    if (page == p.page) set(p.key, p.usual);
}

size_t assetBudgetBytes() { return size_t(Preferences::own().number("memoryGb")) << 30; }

}  // namespace dusk
