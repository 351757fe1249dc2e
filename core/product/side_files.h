#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/product/model.h"

namespace dusk {

/// A relative reference with its %-escapes undone (RFC 3986).
std::string uriDecoded(const std::string& uri);

/// The files that a model names (buffers, materials, textures), looked for where they are when a model has
/// come from elsewhere: as it says, below its folder; else, since others' disks are not here, by the name
/// alone, small letters or large, in its folder. Pictures also two folders deep, and in one beside it that is
/// called "textures" or the like. Nothing else outside that folder is ever read.
class SideFiles {
 public:
  explicit SideFiles(const std::filesystem::path& model) : folder_(model.parent_path()) {}
  /// The file; nothing where there is none. What was looked for is remembered.
  std::optional<std::filesystem::path> find(const std::string& name);
  /// Keeps in mind that the file of that name could not be read.
  void noteUnread(const std::string& name);
  /// All that was looked for, each once, with what was found.
  const std::vector<SideFile>& all() const { return all_; }
  /// The names alone of those that were not there, or could not be read.
  static std::vector<std::string> missing(const std::vector<SideFile>& all);
  /// Whether a model read before would find the same files as it did, as they were.
  static bool areAsBefore(const std::vector<SideFile>& before, const std::filesystem::path& model);

 private:
  std::string found(const std::string& name) const;

  std::filesystem::path folder_;
  std::vector<SideFile> all_;
};

}  // namespace dusk
