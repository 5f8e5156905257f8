#pragma once

extern "C" {
struct AVCodecContext;
struct AVFormatContext;
struct AVFrame;
struct AVPacket;
struct SwsContext;
}

#include <filesystem>
#include <memory>
#include <string>

/// Owning handles for FFmpeg objects; film room only.
namespace kestrel::film {

struct CloseInput {
    void operator()(AVFormatContext* context) const;
};
struct CloseOutput {
    void operator()(AVFormatContext* context) const;
};
struct FreeCodec {
    void operator()(AVCodecContext* context) const;
};
struct FreeFrame {
    void operator()(AVFrame* frame) const;
};
struct FreePacket {
    void operator()(AVPacket* packet) const;
};
struct FreeScaler {
    void operator()(SwsContext* scaler) const;
};

using InputHandle = std::unique_ptr<AVFormatContext, CloseInput>;
using OutputHandle = std::unique_ptr<AVFormatContext, CloseOutput>;
using CodecHandle = std::unique_ptr<AVCodecContext, FreeCodec>;
using FrameHandle = std::unique_ptr<AVFrame, FreeFrame>;
using PacketHandle = std::unique_ptr<AVPacket, FreePacket>;
using ScalerHandle = std::unique_ptr<SwsContext, FreeScaler>;

/// FFmpeg's words for an error code.
std::string errorText(int code);

/// Opens `file` for reading and finds its streams. A picture whose name ends in a number and that
/// has a neighbour with the next or the previous number is opened as the whole numbered sequence.
/// Throws model::InputError with a message for the
/// coach when the file is missing, empty, cut off or no film at all.
InputHandle openInput(const std::filesystem::path& file);

/// Index of the stream to show. Throws model::InputError when there is only sound or a cover
/// picture.
int videoStream(const AVFormatContext& input, const std::filesystem::path& file);

} // namespace kestrel::film
