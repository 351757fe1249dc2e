#include "core/deliver/film_read.h"

#include "core/base/words.h"
#include "core/deliver/ffmpeg_owned.h"

extern "C" {
#include <libavutil/pixdesc.h>
}

namespace dusk {
namespace {

Error noFilm(const std::filesystem::path& file, int code) {
  return {file.string() + words(" is no film that can be read: ") + ffmpegSays(code) + ".",
          ErrorKind::unreadable};
}

Result<FilmInput> opened(const std::filesystem::path& file) {
  av_log_set_level(AV_LOG_QUIET);
  AVFormatContext* in = nullptr;
  int code = avformat_open_input(&in, file.c_str(), nullptr, nullptr);
  if (code < 0) return noFilm(file, code);
  FilmInput input(in);
  if ((code = avformat_find_stream_info(in, nullptr)) < 0) return noFilm(file, code);
  if (in->nb_streams < 1 || in->streams[0]->codecpar->width <= 0)
    return noFilm(file, AVERROR_STREAM_NOT_FOUND);
  return input;
}

Picture codesOf(const AVFrame& frame) {
  std::vector<uint8_t> rgb(size_t(frame.width) * size_t(frame.height) * 3 + 64);
  SwsContext* scaler = sws_getContext(
      frame.width, frame.height, AVPixelFormat(frame.format), frame.width, frame.height, AV_PIX_FMT_RGB24,
      SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT, nullptr, nullptr, nullptr);
  Picture picture = Picture::rgb(frame.width, frame.height);
  if (!scaler) return picture;
  const int* matrix =
      sws_getCoefficients(frame.colorspace == AVCOL_SPC_BT709 ? SWS_CS_ITU709 : SWS_CS_DEFAULT);
  sws_setColorspaceDetails(scaler, matrix, frame.color_range == AVCOL_RANGE_JPEG, matrix, 1, 0, 1 << 16,
                           1 << 16);
  uint8_t* to[4] = {rgb.data()};
  const int stride[4] = {frame.width * 3};
  sws_scale(scaler, frame.data, frame.linesize, 0, frame.height, to, stride);
  sws_freeContext(scaler);
  for (size_t i = 0; i < picture.pixels.size(); ++i) picture.pixels[i] = float(rgb[i]) / 255;
  return picture;
}

}  // namespace

Result<FilmFacts> readFilm(const std::filesystem::path& file) {
  auto in = opened(file);
  if (!in) return in.error();
  const AVStream& s = *(*in)->streams[0];
  const AVCodecParameters& p = *s.codecpar;
  FilmFacts facts;
  facts.width = p.width, facts.height = p.height, facts.picturesPerSecond = av_q2d(s.avg_frame_rate);
  facts.codec = avcodec_get_name(p.codec_id);
  const auto name = [](const char* text) { return std::string(text ? text : ""); };
  facts.primaries = name(av_color_primaries_name(p.color_primaries));
  facts.transfer = name(av_color_transfer_name(p.color_trc));
  facts.matrix = name(av_color_space_name(p.color_space));
  const FilmPacket packet(av_packet_alloc());
  while (av_read_frame(in->get(), packet.get()) >= 0) {
    facts.pictures += packet->stream_index == 0;
    av_packet_unref(packet.get());
  }
  return facts;
}

Result<Picture> readFilmPicture(const std::filesystem::path& file, int wanted) {
  auto in = opened(file);
  if (!in) return in.error();
  const AVCodecParameters& p = *(*in)->streams[0]->codecpar;
  const AVCodec* codec = avcodec_find_decoder(p.codec_id);
  if (!codec) return noFilm(file, AVERROR_DECODER_NOT_FOUND);
  const FilmCoder coder(avcodec_alloc_context3(codec));
  int code = avcodec_parameters_to_context(coder.get(), &p);
  if (code >= 0) code = avcodec_open2(coder.get(), codec, nullptr);
  if (code < 0) return noFilm(file, code);
  const FilmPacket packet(av_packet_alloc());
  const FilmFrame frame(av_frame_alloc());
  Picture last;
  int seen = 0;
  for (bool more = true; more && seen <= wanted;) {
    more = av_read_frame(in->get(), packet.get()) >= 0;
    if (more && packet->stream_index != 0) {
      av_packet_unref(packet.get());
      continue;
    }
    if ((code = avcodec_send_packet(coder.get(), more ? packet.get() : nullptr)) < 0)
      return noFilm(file, code);
    av_packet_unref(packet.get());
    while (seen <= wanted && avcodec_receive_frame(coder.get(), frame.get()) >= 0)
      last = codesOf(*frame), ++seen;
  }
  if (last.empty()) return noFilm(file, AVERROR_INVALIDDATA);
  return last;
}

}  // namespace dusk
