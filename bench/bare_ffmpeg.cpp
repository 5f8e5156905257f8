#include "bare_ffmpeg.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/opt.h>
#include <libswscale/swscale.h>
}

#include <functional>
#include <stdexcept>
#include <string>

namespace kestrel::bench {
namespace {

/// An opened film with its decoder; plain FFmpeg, freed at the end.
struct Film {
    AVFormatContext* input = nullptr;
    AVCodecContext* codec = nullptr;
    AVPacket* packet = av_packet_alloc();
    AVFrame* frame = av_frame_alloc();
    int stream = -1;

    explicit Film(const std::filesystem::path& file) {
        if (avformat_open_input(&input, file.c_str(), nullptr, nullptr) < 0 ||
            avformat_find_stream_info(input, nullptr) < 0) {
            throw std::runtime_error("cannot open " + file.string());
        }
        const AVCodec* decoder = nullptr;
        stream = av_find_best_stream(input, AVMEDIA_TYPE_VIDEO, -1, -1, &decoder, 0);
        codec = avcodec_alloc_context3(decoder);
        avcodec_parameters_to_context(codec, input->streams[stream]->codecpar);
        codec->thread_count = 0;
        avcodec_open2(codec, decoder, nullptr);
    }
    ~Film() {
        av_frame_free(&frame);
        av_packet_free(&packet);
        avcodec_free_context(&codec);
        avformat_close_input(&input);
    }
    Film(const Film&) = delete;
    Film& operator=(const Film&) = delete;

    /// Decodes until `wanted` says yes or the film ends; returns the number of frames decoded.
    int decode(const std::function<bool(const AVFrame&)>& wanted) {
        int count = 0;
        bool draining = false;
        while (true) {
            const int received = avcodec_receive_frame(codec, frame);
            if (received >= 0) {
                ++count;
                if (wanted(*frame)) {
                    return count;
                }
                continue;
            }
            if (received == AVERROR_EOF) {
                return count;
            }
            if (!draining && av_read_frame(input, packet) >= 0) {
                if (packet->stream_index == stream) {
                    avcodec_send_packet(codec, packet);
                }
                av_packet_unref(packet);
            } else {
                draining = true;
                avcodec_send_packet(codec, nullptr);
            }
        }
    }
};

} // namespace

int readPackets(const std::filesystem::path& film) {
    Film f(film);
    int count = 0;
    while (av_read_frame(f.input, f.packet) >= 0) {
        count += f.packet->stream_index == f.stream ? 1 : 0;
        av_packet_unref(f.packet);
    }
    return count;
}

int decodeAll(const std::filesystem::path& film) {
    return Film(film).decode([](const AVFrame&) { return false; });
}

void decodeFromKeyFrame(const std::filesystem::path& film, long long pts) {
    Film f(film);
    av_seek_frame(f.input, f.stream, pts, AVSEEK_FLAG_BACKWARD);
    f.decode([pts](const AVFrame& frame) { return frame.best_effort_timestamp >= pts; });
}

int transcode(const std::filesystem::path& film, const std::filesystem::path& out, int width,
              int height, int canvasHeight, int rate, int quality) {
    Film f(film);
    AVFormatContext* output = nullptr;
    avformat_alloc_output_context2(&output, nullptr, "mp4", out.c_str());
    const AVCodec* encoder = avcodec_find_encoder_by_name("libx264");
    AVCodecContext* codec = avcodec_alloc_context3(encoder);
    codec->width = width;
    codec->height = canvasHeight;
    codec->pix_fmt = AV_PIX_FMT_YUV420P;
    codec->time_base = {1, rate};
    codec->framerate = {rate, 1};
    codec->gop_size = 60;
    codec->thread_count = 0;
    codec->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    av_opt_set(codec->priv_data, "crf", std::to_string(quality).c_str(), 0);
    av_opt_set(codec->priv_data, "preset", "veryfast", 0);
    av_opt_set(codec->priv_data, "x264-params", "mbtree=0", 0);
    if (avcodec_open2(codec, encoder, nullptr) < 0) {
        throw std::runtime_error("cannot open the encoder");
    }
    AVStream* stream = avformat_new_stream(output, nullptr);
    avcodec_parameters_from_context(stream->codecpar, codec);
    stream->time_base = codec->time_base;
    avio_open(&output->pb, out.c_str(), AVIO_FLAG_WRITE);
    if (avformat_write_header(output, nullptr) < 0) {
        throw std::runtime_error("cannot write " + out.string());
    }
    AVFrame* canvas = av_frame_alloc();
    canvas->width = width;
    canvas->height = canvasHeight;
    canvas->format = AV_PIX_FMT_YUV420P;
    av_frame_get_buffer(canvas, 0);
    AVPacket* packet = av_packet_alloc();
    SwsContext* scaler = nullptr;
    const auto encode = [&](const AVFrame* frame) {
        avcodec_send_frame(codec, frame);
        while (avcodec_receive_packet(codec, packet) >= 0) {
            packet->duration = 1;
            av_packet_rescale_ts(packet, codec->time_base, stream->time_base);
            av_interleaved_write_frame(output, packet);
        }
    };
    int count = 0;
    f.decode([&](const AVFrame& frame) {
        scaler = sws_getCachedContext(scaler, frame.width, frame.height,
                                      static_cast<AVPixelFormat>(frame.format), width, height,
                                      AV_PIX_FMT_YUV420P, SWS_BILINEAR, nullptr, nullptr, nullptr);
        av_frame_make_writable(canvas);
        sws_scale(scaler, frame.data, frame.linesize, 0, frame.height, canvas->data,
                  canvas->linesize);
        canvas->pts = count++;
        encode(canvas);
        return false;
    });
    encode(nullptr);
    av_write_trailer(output);
    sws_freeContext(scaler);
    av_packet_free(&packet);
    av_frame_free(&canvas);
    avcodec_free_context(&codec);
    avio_closep(&output->pb);
    avformat_free_context(output);
    return count;
}

} // namespace kestrel::bench
