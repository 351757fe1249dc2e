#pragma once
#include <memory>
#include <string>

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libswscale/swscale.h>
}

/// What FFmpeg's libraries give away to be freed, owned; and their errors in words.
namespace dusk {

template <auto free>
struct FreedBy {
  template <typename T>
  void operator()(T* what) const {
    free(&what);
  }
};
using FilmInput = std::unique_ptr<AVFormatContext, FreedBy<avformat_close_input>>;
using FilmCoder = std::unique_ptr<AVCodecContext, FreedBy<avcodec_free_context>>;
using FilmFrame = std::unique_ptr<AVFrame, FreedBy<av_frame_free>>;
using FilmPacket = std::unique_ptr<AVPacket, FreedBy<av_packet_free>>;

inline std::string ffmpegSays(int code) {
  char text[AV_ERROR_MAX_STRING_SIZE] = {};
  av_strerror(code, text, sizeof text);
  return text;
}

}  // namespace dusk
