#pragma once
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/colour/view.h"

namespace dusk {

/// Which way of an OpenColorIO configuration is taken. What is empty is as the configuration says.
struct ConfigView {
  std::string display, view;
  std::string look;    ///< one of its looks in place of the view's own
  std::string linear;  ///< the space that our light (scene-linear Rec.709) is in
};

/// An OpenColorIO configuration of one's own. Immutable; safe to use from many threads at once.
class ColourConfig {
 public:
  struct Display {
    std::string name;
    std::vector<std::string> views;
  };

  /// Errors: it cannot be read, is larger than 16 MB, or has no view.
  static Result<std::shared_ptr<const ColourConfig>> read(const std::filesystem::path& file);

  const std::vector<Display>& displays() const { return displays_; }
  const std::vector<std::string>& looks() const { return looks_; }
  /// Its spaces, as it names them.
  const std::vector<std::string>& spaces() const { return spaces_; }
  /// The space of it that is scene-linear Rec.709, by the names that is known by; else empty. Then the way
  /// goes by the space in which configurations are joined (`aces_interchange`) where it names that.
  const std::string& linear() const { return linear_; }
  /// Whether our light's way into it is known, and not only taken for its scene-linear role.
  bool isLinearKnown() const { return !linear_.empty() || joins_; }
  /// Tables it reads that lie below its folder, relative to it; those that lie elsewhere; and those that it
  /// names but are not there.
  const std::vector<std::filesystem::path>& files() const { return files_; }
  const std::vector<std::string>& outside() const { return outside_; }
  const std::vector<std::string>& missing() const { return missing_; }

  /// Errors: no such display, view, look or space; a table it needs is not there or has no numbers.
  Result<std::shared_ptr<const ColourView>> view(const ConfigView& what) const;

  ~ColourConfig();
  ColourConfig(const ColourConfig&) = delete;
  ColourConfig& operator=(const ColourConfig&) = delete;

 private:
  struct Held;
  explicit ColourConfig(std::unique_ptr<Held> held);
  std::unique_ptr<Held> held_;
  std::string name_, linear_;
  bool joins_ = false;
  std::vector<Display> displays_;
  std::vector<std::string> looks_, spaces_, outside_, missing_;
  std::vector<std::filesystem::path> files_;
};

}  // namespace dusk
