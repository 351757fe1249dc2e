#include "core/deliver/film_read.h"

#include "core/base/words.h"
#include "core/deliver/ffmpeg_owned.h"
#include "core/product/formats.h"

extern "C" {
#include <libavutil/display.h>
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
  if ((code = av_find_best_stream(in, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0)) < 0) return noFilm(file, code);
  if (in->streams[code]->codecpar->width <= 0) return noFilm(file, AVERROR_STREAM_NOT_FOUND);
  // Sound and titles are of no interest.
  for (unsigned i = 0; i < in->nb_streams; ++i)
    in->streams[i]->discard = int(i) == code ? AVDISCARD_DEFAULT : AVDISCARD_ALL;
  return input;
}

const AVStream& pictures(const FilmInput& in) {
  unsigned i = 0;
  while (in->streams[i]->discard == AVDISCARD_ALL) ++i;
  return *in->streams[i];
}

/// Quarter turns, clockwise, that bring its pictures upright: whoever holds a camera upright films sideways.
int quarterTurns(const AVStream& stream) {
  const auto* matrix =
      reinterpret_cast<const int32_t*>(av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr));
  const double left = matrix ? av_display_rotation_get(matrix) : 0;
  return std::isfinite(left) ? ((int(std::lround(-left / 90)) % 4) + 4) % 4 : 0;
}

Picture turned(const Picture& p, int quarters) {
  if (quarters == 0) return p;
  const bool sideways = quarters % 2 == 1;
  Picture to(sideways ? p.height : p.width, sideways ? p.width : p.height, p.channels);
  for (int y = 0; y < p.height; ++y)
    for (int x = 0; x < p.width; ++x) {
      const int right = p.width - 1 - x, below = p.height - 1 - y;
      float* at = quarters == 1 ? to.at(below, x) : quarters == 2 ? to.at(right, below) : to.at(y, right);
      std::copy_n(p.at(x, y), p.channels.size(), at);
    }
  return to;
}

Picture codesOf(const AVFrame& frame) {
  std::vector<uint8_t> rgb(size_t(frame.width) * size_t(frame.height) * 3 + 64);
  SwsContext* scaler = sws_getContext(
      frame.width, frame.height, AVPixelFormat(frame.format), frame.width, frame.height, AV_PIX_FMT_RGB24,
      SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT, nullptr, nullptr, nullptr);
  Picture picture = Picture::rgb(frame.width, frame.height);
  if (!scaler) return picture;
  // What says nothing is as players take it: Rec.709's from 720 rows on, Rec.601's below.
  const bool saysNone = frame.colorspace == AVCOL_SPC_UNSPECIFIED;
  const int* matrix = sws_getCoefficients(
      frame.colorspace == AVCOL_SPC_BT2020_NCL                                   ? SWS_CS_BT2020
      : frame.colorspace == AVCOL_SPC_BT709 || (saysNone && frame.height >= 720) ? SWS_CS_ITU709
                                                                                 : SWS_CS_ITU601);
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
  const AVStream& s = pictures(*in);
  const AVCodecParameters& p = *s.codecpar;
  FilmFacts facts;
  facts.width = p.width, facts.height = p.height, facts.picturesPerSecond = av_q2d(s.avg_frame_rate);
  if (quarterTurns(s) % 2 == 1) std::swap(facts.width, facts.height);
  facts.codec = avcodec_get_name(p.codec_id);
  const auto name = [](const char* text) { return std::string(text ? text : ""); };
  facts.primaries = name(av_color_primaries_name(p.color_primaries));
  facts.transfer = name(av_color_transfer_name(p.color_trc));
  facts.matrix = name(av_color_space_name(p.color_space));
  const FilmPacket packet(av_packet_alloc());
  while (av_read_frame(in->get(), packet.get()) >= 0) {
    facts.pictures += packet->stream_index == s.index;
    av_packet_unref(packet.get());
  }
  return facts;
}

Outcome eachFilmPicture(const std::filesystem::path& file, const std::function<bool(Picture&&)>& take) {
  auto in = opened(file);
  if (!in) return in.error();
  const AVStream& stream = pictures(*in);
  const AVCodec* codec = avcodec_find_decoder(stream.codecpar->codec_id);
  if (!codec) return noFilm(file, AVERROR_DECODER_NOT_FOUND);
  const FilmCoder coder(avcodec_alloc_context3(codec));
  int code = avcodec_parameters_to_context(coder.get(), stream.codecpar);
  if (code >= 0) code = avcodec_open2(coder.get(), codec, nullptr);
  if (code < 0) return noFilm(file, code);
  const int quarters = quarterTurns(stream);
  const FilmPacket packet(av_packet_alloc());
  const FilmFrame frame(av_frame_alloc());
  bool any = false;
  for (bool more = true; more;) {
    more = av_read_frame(in->get(), packet.get()) >= 0;
    if (more && packet->stream_index != stream.index) {
      av_packet_unref(packet.get());
      continue;
    }
    code = avcodec_send_packet(coder.get(), more ? packet.get() : nullptr);
    av_packet_unref(packet.get());
    // A damaged piece is passed over, as players do; a film of nothing else is none.
    if (code < 0 && code != AVERROR_INVALIDDATA) return noFilm(file, code);
    while (avcodec_receive_frame(coder.get(), frame.get()) >= 0) {
      any = true;
      if (!take(turned(codesOf(*frame), quarters))) return done();
    }
  }
  return any ? done() : Outcome(noFilm(file, AVERROR_INVALIDDATA));
}

Result<Picture> readFilmPicture(const std::filesystem::path& file, int wanted) {
  Picture last;
  int seen = 0;
  const Outcome read = eachFilmPicture(file, [&](Picture&& picture) {
    last = std::move(picture);
    return ++seen <= wanted;
  });
  if (!read) return read.error();
  return last;
}

const std::vector<std::string>& filmEndings() {
  static const std::vector<std::string> all{".mp4", ".webm", ".mov", ".m4v", ".mkv", ".avi", ".mts"};
  return all;
}

bool isFilmFile(const std::filesystem::path& file) {
  const auto& all = filmEndings();
  return std::find(all.begin(), all.end(), endingOf(file)) != all.end();
}

}  // namespace dusk
