#include "core/surface/pyramid.h"

#include <OpenImageIO/imageio.h>
#include <tbb/parallel_for.h>

#include "core/base/files.h"
#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/picture/file_colours.h"
#include "core/picture/read.h"
#include "core/surface/texel.h"

namespace dusk {
namespace {

constexpr int tile = pyramidTile, mostSide = 60'000;

/// What the pyramid holds a value in.
enum class Depth { byte, word, half };

struct Source {
  std::unique_ptr<OIIO::ImageInput> in;
  int width = 0, height = 0, channels = 0;  // of the file
  int kept = 3;                             // of the pyramid
  bool decode = false;                      // from code values to light
  bool bytes = false;                       // the file's values are of 8 bits
  std::optional<FileColours> colours{};     // where they are not ours
  Depth depth = Depth::byte;
  size_t valueBytes() const { return depth == Depth::byte ? 1 : 2; }
  OIIO::TypeDesc type() const {
    return depth == Depth::byte   ? OIIO::TypeDesc::UINT8
           : depth == Depth::word ? OIIO::TypeDesc::UINT16
                                  : OIIO::TypeDesc::HALF;
  }
};

Error unusable(const std::filesystem::path& file, const std::string& why) {
  return {
      words("The picture ") + file.filename().string() + words(" cannot be used on a surface: ") + why + ".",
      ErrorKind::unreadable};
}

Result<Source> opened(const std::filesystem::path& file, bool colour) {
  Source s;
  s.in = OIIO::ImageInput::open(file.string());
  if (!s.in) {
    const std::string why = OIIO::geterror();
    return unusable(file,
                    why.empty() ? words("it is no picture, or is damaged") : words("it cannot be read"));
  }
  const OIIO::ImageSpec& spec = s.in->spec();
  s.width = spec.width, s.height = spec.height, s.channels = spec.nchannels;
  if (s.width <= 0 || s.height <= 0 || s.channels <= 0 || spec.depth > 1)
    return unusable(file, words("it holds no flat picture"));
  if (s.width > mostSide || s.height > mostSide || (long long)s.width * s.height > 8 * maxPixels)
    return unusable(file, words("with ") + std::to_string(s.width) + " x " + std::to_string(s.height) +
                              words(" pixels it is too large; make it smaller than 60,000 a side"));
  const bool floats = spec.format.is_floating_point();
  s.kept = s.channels == 2 || s.channels == 4 ? 4 : 3;
  if (FileColours colours(spec); colour && s.channels >= 3 && !colours.areOurs())
    s.colours = std::move(colours);
  s.decode = colour && !floats, s.bytes = spec.format.size() == 1 && !s.colours;
  s.depth = floats ? Depth::half : s.decode || spec.format.size() > 1 ? Depth::word : Depth::byte;
  return s;
}

/// Rows of floats, `kept` values a pixel, premultiplied light or plain values.
class Rows {
 public:
  Rows(int width, int count, int kept)
      : width(width), kept(kept), values(size_t(width) * size_t(count) * size_t(kept)) {}
  float* row(int y) { return &values[size_t(y) * size_t(width) * size_t(kept)]; }
  int width, kept;
  std::vector<float> values;
};

/// Light of a code value that the library has multiplied by alpha, times alpha.
float lightOf(const Source& s, float code, float alpha) {
  if (s.bytes && alpha == 1) return lightOfCode()[size_t(std::lround(std::clamp(code, 0.0f, 1.0f) * 255))];
  return alpha > 0 ? srgbDecoded(code / alpha) * alpha : 0.0f;
}

/// A row's colours, of which the library has multiplied code values and light by alpha.
void makeOurs(const Source& s, float* row) {
  std::vector<float> rgb(size_t(s.width) * 3);
  const auto each = [&](const auto& act) {
    for (int x = 0; x < s.width; ++x) {
      float* in = row + size_t(x) * size_t(s.channels);
      const float alpha = s.kept == 4 ? in[s.channels - 1] : 1.0f;
      for (size_t c = 0; c < 3; ++c) act(rgb[size_t(x) * 3 + c], in[c], alpha);
    }
  };
  each([](float& own, float in, float alpha) { own = alpha > 0 && std::isfinite(in) ? in / alpha : 0.0f; });
  s.colours->toOurs(rgb.data(), size_t(s.width));
  each([](float own, float& in, float alpha) { in = std::max(0.0f, own) * alpha; });
}

/// The next rows of the file.
Outcome readRows(Source& s, const std::filesystem::path& file, int from, int count, Rows& out) {
  std::vector<float> raw(size_t(s.width) * size_t(count) * size_t(s.channels));
  if (!s.in->read_scanlines(0, 0, from, from + count, 0, 0, s.channels, OIIO::TypeDesc::FLOAT, raw.data()))
    return unusable(file, words("it ends too early or is damaged"));
  tbb::parallel_for(0, count, [&](int y) {
    float* in = &raw[size_t(y) * size_t(s.width) * size_t(s.channels)];
    float* to = out.row(y);
    if (s.colours) makeOurs(s, in);
    for (int x = 0; x < s.width; ++x, in += s.channels, to += s.kept) {
      const bool grey = s.channels < 3;
      const float alpha = s.kept == 4 ? in[s.channels - 1] : 1.0f;
      for (int c = 0; c < 3; ++c) {
        const float v = in[grey ? 0 : c];
        to[c] = !std::isfinite(v) ? 0.0f : s.decode ? lightOf(s, v, alpha) : v;
      }
      if (s.kept == 4) to[3] = alpha;
    }
  });
  return done();
}

/// The mean of each two rows of two.
void halve(Rows& from, int rows, Rows& to, int at) {
  tbb::parallel_for(0, std::max(1, rows / 2), [&](int y) {
    const float *a = from.row(2 * y), *b = from.row(std::min(2 * y + 1, rows - 1));
    float* out = to.row(at + y);
    for (int x = 0; x < to.width; ++x)
      for (int c = 0; c < from.kept; ++c) {
        const int l = 2 * x * from.kept + c, r = std::min(2 * x + 1, from.width - 1) * from.kept + c;
        *out++ = (a[l] + a[r] + b[l] + b[r]) / 4;
      }
  });
}

OIIO::ImageSpec specOf(const Source& s, int width, int height) {
  OIIO::ImageSpec spec(width, height, s.kept, s.type());
  spec.tile_width = spec.tile_height = tile, spec.tile_depth = 1;
  // Small ones must be there at once: someone is waiting to see what was saved.
  const bool small = (long long)s.width * s.height < 9'000'000;
  spec.attribute("compression", small ? "none" : "zip");
  spec.attribute("tiff:zipquality", 1);
  spec.attribute("textureformat", "Plain Texture");
  spec.attribute("oiio:BitsPerSample", int(s.valueBytes()) * 8);
  if (s.kept == 4) spec.alpha_channel = 3;
  return spec;
}

}  // namespace

Outcome writePyramid(const std::filesystem::path& file, const std::filesystem::path& to, bool colour,
                     Progress& progress) {
  auto source = opened(file, colour);
  if (!source) return source.error();
  Source& s = *source;
  auto out = OIIO::ImageOutput::create("tif");
  const auto cannotKeep = [&] {
    return Error{words("The picture ") + file.filename().string() + words(" cannot be kept in the cache (") +
                 to.parent_path().string() +
                 words("): the disk is full, or the folder cannot be written to.")};
  };
  return replaceFileAtomically(to, [&](const std::filesystem::path& half) -> Outcome {
    if (!out || !out->open(half.string(), specOf(s, s.width, s.height))) return cannotKeep();
    int w = s.width, h = s.height;
    Rows next(std::max(1, w / 2), std::max(1, h / 2), s.kept);
    for (int y = 0; y < h; y += tile) {
      if (progress.cancelled()) return cancelledError();
      const int count = std::min(tile, h - y);
      Rows rows(w, count, s.kept);
      if (const auto read = readRows(s, file, y, count, rows); !read) return read;
      if (!out->write_tiles(0, w, y, y + count, 0, 1, OIIO::TypeDesc::FLOAT, rows.values.data()))
        return cannotKeep();
      if (y / 2 < std::max(1, h / 2)) halve(rows, count, next, y / 2);
      progress.report(0.8 * (y + count) / h);
    }
    for (bool more = w > 1 || h > 1; more; more = w > 1 || h > 1) {
      w = std::max(1, w / 2), h = std::max(1, h / 2);
      if (!out->open(half.string(), specOf(s, w, h),
                     out->supports("mipmap") ? OIIO::ImageOutput::AppendMIPLevel
                                             : OIIO::ImageOutput::AppendSubimage) ||
          !out->write_image(OIIO::TypeDesc::FLOAT, next.values.data()))
        return cannotKeep();
      Rows smaller(std::max(1, w / 2), std::max(1, h / 2), s.kept);
      halve(next, h, smaller, 0);
      next = std::move(smaller);
    }
    progress.report(1);
    return out->close() ? done() : Outcome(cannotKeep());
  });
}

}  // namespace dusk
