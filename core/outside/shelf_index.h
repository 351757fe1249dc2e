#pragma once
#include <cstdint>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace dusk {

/// A file that a shelf offers: where it lies below the shelf's address, how long it is and its SHA-256.
struct ShelfFile {
  std::string path;
  int64_t bytes = 0;
  std::string sha256;
  bool operator==(const ShelfFile&) const = default;
};

enum class ShelfKind { panorama, surface };

/// A panorama or a surface on a shelf. Of several files the first is the one to open: a panorama, or an open
/// XML material file with its pictures after it.
struct ShelfEntry {
  std::string id, title, author, licence, about;
  ShelfKind kind = ShelfKind::panorama;
  std::vector<std::string> tags;
  std::vector<ShelfFile> thumbnail;  ///< none or one
  std::vector<ShelfFile> preview;    ///< small ones to try it by; may be none
  std::vector<ShelfFile> files;
  bool operator==(const ShelfEntry&) const = default;

  int64_t bytes() const;
};

struct ShelfIndex {
  std::string title;
  std::vector<ShelfEntry> entries;
};

/// Reads a shelf's index (docs/shelf.md). Entries of a kind this program does not know are left out. Error:
/// not such an index, another version, or an entry that cannot be: a path that leads out of its folder, a
/// hash that is none, a size below zero, an id twice. `from` says in it whose index it is.
Result<ShelfIndex> parseShelfIndex(const std::string& text, const std::string& from);

/// Entries of that kind that have every word somewhere in title, author, words about it or tags, in the
/// shelf's order.
std::vector<const ShelfEntry*> entriesWith(const ShelfIndex& index, ShelfKind kind, const std::string& words);

}  // namespace dusk
