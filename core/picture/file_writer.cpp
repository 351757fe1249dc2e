#include "core/picture/file_writer.h"

#include <OpenImageIO/imageio.h>

#include "core/base/files.h"
#include "core/base/words.h"
#include "core/picture/exr_writer.h"
#include "core/picture/icc.h"
#include "core/picture/tags.h"
#include "core/picture/web_pictures.h"

namespace dusk {
namespace {

constexpr const char* endings[] = {"x.png", "x.jpg", "x.tif", "x.webp"};

OIIO::TypeDesc typeOf(int bits) {
  return bits == 32 ? OIIO::TypeFloat : bits == 16 ? OIIO::TypeUInt16 : OIIO::TypeUInt8;
}

OIIO::ImageSpec specOf(const PictureFileKind& k, double quality) {
  OIIO::ImageSpec spec(k.width, k.height, k.hasAlpha ? 4 : 3, typeOf(k.bits));
  const bool isKnown = k.bits == 32 || k.isSrgb;
  if (isKnown) spec.attribute("oiio:ColorSpace", k.bits == 32 ? "Linear" : "sRGB");
  // Values go through as they come: the library must not multiply or divide them.
  if (k.hasAlpha && !k.premultiplied) spec.attribute("oiio:UnassociatedAlpha", 1);
  const auto icc = k.bits == 32 ? linearProfile() : srgbProfile();
  if (isKnown)
    spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, int(icc.size())), icc.data());
  if (k.dpi > 0) {
    spec.attribute("XResolution", float(k.dpi)), spec.attribute("YResolution", float(k.dpi));
    spec.attribute("ResolutionUnit", "in");
  }
  const std::string percent = std::to_string(int(std::lround(std::clamp(quality, 1.0, 100.0))));
  switch (k.format) {
    case PictureFormat::png:
      spec.attribute("png:compressionLevel", 4);
      break;
    case PictureFormat::jpeg:
      spec.attribute("Compression", "jpeg:" + percent);
      spec.attribute("jpeg:subsampling", quality >= 85 ? "4:4:4" : "4:2:0");
      break;
    case PictureFormat::tiff:
      spec.attribute("Compression", "zip");
      spec.attribute("tiff:bigtiff", double(k.width) * k.height * k.bits > 8e9 ? 1 : 0);
      break;
    case PictureFormat::webp:
      spec.attribute("Compression", "webp:" + percent);
      break;
    case PictureFormat::avif:  // see writeAvif()
      break;
  }
  return spec;
}

template <typename T>
std::vector<char> asCodes(const Picture& rows, float most) {
  std::vector<char> bytes(rows.pixels.size() * sizeof(T));
  T* to = reinterpret_cast<T*>(bytes.data());
  for (const float v : rows.pixels) *to++ = T(std::lround(std::clamp(v, 0.0f, 1.0f) * most));
  return bytes;
}

std::vector<char> asBytes(const Picture& rows, int bits) {
  if (bits == 8) return asCodes<uint8_t>(rows, 255);
  if (bits == 16) return asCodes<uint16_t>(rows, 65535);
  const char* from = reinterpret_cast<const char*>(rows.pixels.data());
  return {from, from + rows.pixels.size() * sizeof(float)};
}

}  // namespace

struct PictureWriter::State {
  State(const std::filesystem::path& file, const PictureFileKind& kind) : whole(file), kind(kind) {}
  AtomicFile whole;
  PictureFileKind kind;
  std::unique_ptr<OIIO::ImageOutput> output{};
  int rowsDone = 0;
  std::vector<char> kept{};  ///< all of the picture, where it is not written row by row

  Error failed(const std::string& why) const { return pictureNotWritten(whole.file(), why); }
  bool isWebp() const { return kind.format == PictureFormat::webp; }
  /// Whether its library takes all of it at once.
  bool isWrittenWhole() const {
    return kind.format == PictureFormat::avif || (isWebp() && kind.quality >= 100);
  }
  bool isKept() const { return kind.mostBytes > 0 || isWrittenWhole(); }
  size_t rowBytes() const { return size_t(kind.width) * (kind.hasAlpha ? 4 : 3) * size_t(kind.bits) / 8; }

  Outcome begin(double quality) {
    output = OIIO::ImageOutput::create(endings[size_t(kind.format)]);
    if (!output) return failed(OIIO::geterror());
    if (!output->open(whole.temporary().string(), specOf(kind, quality))) return failed(output->geterror());
    return done();
  }
  Outcome put(int from, int count, const char* bytes) {
    if (!output->write_scanlines(from, from + count, 0, typeOf(kind.bits), bytes))
      return failed(output->geterror());
    return done();
  }
  Outcome end() {
    if (output && !output->close()) return failed(output->geterror());
    output.reset();
    // The image library forgets a WebP's.
    if (isWebp() && kind.isSrgb)
      if (const Outcome put = writeWebpProfile(whole.temporary(), srgbProfile()); !put) return put;
    // The tag library changes no files past four gigabytes.
    return !kind.tags || bytesWritten() >> 32
               ? done()
               : writeTags(whole.temporary(), *kind.tags, kind.width, kind.height);
  }
  Outcome writeAt(double quality) {
    Outcome outcome = begin(quality);
    if (outcome) outcome = put(0, kind.height, kept.data());
    return outcome ? end() : outcome;
  }
  Outcome writeWhole() {
    if (!isWebp()) return writeAvif(whole.temporary(), kind, kept);
    const Outcome written = writeLosslessWebp(whole.temporary(), kind, kept);
    return written ? end() : written;
  }
  size_t bytesWritten() const {
    std::error_code code;
    const auto bytes = std::filesystem::file_size(whole.temporary(), code);
    return code ? 0 : size_t(bytes);
  }

  /// The best quality whose file is small enough: it grows with the quality.
  Outcome writeWithin() {
    int low = 1, high = int(kind.quality);
    Outcome outcome = writeAt(high);
    if (!outcome || bytesWritten() <= kind.mostBytes) return outcome;
    while (low < high) {
      const int middle = (low + high) / 2;
      if (outcome = writeAt(middle); !outcome) return outcome;
      if (bytesWritten() <= kind.mostBytes)
        low = middle + 1;
      else
        high = middle;
    }
    if (outcome = writeAt(std::max(1, low - 1)); !outcome) return outcome;
    if (bytesWritten() <= kind.mostBytes) return done();
    return Error{words("At the least quality ") + whole.file().filename().string() + words(" still takes ") +
                 std::to_string((bytesWritten() + 999) / 1000) + words(" kB, more than the ") +
                 std::to_string(kind.mostBytes / 1000) +
                 words(" kB asked for. Ask for more, or for fewer pixels.")};
  }
};

PictureWriter::PictureWriter(std::unique_ptr<State> state) : state_(std::move(state)) {}
PictureWriter::~PictureWriter() = default;

Result<std::unique_ptr<PictureWriter>> PictureWriter::open(const std::filesystem::path& file,
                                                           const PictureFileKind& kind) {
  auto state = std::make_unique<State>(file, kind);
  if (state->isKept())
    state->kept.reserve(state->rowBytes() * size_t(kind.height));
  else if (const Outcome begun = state->begin(kind.quality); !begun)
    return begun.error();
  return std::unique_ptr<PictureWriter>(new PictureWriter(std::move(state)));
}

Outcome PictureWriter::write(const Picture& rows) {
  if (rows.empty()) return done();
  const std::vector<char> bytes = asBytes(rows, state_->kind.bits);
  const int from = state_->rowsDone;
  state_->rowsDone += rows.height;
  if (!state_->isKept()) return state_->put(from, rows.height, bytes.data());
  state_->kept.insert(state_->kept.end(), bytes.begin(), bytes.end());
  return done();
}

Outcome PictureWriter::close() {
  const Outcome ended = state_->kind.mostBytes > 0 ? state_->writeWithin()
                        : state_->isWrittenWhole() ? state_->writeWhole()
                                                   : state_->end();
  return ended ? state_->whole.commit() : ended;
}

Outcome writePicture(const std::filesystem::path& file, PictureFileKind kind, const Picture& picture) {
  kind.width = picture.width, kind.height = picture.height;
  const auto writer = PictureWriter::open(file, kind);
  if (!writer) return writer.error();
  const Outcome wrote = (*writer)->write(picture);
  return wrote ? (*writer)->close() : wrote;
}

}  // namespace dusk
