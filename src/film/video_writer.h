#pragma once

#include "film/av_handles.h"
#include "film/picture.h"
#include "model/units.h"

#include <cstdint>
#include <filesystem>
#include <span>
#include <vector>

namespace kestrel::film {

struct VideoOptions {
    /// Threads of the encoder, 0: all cores. Only with one is the film the same bit by bit when it
    /// is written again.
    int threads = 1;
    bool sound = false;
};

/// Writes pictures to a film (4:2:0, BT.709 limited range). The ending of the file names the
/// container and the codec: .mp4 and .mov H.264, .mkv HEVC, .webm VP9, .avi MPEG-4. The file is
/// complete only after finish(); a writer destroyed earlier removes it.
class VideoWriter {
  public:
    /// `frameRate` in frames a second of the file; `quality` is x264's constant rate factor (18 is
    /// visually lossless, 28 a phone's economy setting), and about as good with the other codecs.
    /// Width and height must be even. Throws std::runtime_error when the file cannot be written,
    /// the ending is another or the encoder is missing.
    /// With `sound` there is a track of mono sound (AAC; Opus in .webm); what is not written to it
    /// by the end is silence.
    VideoWriter(std::filesystem::path file, int width, int height, model::Rational frameRate,
                int quality, VideoOptions options = {});
    ~VideoWriter();
    VideoWriter(const VideoWriter&) = delete;
    VideoWriter& operator=(const VideoWriter&) = delete;

    /// Appends one frame of the size given at the start.
    void write(const Picture& picture);
    /// The same of pixels laid out as those of a Picture, rows `bytesPerRow` apart.
    void write(int width, int height, const std::uint8_t* pixels, int bytesPerRow);

    /// Appends the picture written last once more, without converting it again. At least one must
    /// have been written.
    void writeAgain();

    /// Appends mono samples at film::soundRate to the sound track.
    void writeSound(std::span<const float> samples);

    /// Flushes the encoder and closes the file.
    void finish();

  private:
    void openSound(bool webm);
    void encode(AVCodecContext& codec, const AVFrame* frame, int stream);
    void encodeSound(std::size_t count);
    void finishSound();

    std::filesystem::path file_;
    OutputHandle output_;
    CodecHandle codec_;
    FrameHandle frame_;
    PacketHandle packet_;
    ScalerHandle scaler_;
    std::int64_t next_ = 0;
    CodecHandle soundCodec_; ///< null without sound
    FrameHandle soundFrame_;
    std::vector<float> sound_; ///< samples not encoded yet
    std::int64_t nextSample_ = 0;
    bool finished_ = false;
};

} // namespace kestrel::film
