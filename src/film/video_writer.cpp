#include "film/video_writer.h"

#include "film/sound.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/channel_layout.h>
#include <libavutil/opt.h>
#include <libswscale/swscale.h>
}

#include <algorithm>
#include <array>
#include <stdexcept>
#include <string>
#include <string_view>

namespace kestrel::film {
namespace {

void check(int code, const char* doing) {
    if (code < 0) {
        throw std::runtime_error(std::string(doing) + ": " + errorText(code));
    }
}

struct Kind {
    std::string_view ending;
    const char* container;
    const char* encoder;
};

constexpr std::array kinds{Kind{".mp4", "mp4", "libx264"}, Kind{".mov", "mov", "libx264"},
                           Kind{".mkv", "matroska", "libx265"}, Kind{".webm", "webm", "libvpx-vp9"},
                           Kind{".avi", "avi", "mpeg4"}};

const Kind& kindOf(const std::filesystem::path& file) {
    const std::string ending = file.extension();
    const auto* found = std::find_if(kinds.begin(), kinds.end(),
                                     [&](const Kind& kind) { return kind.ending == ending; });
    if (found == kinds.end()) {
        throw std::runtime_error("a film cannot be written to a file that ends in “" + ending +
                                 "”");
    }
    return *found;
}

/// Sets each encoder to about the quality of x264's rate factor.
void setQuality(AVCodecContext& codec, std::string_view encoder, int quality) {
    if (encoder == "mpeg4") {
        codec.flags |= AV_CODEC_FLAG_QSCALE;
        constexpr int coarser = 6; // rate factor 6 steps up doubles the quantiser; 23 is near q 4
        codec.global_quality = FF_QP2LAMBDA * std::max(2, 4 + (quality - 23) / coarser);
        return;
    }
    av_opt_set(codec.priv_data, "crf", std::to_string(quality).c_str(), 0);
    if (encoder == "libvpx-vp9") {
        constexpr const char* fast = "6";
        av_opt_set(codec.priv_data, "cpu-used", fast, 0);
        av_opt_set(codec.priv_data, "deadline", "realtime", 0);
        codec.bit_rate = 0;
    } else {
        av_opt_set(codec.priv_data, "preset", encoder == "libx265" ? "ultrafast" : "veryfast", 0);
    }
    if (encoder == "libx264") {
        // x264's macroblock tree gives one of several results for the same pictures on processors
        // with AVX-512 (seen in repeated runs of one process); without it clips are reproducible.
        av_opt_set(codec.priv_data, "x264-params", "mbtree=0", 0);
    }
    if (encoder == "libx265") {
        av_opt_set(codec.priv_data, "x265-params", "log-level=none:pools=1:frame-threads=1", 0);
    }
}

} // namespace

VideoWriter::VideoWriter(std::filesystem::path file, int width, int height,
                         model::Rational frameRate, int quality, VideoOptions options)
    : file_(std::move(file)), frame_(av_frame_alloc()), packet_(av_packet_alloc()) {
    av_log_set_level(AV_LOG_QUIET);
    AVFormatContext* raw = nullptr;
    const Kind& kind = kindOf(file_);
    check(avformat_alloc_output_context2(&raw, nullptr, kind.container, file_.c_str()),
          "make the container");
    output_.reset(raw);
    const AVCodec* encoder = avcodec_find_encoder_by_name(kind.encoder);
    if (encoder == nullptr) {
        throw std::runtime_error(std::string("this FFmpeg has no encoder ") + kind.encoder);
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
    codec_->thread_count = options.threads; // x264's output depends on it
    if ((output_->oformat->flags & AVFMT_GLOBALHEADER) != 0) {
        codec_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    }
    setQuality(*codec_, kind.encoder, quality);
    check(avcodec_open2(codec_.get(), encoder, nullptr), "open the encoder");

    AVStream* stream = avformat_new_stream(output_.get(), nullptr);
    check(avcodec_parameters_from_context(stream->codecpar, codec_.get()), "describe the stream");
    stream->time_base = codec_->time_base;
    stream->avg_frame_rate = codec_->framerate;
    if (options.sound) {
        openSound(kind.ending == ".webm");
    }
    check(avio_open(&output_->pb, file_.c_str(), AVIO_FLAG_WRITE), "open the file for writing");
    check(avformat_write_header(output_.get(), nullptr), "write the film's header");

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

void VideoWriter::openSound(bool webm) {
    const AVCodec* encoder =
        webm ? avcodec_find_encoder_by_name("libopus") : avcodec_find_encoder(AV_CODEC_ID_AAC);
    if (encoder == nullptr) {
        throw std::runtime_error("this FFmpeg has no encoder for the sound");
    }
    soundCodec_.reset(avcodec_alloc_context3(encoder));
    soundCodec_->sample_fmt = webm ? AV_SAMPLE_FMT_FLT : AV_SAMPLE_FMT_FLTP; // one channel: alike
    soundCodec_->sample_rate = soundRate;
    soundCodec_->ch_layout = AV_CHANNEL_LAYOUT_MONO;
    constexpr int speechBits = 96000; // a second
    soundCodec_->bit_rate = speechBits;
    soundCodec_->time_base = {1, soundRate};
    if ((output_->oformat->flags & AVFMT_GLOBALHEADER) != 0) {
        soundCodec_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
    }
    check(avcodec_open2(soundCodec_.get(), encoder, nullptr), "open the sound encoder");
    AVStream* stream = avformat_new_stream(output_.get(), nullptr);
    check(avcodec_parameters_from_context(stream->codecpar, soundCodec_.get()),
          "describe the sound");
    stream->time_base = soundCodec_->time_base;
    soundFrame_.reset(av_frame_alloc());
    soundFrame_->nb_samples = soundCodec_->frame_size;
    soundFrame_->format = soundCodec_->sample_fmt;
    soundFrame_->ch_layout = soundCodec_->ch_layout;
    soundFrame_->sample_rate = soundRate;
    check(av_frame_get_buffer(soundFrame_.get(), 0), "get a sound buffer");
}

void VideoWriter::encode(AVCodecContext& codec, const AVFrame* frame, int number) {
    check(avcodec_send_frame(&codec, frame), "encode");
    while (avcodec_receive_packet(&codec, packet_.get()) >= 0) {
        const AVStream* stream = output_->streams[number];
        if (number == 0) {
            packet_->duration = 1;
        }
        av_packet_rescale_ts(packet_.get(), codec.time_base, stream->time_base);
        packet_->stream_index = number;
        check(av_interleaved_write_frame(output_.get(), packet_.get()), "write to the file");
    }
}

void VideoWriter::writeSound(std::span<const float> samples) {
    if (!soundCodec_) {
        throw std::logic_error("the film has no sound track");
    }
    sound_.insert(sound_.end(), samples.begin(), samples.end());
    const auto whole = static_cast<std::size_t>(soundCodec_->frame_size);
    while (sound_.size() >= whole) {
        encodeSound(whole);
    }
}

/// Encodes the first `count` samples that wait: a whole frame of sound, or the last one.
void VideoWriter::encodeSound(std::size_t count) {
    check(av_frame_make_writable(soundFrame_.get()), "reuse the sound buffer");
    soundFrame_->nb_samples = static_cast<int>(count);
    std::copy_n(sound_.begin(), count, reinterpret_cast<float*>(soundFrame_->data[0]));
    sound_.erase(sound_.begin(), sound_.begin() + static_cast<std::ptrdiff_t>(count));
    soundFrame_->pts = nextSample_;
    nextSample_ += static_cast<std::int64_t>(count);
    encode(*soundCodec_, soundFrame_.get(), 1);
}

void VideoWriter::finishSound() {
    const std::int64_t samples = av_rescale_q(next_, codec_->time_base, AVRational{1, soundRate});
    const std::int64_t there = nextSample_ + static_cast<std::int64_t>(sound_.size());
    if (samples > there) {
        writeSound(std::vector<float>(static_cast<std::size_t>(samples - there), 0.0F));
    }
    if (!sound_.empty()) {
        encodeSound(sound_.size());
    }
    encode(*soundCodec_, nullptr, 1);
}

void VideoWriter::write(const Picture& picture) {
    write(picture.width, picture.height,
          reinterpret_cast<const std::uint8_t*>(picture.pixels.data()), picture.width * 4);
}

void VideoWriter::write(int width, int height, const std::uint8_t* pixels, int bytesPerRow) {
    if (width != codec_->width || height != codec_->height) {
        throw std::runtime_error("picture size differs from the film's");
    }
    check(av_frame_make_writable(frame_.get()), "reuse the frame buffer");
    const std::array<const std::uint8_t*, 4> source{pixels, nullptr, nullptr, nullptr};
    const std::array<int, 4> stride{bytesPerRow, 0, 0, 0};
    sws_scale(scaler_.get(), source.data(), stride.data(), 0, height, frame_->data,
              frame_->linesize);
    frame_->pts = next_++;
    encode(*codec_, frame_.get(), 0);
}

void VideoWriter::writeAgain() {
    frame_->pts = next_++;
    encode(*codec_, frame_.get(), 0);
}

void VideoWriter::finish() {
    if (soundCodec_) {
        finishSound();
    }
    encode(*codec_, nullptr, 0);
    check(av_write_trailer(output_.get()), "finish the film");
    output_.reset();
    finished_ = true;
}

} // namespace kestrel::film
