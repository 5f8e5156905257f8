#pragma once

#include "model/clip_time.h"
#include "model/units.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

/// The index of a film: every frame in presentation order with its exact time, built from packets
/// without decoding.
namespace kestrel::film {

struct IndexedFrame {
    std::int64_t pts = 0; ///< presentation time in units of FilmIndex::timeBase
    bool key = false;     ///< decoding can start here
};

/// Order of the two half pictures of an interlaced frame.
enum class Fields { none, topFirst, bottomFirst };

struct FilmIndex {
    std::filesystem::path file;
    std::string codec;
    int codedWidth = 0;
    int codedHeight = 0;
    int width = 0;    ///< as displayed: after pixel aspect and rotation
    int height = 0;   ///< as displayed
    int rotation = 0; ///< clockwise degrees applied for display: 0, 90, 180 or 270
    model::Rational pixelAspect{1, 1};
    model::Rational timeBase{1, 1};
    model::Rational statedRate{0, 1}; ///< frames a second as the container states it
    std::vector<IndexedFrame> frames;
    /// How the file says its frames were taken: none for progressive film.
    Fields interlaced = Fields::none;
    /// None: `frames` are the file's frames. Otherwise each of them stands twice, once for each
    /// field, in the order the fields were taken (see asFields).
    Fields readAs = Fields::none;
    /// The file carries no times at all (a bare stream): frames are counted and spaced evenly, and
    /// any frame is reached by decoding from the beginning.
    bool timesCounted = false;
    bool variableRate = false; ///< frame intervals differ by more than container rounding
    bool cutOff = false;       ///< the container promises more frames than the file holds
    int promisedFrames = 0;    ///< of a file that was cut off, as it says itself; 0: it does not
    std::int64_t lastDuration = 0; ///< duration of the last frame, in timeBase

    [[nodiscard]] int frameCount() const { return static_cast<int>(frames.size()); }
    /// Exact presentation time of a frame. Throws std::out_of_range.
    [[nodiscard]] model::Rational time(int frame) const;
    [[nodiscard]] model::Seconds seconds(int frame) const;
    /// Mean frames a second over the file; the stated rate for a one-frame file.
    [[nodiscard]] double fileRate() const;
    /// From the first frame to the end of the last.
    [[nodiscard]] model::Seconds duration() const;
    /// Presentation times of all frames, for model::clipTime.
    [[nodiscard]] std::vector<model::Seconds> fileTimes() const;
};

/// Reads the packets of `file` and lays out its frames. Throws model::InputError for a file that is
/// missing, empty, cut off beyond use, or has no picture.
FilmIndex buildIndex(const std::filesystem::path& file);

/// The same film read as fields, each a picture of its own half a frame apart: twice the rate at
/// half the vertical detail. `order` says which field of a frame was taken first.
FilmIndex asFields(const FilmIndex& wholeFrames, Fields order);

/// The film in the file's own frames: undoes asFields; any other index as it is.
FilmIndex asWholeFrames(const FilmIndex& index);

/// Changes of speed inside a slow-motion file, as its time stamps betray them: stretches of at
/// least a tenth of a second whose frames stand at a steady distance, some at least half as long
/// again as the shortest. The camera is taken to have filmed evenly, so the shortest distance is
/// real time. Fewer than two such stretches: empty.
std::vector<model::SpeedStretch> speedStretches(const FilmIndex& index);

/// Whether the capture rate may differ from the file's rate, so that the coach must be asked: the
/// file plays at a usual playback rate (up to 60), where a slow-motion recording would too.
bool captureRateInDoubt(const FilmIndex& index);

} // namespace kestrel::film
