#include "film/video_writer.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/opt.h>
#include <libswscale/swscale.h>
}

#include <array>
#include <stdexcept>
#include <string>

namespace kestrel::film {
namespace {

void check(int code, const char* doing) {
    if (code < 0) {
        throw std::runtime_error(std::string(doing) + ": " + errorText(code));
    }
}

} // namespace

VideoWriter::VideoWriter(std::filesystem::path file, int width, int height,
                         model::Rational frameRate, int quality)
    : file_(std::move(file)), frame_(av_frame_alloc()), packet_(av_packet_alloc()) {
    av_log_set_level(AV_LOG_QUIET);
    AVFormatContext* raw = nullptr;
    check(avformat_alloc_output_context2(&raw, nullptr, "mp4", file_.c_str()), "make MP4");
    output_.reset(raw);
    const AVCodec* encoder = avcodec_find_encoder_by_name("libx264");
    if (encoder == nullptr) {
        throw std::runtime_error("this FFmpeg has no H.264 encoder (libx264)");
    }
    codec_.reset(avcodec_alloc_context3(encoder));
    codec_->width = width;
    codec_->height = height;
    codec_->pix_fmt = AV_PIX_FMT_YUV420P;
    codec_->colorspace = AVCOL_SPC_BT709;
    codec_->color_primaries = AVCOL_PRI_BT709;
    codec_->color_trc = AVCOL_TRC_BT709;
    codec_->color_range = AVCOL_RANGE_MPEG;
    codec_->time_base = {static_cast<int>(frameRate.den), static_cast<int>(frameRate.num)};
    codec_->framerate = {static_cast<int>(frameRate.num), static_cast<int>(frameRate.den)};
    codec_->gop_size = 60;
    codec_->thread_count = 1; // x264's output depends on it: one thread makes clips reproducible
    codec_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    av_opt_set(codec_->priv_data, "preset", "veryfast", 0);
    av_opt_set(codec_->priv_data, "crf", std::to_string(quality).c_str(), 0);
    check(avcodec_open2(codec_.get(), encoder, nullptr), "open the H.264 encoder");

    AVStream* stream = avformat_new_stream(output_.get(), nullptr);
    check(avcodec_parameters_from_context(stream->codecpar, codec_.get()), "describe the stream");
    stream->time_base = codec_->time_base;
    stream->avg_frame_rate = codec_->framerate;
    check(avio_open(&output_->pb, file_.c_str(), AVIO_FLAG_WRITE), "open the file for writing");
    check(avformat_write_header(output_.get(), nullptr), "write the MP4 header");

    frame_->width = width;
    frame_->height = height;
    frame_->format = codec_->pix_fmt;
    frame_->colorspace = codec_->colorspace;
    frame_->color_range = codec_->color_range;
    check(av_frame_get_buffer(frame_.get(), 0), "get a frame buffer");
    scaler_.reset(sws_getContext(width, height, AV_PIX_FMT_BGRA, width, height, codec_->pix_fmt,
                                 SWS_BILINEAR | SWS_ACCURATE_RND, nullptr, nullptr, nullptr));
    constexpr int neutral = 1 << 16;
    sws_setColorspaceDetails(scaler_.get(), sws_getCoefficients(SWS_CS_DEFAULT), 1,
                             sws_getCoefficients(SWS_CS_ITU709), 0, 0, neutral, neutral);
}

VideoWriter::~VideoWriter() {
    if (!finished_) {
        output_.reset();
        std::error_code ignored;
        std::filesystem::remove(file_, ignored);
    }
}

void VideoWriter::encode(const AVFrame* frame) {
    check(avcodec_send_frame(codec_.get(), frame), "encode");
    while (avcodec_receive_packet(codec_.get(), packet_.get()) >= 0) {
        const AVStream* stream = output_->streams[0];
        packet_->duration = 1;
        av_packet_rescale_ts(packet_.get(), codec_->time_base, stream->time_base);
        packet_->stream_index = 0;
        check(av_interleaved_write_frame(output_.get(), packet_.get()), "write to the file");
    }
}

void VideoWriter::write(const Picture& picture) {
    if (picture.width != codec_->width || picture.height != codec_->height) {
        throw std::runtime_error("picture size differs from the film's");
    }
    check(av_frame_make_writable(frame_.get()), "reuse the frame buffer");
    const std::array<const std::uint8_t*, 4> source{
        reinterpret_cast<const std::uint8_t*>(picture.pixels.data()), nullptr, nullptr, nullptr};
    const std::array<int, 4> stride{picture.width * 4, 0, 0, 0};
    sws_scale(scaler_.get(), source.data(), stride.data(), 0, picture.height, frame_->data,
              frame_->linesize);
    frame_->pts = next_++;
    encode(frame_.get());
}

void VideoWriter::finish() {
    encode(nullptr);
    check(av_write_trailer(output_.get()), "finish the MP4");
    output_.reset();
    finished_ = true;
}

} // namespace kestrel::film
