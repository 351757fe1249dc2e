#include "core/deliver/film_file.h"

#include <OpenImageIO/imageio.h>
#include <unistd.h>

#include <cmath>

#include "core/base/words.h"
#include "core/deliver/ffmpeg_owned.h"
#include "core/project/deliverable_kinds.h"

extern "C" {
#include <libavutil/opt.h>
}

namespace dusk {
namespace {
namespace fs = std::filesystem;

/// 8 bits a channel, straight alpha.
struct Codes {
  int width = 0, height = 0;
  std::vector<uint8_t> rgba;
};
Result<Codes> readCodes(const fs::path& file) {
  const auto in = OIIO::ImageInput::open(file.string());
  if (!in)
    return Error{words("A picture of the film cannot be read: ") + file.string() + ". " + OIIO::geterror() +
                 words(" Trace it again by handing the film over again.")};
  const OIIO::ImageSpec& spec = in->spec();
  Codes codes{spec.width, spec.height,
              std::vector<uint8_t>(size_t(spec.width) * size_t(spec.height) * 4, 255)};
  const int channels = std::min(spec.nchannels, 4);
  if (channels < 3 || !in->read_image(0, 0, 0, channels, OIIO::TypeDesc::UINT8, codes.rgba.data(), 4))
    return Error{words("A picture of the film is broken: ") + file.string() +
                 words(". Hand the film over again.")};
  return codes;
}

Error otherSize(const fs::path& picture, const FilmFormat& f) {
  return {picture.string() + words(" is not of the film's size, ") + std::to_string(f.width) + " × " +
          std::to_string(f.height) + words(". Hand the film over again.")};
}

/// A file that gets its name at the end.
class Unfinished {
 public:
  explicit Unfinished(fs::path file)
      : file_(std::move(file)), going_(file_.string() + "." + std::to_string(getpid()) + ".going") {}
  ~Unfinished() {
    std::error_code code;
    if (!named_) fs::remove(going_, code);
  }
  const fs::path& going() const { return going_; }
  const fs::path& file() const { return file_; }
  Outcome finish() {
    std::error_code code;
    fs::rename(going_, file_, code);
    named_ = !code;
    return named_ ? done() : Error{file_.string() + words(" could not be written: ") + code.message() + "."};
  }

 private:
  fs::path file_, going_;
  bool named_ = false;
};

class GifWriter final : public FilmWriter {
 public:
  GifWriter(const fs::path& file, const FilmFormat& format) : file_(file), format_(format) {}
  Outcome begin() {
    out_ = OIIO::ImageOutput::create("gif");
    return out_ ? done() : Error{words("GIF cannot be written here: ") + OIIO::geterror()};
  }
  Outcome add(const fs::path& picture) override {
    auto codes = readCodes(picture);
    if (!codes) return codes.error();
    if (codes->width != format_.width || codes->height != format_.height) return otherSize(picture, format_);
    OIIO::ImageSpec spec(format_.width, format_.height, 4, OIIO::TypeDesc::UINT8);
    // Its clock ticks a hundred times a second: pictures last as many ticks as keep them at their time.
    const auto tick = [&](int n) { return std::lround(100.0 * n / format_.picturesPerSecond); };
    const int rate[2] = {100, int(std::max(1L, tick(count_ + 1) - tick(count_)))};
    spec.attribute("FramesPerSecond", OIIO::TypeRational, rate);
    if (!format_.playsOn) spec.attribute("gif:LoopCount", 1);
    const auto mode = count_ ? OIIO::ImageOutput::AppendSubimage : OIIO::ImageOutput::Create;
    if (!out_->open(file_.going().string(), spec, mode) ||
        !out_->write_image(OIIO::TypeDesc::UINT8, codes->rgba.data()))
      return Error{file_.file().string() + words(" could not be written: ") + out_->geterror()};
    ++count_;
    return done();
  }
  Outcome close() override {
    if (!out_->close())
      return Error{file_.file().string() + words(" could not be written: ") + out_->geterror()};
    return file_.finish();
  }
  std::pair<int, int> size() const override { return {format_.width, format_.height}; }

 private:
  Unfinished file_;
  FilmFormat format_;
  std::unique_ptr<OIIO::ImageOutput> out_;
  int count_ = 0;
};

/// What the library is told of a kind.
struct Coding {
  const char *muxer, *encoder;
  AVPixelFormat plain, withAlpha;
  bool even;  ///< takes even sizes alone
};
Coding codingOf(DeliverableKind kind) {
  if (kind == DeliverableKind::webm)
    return {"webm", "libvpx-vp9", AV_PIX_FMT_YUV420P, AV_PIX_FMT_YUVA420P, true};
  if (kind == DeliverableKind::webpLoop)
    return {"webp", "libwebp_anim", AV_PIX_FMT_BGRA, AV_PIX_FMT_BGRA, false};
  return {"mp4", "libx264", AV_PIX_FMT_YUV420P, AV_PIX_FMT_YUV420P, true};
}

class VideoWriter final : public FilmWriter {
 public:
  VideoWriter(const fs::path& file, const FilmFormat& format)
      : file_(file), format_(format), coding_(codingOf(format.kind)) {
    width_ = coding_.even ? format.width / 2 * 2 : format.width;
    height_ = coding_.even ? format.height / 2 * 2 : format.height;
  }
  ~VideoWriter() override {
    sws_freeContext(scaler_);
    if (container_) {
      avio_closep(&container_->pb);
      avformat_free_context(container_);
    }
  }

  Outcome begin() {
    av_log_set_level(AV_LOG_QUIET);
    const AVCodec* codec = avcodec_find_encoder_by_name(coding_.encoder);
    if (!codec)
      return Error{words("This machine's FFmpeg cannot write ") +
                   std::string(words(infoOf(format_.kind).title)) + words(" (it has no ") + coding_.encoder +
                   words("). Choose another kind of film.")};
    coder_.reset(avcodec_alloc_context3(codec));
    AVCodecContext& c = *coder_;
    c.width = width_, c.height = height_;
    c.time_base = {1, format_.picturesPerSecond}, c.framerate = {format_.picturesPerSecond, 1};
    c.pix_fmt = format_.alpha ? coding_.withAlpha : coding_.plain;
    c.gop_size = std::max(1, format_.picturesPerSecond), c.thread_count = 2;
    c.flags |= AV_CODEC_FLAG_BITEXACT;
    const bool isYuv = c.pix_fmt != AV_PIX_FMT_BGRA;
    c.color_primaries = AVCOL_PRI_BT709, c.color_trc = AVCOL_TRC_IEC61966_2_1;
    c.colorspace = isYuv ? AVCOL_SPC_BT709 : AVCOL_SPC_RGB;
    c.color_range = isYuv ? AVCOL_RANGE_MPEG : AVCOL_RANGE_JPEG;
    setQuality();
    int code = avformat_alloc_output_context2(&container_, nullptr, coding_.muxer, file_.going().c_str());
    if (code < 0) return refused(code);
    if (container_->oformat->flags & AVFMT_GLOBALHEADER) c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    container_->flags |= AVFMT_FLAG_BITEXACT;
    if ((code = avcodec_open2(&c, codec, nullptr)) < 0) return refused(code);
    stream_ = avformat_new_stream(container_, nullptr);
    if (!stream_ || (code = avcodec_parameters_from_context(stream_->codecpar, &c)) < 0) return refused(code);
    stream_->time_base = c.time_base, stream_->avg_frame_rate = c.framerate;
    if ((code = avio_open(&container_->pb, file_.going().c_str(), AVIO_FLAG_WRITE)) < 0) return refused(code);
    AVDictionary* options = nullptr;
    if (format_.kind == DeliverableKind::mp4) av_dict_set(&options, "movflags", "+faststart", 0);
    if (format_.kind == DeliverableKind::webpLoop)
      av_dict_set(&options, "loop", format_.playsOn ? "0" : "1", 0);
    code = avformat_write_header(container_, &options);
    av_dict_free(&options);
    if (code < 0) return refused(code);
    return makeFrame();
  }

  Outcome add(const fs::path& picture) override {
    auto codes = readCodes(picture);
    if (!codes) return codes.error();
    if (codes->width != format_.width || codes->height != format_.height) return otherSize(picture, format_);
    if (const int code = av_frame_make_writable(frame_.get()); code < 0) return refused(code);
    const uint8_t* from[4] = {codes->rgba.data()};
    const int stride[4] = {format_.width * 4};
    sws_scale(scaler_, from, stride, 0, height_, frame_->data, frame_->linesize);
    frame_->pts = count_++;
    return send(frame_.get());
  }
  Outcome close() override {
    if (const Outcome last = send(nullptr); !last) return last;
    if (const int code = av_write_trailer(container_); code < 0) return refused(code);
    if (const int code = avio_closep(&container_->pb); code < 0) return refused(code);
    return file_.finish();
  }
  std::pair<int, int> size() const override { return {width_, height_}; }

 private:
  void setQuality() {
    const double off = 100 - format_.quality;
    void* own = coder_->priv_data;
    if (format_.kind == DeliverableKind::webpLoop) {
      av_opt_set_double(own, "quality", format_.quality, 0);
      return;
    }
    // 92 is about what the eye cannot tell from the pictures.
    const int crf =
        std::clamp(int(std::lround(10 + 0.5 * off)), 0, format_.kind == DeliverableKind::webm ? 63 : 51);
    av_opt_set_double(own, "crf", crf, 0);
    if (format_.kind == DeliverableKind::mp4) {
      av_opt_set(own, "preset", "medium", 0);
    } else {
      coder_->bit_rate = 0;
      av_opt_set_int(own, "cpu-used", 3, 0);
      // Pictures to come cannot be kept back where each has its own alpha.
      if (format_.alpha) av_opt_set_int(own, "auto-alt-ref", 0, 0);
    }
  }
  Outcome makeFrame() {
    frame_.reset(av_frame_alloc()), packet_.reset(av_packet_alloc());
    AVFrame& f = *frame_;
    f.format = coder_->pix_fmt, f.width = width_, f.height = height_;
    f.color_primaries = coder_->color_primaries, f.color_trc = coder_->color_trc;
    f.colorspace = coder_->colorspace, f.color_range = coder_->color_range;
    if (const int code = av_frame_get_buffer(&f, 0); code < 0) return refused(code);
    scaler_ = sws_getContext(width_, height_, AV_PIX_FMT_RGBA, width_, height_, coder_->pix_fmt,
                             SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INP | SWS_BITEXACT, nullptr,
                             nullptr, nullptr);
    if (!scaler_) return refused(AVERROR(EINVAL));
    const int* matrix = sws_getCoefficients(SWS_CS_ITU709);
    sws_setColorspaceDetails(scaler_, matrix, 1, matrix, coder_->color_range == AVCOL_RANGE_JPEG, 0, 1 << 16,
                             1 << 16);
    return done();
  }
  /// Nothing: what is kept back comes out.
  Outcome send(const AVFrame* frame) {
    int code = avcodec_send_frame(coder_.get(), frame);
    while (code >= 0) {
      code = avcodec_receive_packet(coder_.get(), packet_.get());
      if (code == AVERROR(EAGAIN) || code == AVERROR_EOF) return done();
      if (code < 0) break;
      if (packet_->duration == 0) packet_->duration = 1;
      av_packet_rescale_ts(packet_.get(), coder_->time_base, stream_->time_base);
      packet_->stream_index = stream_->index;
      code = av_interleaved_write_frame(container_, packet_.get());
    }
    return refused(code);
  }
  Error refused(int code) const {
    return {words("The film ") + file_.file().string() + ", " + std::to_string(width_) + " × " +
            std::to_string(height_) + words(", could not be written as ") +
            words(infoOf(format_.kind).title) + ": " + ffmpegSays(code) +
            words(". Try another size or kind.")};
  }

  Unfinished file_;
  FilmFormat format_;
  Coding coding_;
  int width_ = 0, height_ = 0;
  FilmCoder coder_;
  FilmFrame frame_;
  FilmPacket packet_;
  AVFormatContext* container_ = nullptr;
  AVStream* stream_ = nullptr;
  SwsContext* scaler_ = nullptr;
  int64_t count_ = 0;
};

template <typename Writer>
Result<std::unique_ptr<FilmWriter>> begun(const fs::path& file, const FilmFormat& format) {
  auto writer = std::make_unique<Writer>(file, format);
  if (const Outcome ready = writer->begin(); !ready) return ready.error();
  return std::unique_ptr<FilmWriter>(std::move(writer));
}

}  // namespace

Result<std::unique_ptr<FilmWriter>> FilmWriter::open(const fs::path& file, const FilmFormat& format) {
  const DeliverableKindInfo& info = infoOf(format.kind);
  // What their headers can say.
  const int most =
      format.kind == DeliverableKind::mp4 || format.kind == DeliverableKind::webpLoop ? 16'383 : 65'535;
  if (format.width < 2 || format.height < 2 || format.width > most || format.height > most)
    return Error{std::string(words(info.title)) + words(" cannot be ") + std::to_string(format.width) +
                 " × " + std::to_string(format.height) + words(" large; it takes 2 to ") +
                 std::to_string(most) +
                 words(" pixels. Give the frame another size, or choose another kind.")};
  if (format.kind == DeliverableKind::gif) return begun<GifWriter>(file, format);
  return begun<VideoWriter>(file, format);
}

}  // namespace dusk
