#include "film/remux.h"

#include "film/av_handles.h"
#include "model/input_error.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
}

namespace kestrel::film {
namespace {

void check(int code, const std::filesystem::path& from, const std::filesystem::path& to) {
    if (code < 0) {
        std::error_code ignored;
        std::filesystem::remove(to, ignored);
        throw model::InputError(
            model::message("film.not_joined", from.filename().string(), errorText(code)),
            model::message("safe.nothing_changed"), model::message("todo.free_space"));
    }
}

} // namespace

void remuxToMatroska(const std::filesystem::path& from, const std::filesystem::path& to) {
    const InputHandle input = openInput(from);
    const int number = videoStream(*input, from);
    AVFormatContext* raw = nullptr;
    check(avformat_alloc_output_context2(&raw, nullptr, "matroska", to.c_str()), from, to);
    const OutputHandle output(raw);
    // Random identifiers would give the same pictures another content hash each time.
    output->flags |= AVFMT_FLAG_BITEXACT;
    const AVStream* source = input->streams[number];
    AVStream* stream = avformat_new_stream(output.get(), nullptr);
    check(avcodec_parameters_copy(stream->codecpar, source->codecpar), from, to);
    stream->codecpar->codec_tag = 0;
    stream->time_base = source->time_base;
    stream->avg_frame_rate = source->avg_frame_rate;
    check(avio_open(&output->pb, to.c_str(), AVIO_FLAG_WRITE), from, to);
    check(avformat_write_header(output.get(), nullptr), from, to);
    const PacketHandle packet(av_packet_alloc());
    while (av_read_frame(input.get(), packet.get()) >= 0) {
        if (packet->stream_index == number) {
            packet->stream_index = 0;
            av_packet_rescale_ts(packet.get(), source->time_base, stream->time_base);
            check(av_interleaved_write_frame(output.get(), packet.get()), from, to);
        }
        av_packet_unref(packet.get());
    }
    check(av_write_trailer(output.get()), from, to);
}

} // namespace kestrel::film
