#pragma once

#include "model/clip_time.h"
#include "model/review_script.h"

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

/// A review film's script laid out in time.
namespace kestrel::report {

/// One picture of the review film.
struct TimelineFrame {
    int frame = 0;        ///< of the player's film
    std::size_t step = 0; ///< of the script

    friend bool operator==(const TimelineFrame&, const TimelineFrame&) = default;
};

/// The pictures of the film at `rate` a second. A run passes field time at its speed, frames
/// repeated or left out as that asks; a stop holds its frame. Frames outside the clip are clamped
/// to it; every step gives at least one picture.
std::vector<TimelineFrame> timelineOf(const model::ReviewScript& script,
                                      const model::ClipTime& time, double rate);

/// The frame of another rep that shows what `frame` of a rep shows: the key positions that both
/// have fall on each other, and time is stretched between them; before the first and after the last
/// it runs as between the two nearest. Nothing when they have fewer than two positions in common,
/// or in another order. The result may lie outside of the other film.
std::optional<int> matchingFrame(const model::Rep& rep, int frame, const model::Rep& other);

/// A caption and when it is on screen.
struct CaptionSpan {
    model::Seconds from{0.0};
    model::Seconds to{0.0};
    std::string text;
};

/// The captions of that timeline; steps without words have none.
std::vector<CaptionSpan> captionsOf(const model::ReviewScript& script,
                                    const std::vector<TimelineFrame>& timeline, double rate);

/// Captions as SubRip text, UTF-8.
std::string subRip(const std::vector<CaptionSpan>& captions);
/// Captions as WebVTT, UTF-8; characters that WebVTT reserves are escaped.
std::string webVtt(const std::vector<CaptionSpan>& captions);

} // namespace kestrel::report
