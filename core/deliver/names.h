#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "core/project/deliverable.h"

namespace dusk {

/// What the words in the braces of a file's name stand for.
struct NameWords {
  std::string project, shot, variant, frame, date;  ///< date as YYYY-MM-DD
  int width = 0, height = 0, version = 1;
  std::string picture{};  ///< its number among those of a film
};
/// The words there are, without braces.
inline constexpr const char* nameWords[] = {"project", "shot", "variant", "frame",
                                            "size",    "date", "version", "picture"};

/// A deliverable's name with its words filled in, and the ending of its kind. Characters that some system
/// refuses in names become "-"; a word that is empty takes the mark before it along ("{shot}-{frame}" of the
/// whole picture is the shot's name alone). Error: an unknown word, or a name that is too long.
Result<std::string> fileNameOf(const Deliverable& deliverable, const NameWords& meant);
/// The text as a name: characters that some system refuses become "-", and marks are dropped at its ends that
/// would hide it or that some system drops. May be empty.
std::string asName(std::string text);
/// What some system would not take in the name as typed (each once), for who types it.
std::string refusedIn(const std::string& name);
/// A picture's number as it stands in names, counted from 0: "0001" is the first.
std::string pictureNumber(int picture);
/// Today, as YYYY-MM-DD.
std::string today();
/// A name of the same kind that is free in the folder: "picture-2.png", and so on.
std::string freeName(const std::filesystem::path& folder, const std::string& name);

}  // namespace dusk
