#pragma once
#include <filesystem>
#include <memory>

#include "core/base/result.h"
#include "core/project/deliverable.h"

namespace dusk {

/// How a film is written.
struct FilmFormat {
  DeliverableKind kind = DeliverableKind::mp4;  ///< one whose info says that it is a film
  int width = 0, height = 0, picturesPerSecond = 24;
  double quality = 92;   ///< up to 100; GIF has none
  bool alpha = false;    ///< straight, where the kind can hold it
  bool playsOn = false;  ///< GIF and WebP: begins again at its end
};

/// A film that is written picture by picture, by FFmpeg's libraries (GIF by the image library): constant
/// rate, colours tagged as sRGB's on Rec.709's primaries and matrix. The same pictures give the same file. It
/// has its name once it is closed.
class FilmWriter {
 public:
  virtual ~FilmWriter() = default;
  /// Error: a size that the kind cannot have, or the library or disk refuses; says which.
  static Result<std::unique_ptr<FilmWriter>> open(const std::filesystem::path& file,
                                                  const FilmFormat& format);
  /// A PNG of the film's size (one wider or taller by a pixel loses that where the kind takes even sizes
  /// alone).
  virtual Outcome add(const std::filesystem::path& picture) = 0;
  virtual Outcome close() = 0;
  /// The size it really has.
  virtual std::pair<int, int> size() const = 0;
};

}  // namespace dusk
