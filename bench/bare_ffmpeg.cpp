#include "bare_ffmpeg.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
}

#include <functional>
#include <stdexcept>

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

} // namespace kestrel::bench
