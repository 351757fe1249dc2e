#include "core/picture/web_pictures.h"

#include <libheif/heif.h>
#include <webp/encode.h>

#include "core/base/files.h"
#include "core/base/words.h"
#include "core/picture/exr_writer.h"
#include "core/picture/icc.h"
#include "core/picture/tags.h"

namespace dusk {
namespace {

template <auto release>
struct Release {
  template <typename T>
  void operator()(T* held) const {
    release(held);
  }
};
template <typename T, auto release>
using Owned = std::unique_ptr<T, Release<release>>;

/// Calls one after the other until one fails.
struct Steps {
  heif_error error{heif_error_Ok, heif_suberror_Unspecified, "done"};
  bool ok() const { return error.code == heif_error_Ok; }
  template <typename Call>
  void then(const Call& call) {
    if (ok()) error = call();
  }
};

/// sRGB by the numbers of ITU-T H.273, in full range. `lossless`: as R, G, B; else as brightness and colour.
Owned<heif_color_profile_nclx, heif_nclx_color_profile_free> srgbNumbers(bool lossless) {
  Owned<heif_color_profile_nclx, heif_nclx_color_profile_free> numbers(heif_nclx_color_profile_alloc());
  numbers->color_primaries = heif_color_primaries_ITU_R_BT_709_5;
  numbers->transfer_characteristics = heif_transfer_characteristic_IEC_61966_2_1;
  numbers->matrix_coefficients =
      lossless ? heif_matrix_coefficients_RGB_GBR : heif_matrix_coefficients_ITU_R_BT_601_6;
  numbers->full_range_flag = 1;
  return numbers;
}

}  // namespace

Outcome writeAvif(const std::filesystem::path& file, const PictureFileKind& kind,
                  const std::vector<char>& rows) {
  const Owned<heif_context, heif_context_free> context(heif_context_alloc());
  heif_encoder* madeEncoder = nullptr;
  heif_image* madeImage = nullptr;
  heif_image_handle* madeHandle = nullptr;
  const int channels = kind.hasAlpha ? 4 : 3;
  Steps steps;
  steps.then(
      [&] { return heif_context_get_encoder_for_format(context.get(), heif_compression_AV1, &madeEncoder); });
  const Owned<heif_encoder, heif_encoder_release> encoder(madeEncoder);
  steps.then([&] {
    return heif_image_create(kind.width, kind.height, heif_colorspace_RGB,
                             kind.hasAlpha ? heif_chroma_interleaved_RGBA : heif_chroma_interleaved_RGB,
                             &madeImage);
  });
  const Owned<heif_image, heif_image_release> image(madeImage);
  steps.then([&] {
    return heif_image_add_plane(image.get(), heif_channel_interleaved, kind.width, kind.height, 8);
  });
  if (steps.ok()) {
    int stride = 0;
    uint8_t* to = heif_image_get_plane(image.get(), heif_channel_interleaved, &stride);
    const size_t bytes = size_t(kind.width) * size_t(channels);
    for (int y = 0; y < kind.height; ++y)
      std::copy_n(rows.data() + size_t(y) * bytes, bytes, to + size_t(y) * size_t(stride));
    heif_image_set_premultiplied_alpha(image.get(), kind.hasAlpha && kind.premultiplied);
  }
  const bool lossless = kind.quality >= 100;
  const auto numbers = srgbNumbers(lossless);
  if (kind.isSrgb) {
    const auto profile = srgbProfile();
    steps.then([&] { return heif_image_set_nclx_color_profile(image.get(), numbers.get()); });
    steps.then([&] {
      return heif_image_set_raw_color_profile(image.get(), "prof", profile.data(), profile.size());
    });
  }
  steps.then([&] { return heif_encoder_set_lossy_quality(encoder.get(), int(std::lround(kind.quality))); });
  steps.then([&] { return heif_encoder_set_lossless(encoder.get(), lossless); });
  steps.then([&] {
    return heif_encoder_set_parameter_string(encoder.get(), "chroma", kind.quality >= 85 ? "444" : "420");
  });
  const Owned<heif_encoding_options, heif_encoding_options_free> options(heif_encoding_options_alloc());
  options->save_two_colr_boxes_when_ICC_and_nclx_available = 1;
  if (kind.isSrgb || lossless) options->output_nclx_profile = numbers.get();
  steps.then([&] {
    return heif_context_encode_image(context.get(), image.get(), encoder.get(), options.get(), &madeHandle);
  });
  const Owned<heif_image_handle, heif_image_handle_release> handle(madeHandle);
  if (kind.tags) {
    const EncodedTags tags = encoded(*kind.tags, kind.width, kind.height);
    steps.then([&] {
      return heif_context_add_exif_metadata(context.get(), handle.get(), tags.exif.data(),
                                            int(tags.exif.size()));
    });
    steps.then([&] {
      return heif_context_add_XMP_metadata(context.get(), handle.get(), tags.xmp.data(),
                                           int(tags.xmp.size()));
    });
  }
  steps.then([&] { return heif_context_write_to_file(context.get(), file.c_str()); });
  return steps.ok() ? done() : Outcome(pictureNotWritten(file, steps.error.message));
}

Outcome writeLosslessWebp(const std::filesystem::path& file, const PictureFileKind& kind,
                          const std::vector<char>& rows) {
  const auto* from = reinterpret_cast<const uint8_t*>(rows.data());
  uint8_t* made = nullptr;
  const size_t bytes = kind.hasAlpha
                           ? WebPEncodeLosslessRGBA(from, kind.width, kind.height, 4 * kind.width, &made)
                           : WebPEncodeLosslessRGB(from, kind.width, kind.height, 3 * kind.width, &made);
  const std::string text(reinterpret_cast<const char*>(made), bytes);
  WebPFree(made);
  if (text.empty())
    return pictureNotWritten(file,
                             words("WebP holds no more than 16,383 pixels each way, or memory is short"));
  return writeFileAtomically(file, text);
}

}  // namespace dusk
