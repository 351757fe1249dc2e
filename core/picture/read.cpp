#include "core/picture/read.h"

#include <OpenImageIO/imageio.h>

#include "core/base/srgb.h"
#include "core/base/words.h"
#include "core/picture/exif.h"
#include "core/picture/file_colours.h"
#include "core/picture/icc.h"

namespace dusk {
namespace {

Error unreadable(const std::filesystem::path& file, const std::string& why) {
  return {words("Cannot read ") + file.string() + words(" as a picture: ") + why, ErrorKind::unreadable};
}

struct Opened {
  std::unique_ptr<OIIO::ImageInput> input;
  OIIO::ImageSpec spec;
};

/// Whether what a header claims is a picture, and one that may be held: every picture and part that is read
/// has to pass here first.
Outcome checkClaim(const std::filesystem::path& file, const OIIO::ImageSpec& spec, int channels) {
  constexpr long long mostBytes = maxPixels * 4 * (long long)sizeof(float);
  constexpr int longestSide = 1'000'000;
  if (spec.width > 0 && spec.height > 0 && spec.depth <= 1 && channels > 0 && spec.width <= longestSide &&
      spec.height <= longestSide && (long long)spec.width * spec.height <= maxPixels &&
      (long long)spec.width * spec.height * channels * (long long)sizeof(float) <= mostBytes)
    return done();
  return unreadable(file, words("its header claims ") + std::to_string(spec.width) + " x " +
                              std::to_string(spec.height) + words(" pixels of ") +
                              std::to_string(spec.nchannels) +
                              words(" channels, more than fits. Check the file, or make it smaller."));
}

Result<Opened> openChecked(const std::filesystem::path& file) {
  std::error_code code;
  if (!std::filesystem::is_regular_file(file, code))
    return Error{
        words("Cannot open ") + file.string() + words(". Check that it is still there and readable."),
        ErrorKind::unreadable};
  // Let our own check speak, not the library's abort: its header limits are lower than some real panoramas.
  auto input = OIIO::ImageInput::open(file.string());
  if (!input) {
    const std::string ignored = OIIO::geterror();
    return unreadable(
        file, words("it is damaged or not a JPEG, PNG, TIFF, EXR or HDR file. Export it again and retry."));
  }
  Opened opened{std::move(input), {}};
  opened.spec = opened.input->spec();
  if (const Outcome fits = checkClaim(file, opened.spec, std::min(opened.spec.nchannels, 4)); !fits)
    return fits.error();
  return opened;
}

template <typename T>
constexpr OIIO::TypeDesc::BASETYPE baseTypeOf = std::is_same_v<T, uint8_t>    ? OIIO::TypeDesc::UINT8
                                                : std::is_same_v<T, uint16_t> ? OIIO::TypeDesc::UINT16
                                                                              : OIIO::TypeDesc::FLOAT;

/// The first channels of a picture, values of one type.
template <typename T>
Result<std::vector<T>> readValues(const std::filesystem::path& file, Opened& opened, int subimage,
                                  int channels, Progress* progress = nullptr) {
  std::vector<T> values(size_t(opened.spec.width) * size_t(opened.spec.height) * size_t(channels));
  const auto report = [](void* to, float portion) {
    auto* p = static_cast<Progress*>(to);
    p->report(portion);
    return p->cancelled();
  };
  const OIIO::TypeDesc type(baseTypeOf<T>);
  const bool read =
      progress ? opened.input->read_image(subimage, 0, 0, channels, type, values.data(), OIIO::AutoStride,
                                          OIIO::AutoStride, OIIO::AutoStride, report, progress)
               : opened.input->read_image(subimage, 0, 0, channels, type, values.data());
  if (progress && progress->cancelled()) {
    const std::string ignored = opened.input->geterror();
    return cancelledError();
  }
  if (!read || opened.input->has_error()) {
    const std::string ignored = opened.input->geterror();
    return unreadable(file,
                      words("the file ends too early or is damaged. Copy or export it again and retry."));
  }
  return values;
}

Result<Picture> readPixels(const std::filesystem::path& file, Opened& opened, int subimage, int channels,
                           Progress* progress = nullptr) {
  auto values = readValues<float>(file, opened, subimage, channels, progress);
  if (!values) return values.error();
  Picture picture;
  picture.width = opened.spec.width, picture.height = opened.spec.height;
  for (int c = 0; c < channels; ++c) picture.channels.push_back(opened.spec.channel_name(c));
  picture.pixels = std::move(*values);
  return picture;
}

/// Colour or grey: an alpha beside them is not wanted.
int colourChannels(const OIIO::ImageSpec& spec) { return spec.nchannels >= 3 ? 3 : 1; }

/// R, G, B of every pixel, turned upright by the EXIF orientation (1 to 8).
template <typename T>
PackedPicture packed(int w, int h, std::vector<T> values, int channels, int orientation) {
  if (channels == 3 && orientation <= 1) return {w, h, std::move(values)};
  const bool sideways = orientation >= 5;
  PackedPicture out(sideways ? h : w, sideways ? w : h, std::vector<T>(size_t(w) * size_t(h) * 3));
  std::vector<T>& to = std::get<std::vector<T>>(out.values);
  const bool right = orientation == 2 || orientation == 3 || orientation == 7 || orientation == 8,
             bottom = orientation == 3 || orientation == 4 || orientation == 6 || orientation == 7;
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      const int u = sideways ? y : x, v = sideways ? x : y;
      const T* from = &values[(size_t(bottom ? h - 1 - v : v) * size_t(w) + size_t(right ? w - 1 - u : u)) *
                              size_t(channels)];
      for (int c = 0; c < 3; ++c)
        to[(size_t(y) * size_t(out.width) + size_t(x)) * 3 + size_t(c)] = from[channels == 3 ? c : 0];
    }
  return out;
}

/// Makes a grey picture three-channel.
Picture asRgb(Picture picture) {
  if (picture.channelCount() == 3) {
    picture.channels = {"R", "G", "B"};
    return picture;
  }
  Picture rgb = Picture::rgb(picture.width, picture.height);
  for (size_t i = 0; i < picture.pixels.size(); ++i) std::fill_n(&rgb.pixels[i * 3], 3, picture.pixels[i]);
  return rgb;
}

/// A stray NaN or infinity would poison every sum that touches it: NaN becomes nothing, and what is brighter
/// than can be written (a sun in halves) the brightest there is.
void makeFinite(std::vector<float>& values) {
  float most = 0;
  for (const float v : values)
    if (std::isfinite(v)) most = std::max(most, std::abs(v));
  for (float& v : values)
    if (!std::isfinite(v)) v = std::isnan(v) ? 0.0f : std::copysign(most, v);
}

bool isFloating(const OIIO::ImageSpec& spec) { return spec.format.is_floating_point(); }

}  // namespace

namespace {

template <typename T>
Result<PackedPicture> readPacked(const std::filesystem::path& file, Opened& opened, int orientation) {
  const int channels = colourChannels(opened.spec);
  auto values = readValues<T>(file, opened, 0, channels);
  if (!values) return values.error();
  if constexpr (std::is_same_v<T, float>)
    if (isFloating(opened.spec)) {
      makeFinite(*values);
      if (const FileColours colours(opened.spec); channels == 3 && !colours.areOurs())
        colours.toOurs(values->data(), values->size() / 3);
    }
  return packed(opened.spec.width, opened.spec.height, std::move(*values), channels, orientation);
}

}  // namespace

Result<Photo> readPhoto(const std::filesystem::path& file) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  const OIIO::ImageSpec spec = opened->spec;
  const bool bytes = spec.format.basetype == OIIO::TypeDesc::UINT8,
             sixteen = spec.format.basetype == OIIO::TypeDesc::UINT16;
  const int orientation = readOrientation(file);
  auto picture = bytes     ? readPacked<uint8_t>(file, *opened, orientation)
                 : sixteen ? readPacked<uint16_t>(file, *opened, orientation)
                           : readPacked<float>(file, *opened, orientation);
  if (!picture) return picture.error();
  Photo photo;
  photo.picture = std::move(*picture);
  photo.sceneLinear = isFloating(spec);
  photo.bitsPerChannel = int(spec.format.size()) * 8;
  photo.info = readExif(file);
  // Turned upright, blocks would begin elsewhere.
  if (bytes && orientation <= 1) photo.blocks = readJpegBlocks(file);
  if (const auto icc = embeddedProfile(spec); !icc.empty()) {
    auto name = convertToSrgb(photo.picture, icc);
    photo.info.profile = name ? *name : words("unusable profile, read as sRGB");
  }
  return photo;
}

Result<Picture> readLight(const std::filesystem::path& file, Progress* progress) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  auto pixels = readPixels(file, *opened, 0, colourChannels(opened->spec), progress);
  if (!pixels) return pixels.error();
  Picture picture = asRgb(std::move(*pixels));
  makeFinite(picture.pixels);
  if (const FileColours colours(opened->spec); !colours.areOurs())
    colours.toOurs(picture.pixels.data(), picture.pixels.size() / 3);
  if (!isFloating(opened->spec))
    for (float& v : picture.pixels) v = srgbDecoded(v);
  for (float& v : picture.pixels) v = std::max(v, 0.0f);
  return picture;
}

Result<std::vector<std::string>> exrParts(const std::filesystem::path& file) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  std::vector<std::string> names;
  for (int i = 0; opened->input->seek_subimage(i, 0); ++i)
    names.push_back(opened->input->spec().get_string_attribute("name", std::to_string(i)));
  const std::string ignored = opened->input->geterror();
  return names;
}

Result<Picture> readExrPart(const std::filesystem::path& file, const std::string& part) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  for (int i = 0; opened->input->seek_subimage(i, 0); ++i) {
    opened->spec = opened->input->spec();
    if (opened->spec.get_string_attribute("name") != part) continue;
    if (const Outcome fits = checkClaim(file, opened->spec, opened->spec.nchannels); !fits)
      return fits.error();
    return readPixels(file, *opened, i, opened->spec.nchannels);
  }
  const std::string ignored = opened->input->geterror();
  return unreadable(file, words("it has no part named ") + part + ".");
}

Result<PictureHeader> readPictureHeader(const std::filesystem::path& file) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  return PictureHeader{opened->spec.width, opened->spec.height, opened->spec.nchannels,
                       opened->input->format_name(), readExif(file)};
}

}  // namespace dusk
