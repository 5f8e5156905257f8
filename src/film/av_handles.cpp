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

const model::Message nothingChanged = model::message("safe.file_not_changed_not_added");

model::Message quoted(const std::filesystem::path& file) {
    return model::message("quoted", file.filename().string());
}

} // namespace

InputHandle openInput(const std::filesystem::path& file) {
    std::error_code status;
    if (!std::filesystem::exists(file, status)) {
        throw model::InputError(model::message("file.missing", quoted(file)), nothingChanged,
                                model::message("todo.check_where"));
    }
    if (std::filesystem::is_directory(file, status)) {
        throw model::InputError(model::message("file.is_folder", quoted(file)), nothingChanged,
                                model::message("todo.choose_film_in_it"));
    }
    if (std::filesystem::file_size(file, status) == 0 && !status) {
        throw model::InputError(model::message("file.empty", quoted(file)), nothingChanged,
                                model::message("todo.copy_from_camera"));
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
        const model::Message why = isText       ? model::message("film.is_text")
                                   : opened < 0 ? model::asItIs(errorText(opened))
                                                : model::message("film.no_stream");
        throw model::InputError(model::message("film.not_a_film", quoted(file), why),
                                nothingChanged, model::message("todo.copy_or_save_as_mp4"));
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
    throw model::InputError(
        model::message(sound ? "film.only_sound" : "film.no_picture", quoted(file)), nothingChanged,
        model::message("todo.not_its_sound"));
}

} // namespace kestrel::film
