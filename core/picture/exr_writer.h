#pragma once
#include <filesystem>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/picture/exr_compression.h"
#include "core/picture/picture.h"

namespace dusk {

/// A part of a multi-part EXR: its name, and the channels of its pictures.
struct ExrPartHeader {
  std::string name;
  std::vector<std::string> channels;
  bool fullFloat = false;  ///< 32-bit channels (depth, position); else 16-bit half
  std::map<std::string, std::string> metadata{};
};

/// What is said where a picture could not be written.
Error pictureNotWritten(const std::filesystem::path& file, std::string why);

/// How an EXR is laid out.
struct ExrLayout {
  ExrCompression compression = ExrCompression::zip;
  bool onePart =
      false;  ///< the parts become layers of one: "depth.Z"; the first one's channels have no name before
};

/// Writes a multi-part EXR some rows at a time, so that no part need be held whole. The file takes its place
/// with close() alone; without, nothing is left of it.
class ExrWriter {
 public:
  /// Error: nothing writable there.
  static Result<std::unique_ptr<ExrWriter>> open(const std::filesystem::path& file, int width, int height,
                                                 std::vector<ExrPartHeader> parts,
                                                 const ExrLayout& layout = {});
  ~ExrWriter();

  /// The next rows of a part, from the top. Requires its width and number of channels. What a half cannot
  /// hold becomes the largest it can, and what is no number 0. Error: the disk.
  Outcome write(size_t part, const Picture& rows);
  /// Puts the file in its place, without the parts where `keeps` is false. Requires all rows of the others.
  Outcome close(const std::vector<bool>& keeps);

 private:
  struct State;
  explicit ExrWriter(std::unique_ptr<State> state);
  std::unique_ptr<State> state_;
};

}  // namespace dusk
