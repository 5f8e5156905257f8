#include "film/film_index.h"

#include "film/av_handles.h"
#include "film/picture.h"
#include "model/input_error.h"

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
}

#include <algorithm>
#include <cmath>

namespace kestrel::film {
namespace {

int displayRotation(const AVStream& stream) {
    const auto* matrix = reinterpret_cast<const std::int32_t*>(
        av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, nullptr));
    if (matrix == nullptr) {
        return 0;
    }
    // FFmpeg gives counter-clockwise degrees; cameras only turn by quarters.
    const double counterClockwise = av_display_rotation_get(matrix);
    if (std::isnan(counterClockwise)) {
        return 0;
    }
    const int quarters = static_cast<int>(std::lround(-counterClockwise / 90.0));
    return ((quarters % 4 + 4) % 4) * 90;
}

bool intervalsVary(const std::vector<IndexedFrame>& frames) {
    if (frames.size() < 3) {
        return false;
    }
    std::int64_t shortest = frames[1].pts - frames[0].pts;
    std::int64_t longest = shortest;
    for (std::size_t i = 2; i < frames.size(); ++i) {
        const std::int64_t gap = frames[i].pts - frames[i - 1].pts;
        shortest = std::min(shortest, gap);
        longest = std::max(longest, gap);
    }
    // Containers round each time to a tick, so two neighbouring intervals may differ by two.
    return longest - shortest > 2;
}

Fields fieldOrder(AVFieldOrder order) {
    switch (order) {
    case AV_FIELD_TT:
    case AV_FIELD_TB:
        return Fields::topFirst;
    case AV_FIELD_BB:
    case AV_FIELD_BT:
        return Fields::bottomFirst;
    default:
        return Fields::none;
    }
}

} // namespace

model::Rational FilmIndex::time(int frame) const {
    return {frames.at(static_cast<std::size_t>(frame)).pts * timeBase.num, timeBase.den};
}

model::Seconds FilmIndex::seconds(int frame) const {
    return model::Seconds(time(frame).toDouble());
}

double FilmIndex::fileRate() const {
    if (frames.size() < 2 || frames.back().pts == frames.front().pts) {
        return statedRate.den != 0 ? statedRate.toDouble() : 0.0;
    }
    const auto ticks = static_cast<double>(frames.back().pts - frames.front().pts);
    return static_cast<double>(frames.size() - 1) / (ticks * timeBase.toDouble());
}

model::Seconds FilmIndex::duration() const {
    const std::int64_t ticks = frames.back().pts - frames.front().pts + lastDuration;
    return model::Seconds(static_cast<double>(ticks) * timeBase.toDouble());
}

std::vector<model::Seconds> FilmIndex::fileTimes() const {
    std::vector<model::Seconds> times;
    times.reserve(frames.size());
    for (int i = 0; i < frameCount(); ++i) {
        times.push_back(seconds(i));
    }
    return times;
}

namespace {

/// What the file says of its pictures, before any packet is read.
FilmIndex described(const std::filesystem::path& file, AVFormatContext& input, AVStream& stream) {
    FilmIndex index;
    index.file = file;
    index.codec = avcodec_get_name(stream.codecpar->codec_id);
    index.codedWidth = stream.codecpar->width;
    index.codedHeight = stream.codecpar->height;
    index.timeBase = {stream.time_base.num, stream.time_base.den};
    index.statedRate = {stream.avg_frame_rate.num, stream.avg_frame_rate.den};
    index.rotation = displayRotation(stream);
    index.interlaced = fieldOrder(stream.codecpar->field_order);
    const AVRational aspect = av_guess_sample_aspect_ratio(&input, &stream, nullptr);
    if (aspect.num > 0 && aspect.den > 0) {
        index.pixelAspect = {aspect.num, aspect.den};
    }
    return index;
}

/// Takes in where each frame lies and when it is shown. True when the last packet is broken.
bool readFrames(FilmIndex& index, AVFormatContext& input, int streamNumber) {
    const PacketHandle packet(av_packet_alloc());
    std::int64_t nextWithoutTime = 0;
    bool lastIsBroken = false;
    while (av_read_frame(&input, packet.get()) >= 0) {
        const bool ours = packet->stream_index == streamNumber &&
                          (packet->flags & AV_PKT_FLAG_DISCARD) == 0 && packet->size > 0;
        if (ours) {
            lastIsBroken = (packet->flags & AV_PKT_FLAG_CORRUPT) != 0;
            std::int64_t pts = packet->pts != AV_NOPTS_VALUE ? packet->pts : packet->dts;
            index.lastDuration = std::max<std::int64_t>(packet->duration, 1);
            if (pts == AV_NOPTS_VALUE || index.timesCounted) {
                index.timesCounted = true;
                pts = nextWithoutTime;
            }
            nextWithoutTime = pts + index.lastDuration;
            index.frames.push_back({pts, (packet->flags & AV_PKT_FLAG_KEY) != 0});
        }
        av_packet_unref(packet.get());
    }
    return lastIsBroken;
}

/// Whether the last frame that the container lists lies behind the end of the file.
bool goesBeyondTheEnd(AVStream& stream, AVIOContext& file) {
    const int count = avformat_index_get_entries_count(&stream);
    const AVIndexEntry* last = count > 0 ? avformat_index_get_entry(&stream, count - 1) : nullptr;
    const std::int64_t bytes = avio_size(&file);
    return last != nullptr && bytes > 0 && last->pos + last->size > bytes;
}

/// Throws model::InputError for what no film is.
void checkFilm(const FilmIndex& index, const std::filesystem::path& file) {
    if (index.frames.empty() || index.codedWidth <= 0 || index.codedHeight <= 0) {
        throw model::InputError(model::message("film.no_frames", file.filename().string()),
                                model::message("safe.file_not_changed_not_added"),
                                model::message("todo.copy_from_camera"));
    }
    if (std::int64_t{index.codedWidth} * index.codedHeight > mostPixels) {
        throw model::InputError(model::message("film.picture_too_large", file.filename().string(),
                                               index.codedWidth, index.codedHeight),
                                model::message("safe.file_not_changed_not_added"),
                                model::message("todo.copy_from_camera"));
    }
}

} // namespace

FilmIndex buildIndex(const std::filesystem::path& file) {
    const InputHandle input = openInput(file);
    input->flags |= AVFMT_FLAG_GENPTS;
    const int streamNumber = videoStream(*input, file);
    for (unsigned i = 0; i < input->nb_streams; ++i) {
        input->streams[i]->discard =
            static_cast<int>(i) == streamNumber ? AVDISCARD_DEFAULT : AVDISCARD_ALL;
    }
    AVStream& stream = *input->streams[streamNumber];

    FilmIndex index = described(file, *input, stream);
    // A packet that the file breaks off in is no frame that anything could be measured on.
    if (readFrames(index, *input, streamNumber)) {
        index.cutOff = true;
        index.frames.pop_back();
    }
    checkFilm(index, file);
    std::stable_sort(index.frames.begin(), index.frames.end(),
                     [](const IndexedFrame& a, const IndexedFrame& b) { return a.pts < b.pts; });
    const bool promisesMore = stream.nb_frames > index.frameCount();
    index.cutOff =
        index.cutOff ||
        (promisesMore && (input->pb->error != 0 || goesBeyondTheEnd(stream, *input->pb)));
    if (index.cutOff && promisesMore) {
        index.promisedFrames = static_cast<int>(stream.nb_frames);
    }
    index.variableRate = intervalsVary(index.frames);

    const int shownWidth =
        static_cast<int>(std::lround(index.codedWidth * index.pixelAspect.toDouble()));
    const bool turned = index.rotation == 90 || index.rotation == 270;
    index.width = turned ? index.codedHeight : shownWidth;
    index.height = turned ? shownWidth : index.codedHeight;
    return index;
}

bool captureRateInDoubt(const FilmIndex& index) {
    constexpr double highestUsualPlaybackRate = 60.5; // 60 and 59.94, with rounding
    return index.fileRate() <= highestUsualPlaybackRate;
}

} // namespace kestrel::film
