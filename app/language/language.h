#pragma once
#include <span>

/// The languages the program is spoken in. English stands in the code; each other one is a catalogue beside
/// this file, `CODE.po`, in the format of the gettext tools.
namespace dusk {

struct Language {
  const char* code;  ///< of ISO 639
  const char* name;  ///< as its own speakers write it
};
/// All there are, English first.
std::span<const Language> languages();

/// Everything made from now on is told in one of them, by its place in languages(): texts, the toolkit's own
/// dialogs, and numbers as they are written there. -1: in the system's where we have it, else in English.
/// Needs the application to be there; on the interface's thread.
void speak(int language);
/// The place of the one in use.
int spokenLanguage();

}  // namespace dusk
