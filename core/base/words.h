#pragma once
#include <string>

namespace dusk {

/// What is said to people is written in English in the code, and shown in the language in use. All that is
/// said so stands in the catalogues (`app/language`): they are gathered from the calls of these functions.

/// `english` in the language in use; the same pointer where that is English, or has no word for it. What it
/// points to stays for as long as the program runs. Safe from any thread.
const char* words(const char* english);
/// The same of what is known only now: a name that a table gives. What no catalogue knows comes back as it
/// is.
inline std::string words(const std::string& english) { return words(english.c_str()); }
/// Of one thing or of `n` of them: `words("%1 part", "%1 parts", n)`. Which form belongs to which number is
/// the language's affair.
const char* words(const char* one, const char* many, long n);

/// A text of ours with its numbers' decimals behind the mark of the language in use. Not for names and paths.
std::string withDecimalMark(std::string text);

/// Marks what stands in a table that is made before the language is known, so that catalogues have it; it is
/// shown by words().
constexpr const char* marked(const char* english) { return english; }

/// Whose words are used from now on: gives those for an English text - for `n` things where that is not
/// negative - or an empty string. nullptr: English. What was made before keeps its words.
using Catalogue = std::string (*)(const char* english, long n);
void useCatalogue(Catalogue catalogue);

}  // namespace dusk
