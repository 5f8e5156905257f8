#include "film/sound.h"

#include "film/av_handles.h"
#include "model/input_error.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/channel_layout.h>
#include <libswresample/swresample.h>
}

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <fstream>
#include <memory>

namespace kestrel::film {
namespace {

struct FreeResampler {
    void operator()(SwrContext* context) const { swr_free(&context); }
};
using Resampler = std::unique_ptr<SwrContext, FreeResampler>;

[[noreturn]] void noSound(const std::filesystem::path& file, model::Message why) {
    throw model::InputError(model::message("sound.none", file.string(), std::move(why)),
                            model::message("safe.nothing_changed"),
                            model::message("todo.choose_sound"));
}

Resampler toMono(AVCodecContext& codec, const std::filesystem::path& file) {
    SwrContext* raw = nullptr;
    AVChannelLayout mono = AV_CHANNEL_LAYOUT_MONO;
    const int code =
        swr_alloc_set_opts2(&raw, &mono, AV_SAMPLE_FMT_FLT, soundRate, &codec.ch_layout,
                            codec.sample_fmt, codec.sample_rate, 0, nullptr);
    Resampler resampler(raw);
    if (code < 0 || swr_init(raw) < 0) {
        noSound(file, model::message("sound.not_converted"));
    }
    return resampler;
}

/// Converts a frame, or what is left in the resampler when there is none.
void convert(SwrContext& resampler, const AVFrame* frame, std::vector<float>& samples) {
    const int in = frame == nullptr ? 0 : frame->nb_samples;
    const int room = swr_get_out_samples(&resampler, in);
    if (room <= 0) {
        return;
    }
    const std::size_t before = samples.size();
    samples.resize(before + static_cast<std::size_t>(room));
    auto* out = reinterpret_cast<std::uint8_t*>(samples.data() + before);
    const int got = swr_convert(
        &resampler, &out, room,
        frame == nullptr ? nullptr : const_cast<const std::uint8_t**>(frame->extended_data), in);
    samples.resize(before + static_cast<std::size_t>(std::max(0, got)));
}

/// When the first packet of a stream is shown, seconds; 0 where the file does not say.
double startOf(const AVStream& stream) {
    return stream.start_time == AV_NOPTS_VALUE
               ? 0.0
               : static_cast<double>(stream.start_time) * av_q2d(stream.time_base);
}

} // namespace

FilmSound readFilmSound(const std::filesystem::path& file) {
    av_log_set_level(AV_LOG_QUIET);
    AVFormatContext* raw = nullptr;
    if (const int code = avformat_open_input(&raw, file.c_str(), nullptr, nullptr); code < 0) {
        noSound(file, model::asItIs(errorText(code)));
    }
    const InputHandle input(raw);
    if (const int code = avformat_find_stream_info(raw, nullptr); code < 0) {
        noSound(file, model::asItIs(errorText(code)));
    }
    const AVCodec* decoder = nullptr;
    const int stream = av_find_best_stream(raw, AVMEDIA_TYPE_AUDIO, -1, -1, &decoder, 0);
    if (stream < 0) {
        noSound(file, model::message("sound.not_in_file"));
    }
    const CodecHandle codec(avcodec_alloc_context3(decoder));
    avcodec_parameters_to_context(codec.get(), raw->streams[stream]->codecpar);
    if (const int code = avcodec_open2(codec.get(), decoder, nullptr); code < 0) {
        noSound(file, model::asItIs(errorText(code)));
    }
    const Resampler resampler = toMono(*codec, file);
    const PacketHandle packet(av_packet_alloc());
    const FrameHandle frame(av_frame_alloc());
    FilmSound sound;
    if (const int pictures = av_find_best_stream(raw, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
        pictures >= 0) {
        sound.beginsAt = startOf(*raw->streams[stream]) - startOf(*raw->streams[pictures]);
    }
    std::vector<float>& samples = sound.samples;
    const auto take = [&] {
        while (avcodec_receive_frame(codec.get(), frame.get()) >= 0) {
            convert(*resampler, frame.get(), samples);
        }
    };
    while (av_read_frame(raw, packet.get()) >= 0) {
        if (packet->stream_index == stream) {
            avcodec_send_packet(codec.get(), packet.get());
            take();
        }
        av_packet_unref(packet.get());
    }
    avcodec_send_packet(codec.get(), nullptr);
    take();
    convert(*resampler, nullptr, samples);
    if (samples.empty()) {
        noSound(file, model::message("sound.not_in_file"));
    }
    return sound;
}

std::vector<float> readSound(const std::filesystem::path& file) {
    return readFilmSound(file).samples;
}

void writeWav(const std::vector<float>& samples, const std::filesystem::path& file) {
    constexpr std::uint32_t headerBytes = 44;
    constexpr double loudest = 32767.0;
    const auto dataBytes = static_cast<std::uint32_t>(samples.size() * 2);
    std::string bytes;
    const auto number = [&](std::uint32_t value, int count) {
        for (int i = 0; i < count; ++i) {
            bytes.push_back(static_cast<char>(value >> (8 * i) & 0xFF));
        }
    };
    bytes += "RIFF";
    number(headerBytes - 8 + dataBytes, 4);
    bytes += "WAVEfmt ";
    number(16, 4);            // bytes of this part
    number(1, 2);             // plain samples
    number(1, 2);             // mono
    number(soundRate, 4);     // samples and
    number(2 * soundRate, 4); // bytes a second
    number(2, 2);             // bytes and
    number(16, 2);            // bits a sample
    bytes += "data";
    number(dataBytes, 4);
    for (const float sample : samples) {
        const double clipped = std::clamp(static_cast<double>(sample), -1.0, 1.0);
        number(
            static_cast<std::uint32_t>(static_cast<std::uint16_t>(std::lround(clipped * loudest))),
            2);
    }
    std::ofstream out(file, std::ios::binary);
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    if (!out.flush()) {
        throw model::InputError(model::message("file.unwritable", file.string()),
                                model::message("safe.nothing_else_changed"),
                                model::message("todo.record_again"));
    }
}

} // namespace kestrel::film
