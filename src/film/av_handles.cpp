#include "film/av_handles.h"

#include "film/picture_sequence.h"
#include "model/input_error.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libswscale/swscale.h>
}

#include <array>
#include <string_view>

namespace kestrel::film {

void CloseInput::operator()(AVFormatContext* context) const {
    avformat_close_input(&context);
}

void CloseOutput::operator()(AVFormatContext* context) const {
    if (context->pb != nullptr && (context->oformat->flags & AVFMT_NOFILE) == 0) {
        avio_closep(&context->pb);
    }
    avformat_free_context(context);
}

void FreeCodec::operator()(AVCodecContext* context) const {
    avcodec_free_context(&context);
}
void FreeFrame::operator()(AVFrame* frame) const {
    av_frame_free(&frame);
}
void FreePacket::operator()(AVPacket* packet) const {
    av_packet_free(&packet);
}
void FreeScaler::operator()(SwsContext* scaler) const {
    sws_freeContext(scaler);
}

std::string errorText(int code) {
    std::array<char, AV_ERROR_MAX_STRING_SIZE> text{};
    av_strerror(code, text.data(), text.size());
    return text.data();
}

namespace {

const std::string nothingChanged = "The file was not changed and nothing was added to the library.";

std::string quoted(const std::filesystem::path& file) {
    return "“" + file.filename().string() + "”";
}

} // namespace

InputHandle openInput(const std::filesystem::path& file) {
    std::error_code status;
    if (!std::filesystem::exists(file, status)) {
        throw model::InputError("There is no file " + quoted(file) + ".", nothingChanged,
                                "Check where it is; it may have been moved or renamed.");
    }
    if (std::filesystem::is_directory(file, status)) {
        throw model::InputError(quoted(file) + " is a folder.", nothingChanged,
                                "Choose one film file in it.");
    }
    if (std::filesystem::file_size(file, status) == 0 && !status) {
        throw model::InputError(quoted(file) + " is empty: it holds no bytes at all.",
                                nothingChanged, "Copy it from the camera or phone again.");
    }
    av_log_set_level(AV_LOG_QUIET);
    AVFormatContext* raw = nullptr;
    const auto sequence = pictureSequence(file);
    const std::string url = sequence ? sequence->pattern : "file:" + file.string();
    AVDictionary* options = nullptr;
    if (sequence) {
        av_dict_set_int(&options, "start_number", sequence->first, 0);
    }
    const int opened = avformat_open_input(
        &raw, url.c_str(), sequence ? av_find_input_format("image2") : nullptr, &options);
    av_dict_free(&options);
    InputHandle input(raw);
    // FFmpeg shows any text file as a terminal's screen; a coach who picked a text file wants to be
    // told so.
    const bool isText = opened >= 0 && std::string_view(input->iformat->name) == "tty";
    if (opened < 0 || isText || avformat_find_stream_info(input.get(), nullptr) < 0) {
        const std::string why =
            isText ? "it is text" : (opened < 0 ? errorText(opened) : "no stream could be read");
        throw model::InputError(
            quoted(file) +
                " is not a film that can be read, or it was cut off while being copied (" + why +
                ").",
            nothingChanged,
            "Copy it from the camera or phone again; if it plays elsewhere, save it as MP4.");
    }
    return input;
}

int videoStream(const AVFormatContext& input, const std::filesystem::path& file) {
    bool sound = false;
    for (unsigned i = 0; i < input.nb_streams; ++i) {
        const AVStream* stream = input.streams[i];
        if (stream->codecpar->codec_type == AVMEDIA_TYPE_VIDEO &&
            (stream->disposition & AV_DISPOSITION_ATTACHED_PIC) == 0) {
            return static_cast<int>(i);
        }
        sound = sound || stream->codecpar->codec_type == AVMEDIA_TYPE_AUDIO;
    }
    throw model::InputError(quoted(file) +
                                (sound ? " holds sound only, no picture." : " holds no picture."),
                            nothingChanged, "Choose the film, not its sound track.");
}

} // namespace kestrel::film
