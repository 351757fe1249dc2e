#pragma once
#include <filesystem>
#include <optional>

#include "core/outside/http.h"
#include "core/outside/shelf_index.h"

namespace dusk {

/// A shelf of panoramas and surfaces on another machine, and what of it is here. Thumbnails, previews and the
/// index are kept where they may go again, what was fetched where it stays. Its members wait for the other
/// machine: they are called beside the interface.
class Shelf {
 public:
  Shelf(std::string address, const std::filesystem::path& cache, const std::filesystem::path& kept,
        Patience patience = {});
  /// In this person's own folders.
  explicit Shelf(std::string address);

  struct Contents {
    ShelfIndex index;
    std::string offline;  ///< why it could not be asked, where what it last said is shown; else empty
  };
  /// What the shelf offers; what it last said where it does not answer. Error: neither is there.
  Result<Contents> look(Progress& progress) const;

  enum class What { thumbnail, preview, files };
  /// The first of those files, fetched where it is not here yet, with its neighbours beside it. Every file is
  /// as long as the index says and has its SHA-256, or is not there. Error: as `download`, or another
  /// content.
  Result<std::filesystem::path> fetch(const ShelfEntry& entry, What what, Progress& progress) const;
  /// The same where all of it is here already.
  std::optional<std::filesystem::path> here(const ShelfEntry& entry, What what) const;

  /// Where its fetched files lie, as the index has them.
  std::filesystem::path folderOf(const ShelfEntry& entry) const { return placeOf(entry, What::files); }
  const std::string& address() const { return address_; }

 private:
  std::filesystem::path placeOf(const ShelfEntry& entry, What what) const;
  Outcome fetchOne(const ShelfFile& file, const std::filesystem::path& to, Progress& progress) const;

  std::string address_;
  std::filesystem::path cache_, kept_;
  Patience patience_;
};

}  // namespace dusk
