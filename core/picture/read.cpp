#include "core/picture/read.h"

#include <OpenImageIO/imagebuf.h>
#include <OpenImageIO/imagebufalgo.h>
#include <OpenImageIO/imageio.h>

#include "core/base/srgb.h"
#include "core/picture/exif.h"
#include "core/picture/icc.h"

namespace dusk {
namespace {

Error unreadable(const std::filesystem::path& file, const std::string& why) {
  return {"Cannot read " + file.string() + " as a picture: " + why, ErrorKind::unreadable};
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
  return unreadable(file, "its header claims " + std::to_string(spec.width) + " x " +
                              std::to_string(spec.height) + " pixels of " + std::to_string(spec.nchannels) +
                              " channels, more than fits. Check the file, or make it smaller.");
}

Result<Opened> openChecked(const std::filesystem::path& file) {
  std::error_code code;
  if (!std::filesystem::is_regular_file(file, code))
    return Error{"Cannot open " + file.string() + ". Check that it is still there and readable.",
                 ErrorKind::unreadable};
  // Let our own check speak, not the library's abort: its header limits are lower than some real panoramas.
  auto input = OIIO::ImageInput::open(file.string());
  if (!input) {
    const std::string ignored = OIIO::geterror();
    return unreadable(file,
                      "it is damaged or not a JPEG, PNG, TIFF, EXR or HDR file. Export it again and retry.");
  }
  Opened opened{std::move(input), {}};
  opened.spec = opened.input->spec();
  if (const Outcome fits = checkClaim(file, opened.spec, std::min(opened.spec.nchannels, 4)); !fits)
    return fits.error();
  return opened;
}

Result<Picture> readPixels(const std::filesystem::path& file, Opened& opened, int subimage, int channels,
                           Progress* progress = nullptr) {
  Picture picture(opened.spec.width, opened.spec.height, {});
  for (int c = 0; c < channels; ++c) picture.channels.push_back(opened.spec.channel_name(c));
  picture.pixels.resize(size_t(picture.width) * picture.height * channels);
  const auto report = [](void* to, float portion) {
    auto* p = static_cast<Progress*>(to);
    p->report(portion);
    return p->cancelled();
  };
  const bool read =
      progress
          ? opened.input->read_image(subimage, 0, 0, channels, OIIO::TypeFloat, picture.pixels.data(),
                                     OIIO::AutoStride, OIIO::AutoStride, OIIO::AutoStride, report, progress)
          : opened.input->read_image(subimage, 0, 0, channels, OIIO::TypeFloat, picture.pixels.data());
  if (progress && progress->cancelled()) {
    const std::string ignored = opened.input->geterror();
    return cancelledError();
  }
  if (!read || opened.input->has_error()) {
    const std::string ignored = opened.input->geterror();
    return unreadable(file, "the file ends too early or is damaged. Copy or export it again and retry.");
  }
  return picture;
}

/// Makes one- and two-channel pictures three-channel.
Picture asRgb(Picture picture) {
  const int n = picture.channelCount();
  if (n == 3) {
    picture.channels = {"R", "G", "B"};
    return picture;
  }
  Picture rgb = Picture::rgb(picture.width, picture.height);
  for (size_t i = 0, pixels = size_t(rgb.width) * rgb.height; i < pixels; ++i)
    for (int c = 0; c < 3; ++c) rgb.pixels[i * 3 + c] = picture.pixels[i * n + (n >= 3 ? c : 0)];
  return rgb;
}

Picture upright(Picture picture, int orientation) {
  if (orientation <= 1) return picture;
  OIIO::ImageBuf buffer(OIIO::ImageSpec(picture.width, picture.height, 3, OIIO::TypeFloat),
                        picture.pixels.data());
  buffer.specmod().attribute("Orientation", orientation);
  const OIIO::ImageBuf turned = OIIO::ImageBufAlgo::reorient(buffer);
  Picture result = Picture::rgb(turned.spec().width, turned.spec().height);
  turned.get_pixels(OIIO::ROI::All(), OIIO::TypeFloat, result.pixels.data());
  return result;
}

/// A stray NaN or infinity would poison every sum that touches it: NaN becomes nothing, and what is brighter
/// than can be written (a sun in halves) the brightest there is.
void makeFinite(Picture& picture) {
  float most = 0;
  for (const float v : picture.pixels)
    if (std::isfinite(v)) most = std::max(most, std::abs(v));
  for (float& v : picture.pixels)
    if (!std::isfinite(v)) v = std::isnan(v) ? 0.0f : std::copysign(most, v);
}

bool isFloating(const OIIO::ImageSpec& spec) { return spec.format.is_floating_point(); }

}  // namespace

Result<Photo> readPhoto(const std::filesystem::path& file) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  const OIIO::ImageSpec spec = opened->spec;
  auto pixels = readPixels(file, *opened, 0, std::min(spec.nchannels, 4));
  if (!pixels) return pixels.error();
  Photo photo;
  photo.picture = asRgb(std::move(*pixels));
  photo.sceneLinear = isFloating(spec);
  if (photo.sceneLinear) makeFinite(photo.picture);
  photo.bitsPerChannel = int(spec.format.size()) * 8;
  photo.info = readExif(file);
  const auto* icc = spec.find_attribute("ICCProfile");
  if (!photo.sceneLinear && icc && icc->type().basetype == OIIO::TypeDesc::UINT8) {
    auto name = convertToSrgb(photo.picture,
                              {static_cast<const std::byte*>(icc->data()), size_t(icc->type().size())});
    photo.info.profile = name ? *name : "unusable profile, read as sRGB";
  }
  photo.picture = upright(std::move(photo.picture), readOrientation(file));
  return photo;
}

Result<Picture> readLight(const std::filesystem::path& file, Progress* progress) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  auto pixels = readPixels(file, *opened, 0, std::min(opened->spec.nchannels, 4), progress);
  if (!pixels) return pixels.error();
  Picture picture = asRgb(std::move(*pixels));
  if (!isFloating(opened->spec))
    for (float& v : picture.pixels) v = srgbDecoded(v);
  makeFinite(picture);
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
  return unreadable(file, "it has no part named " + part + ".");
}

Result<PictureHeader> readPictureHeader(const std::filesystem::path& file) {
  auto opened = openChecked(file);
  if (!opened) return opened.error();
  return PictureHeader{opened->spec.width, opened->spec.height, opened->spec.nchannels,
                       opened->input->format_name(), readExif(file)};
}

}  // namespace dusk
