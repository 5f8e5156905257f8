#include "film/film_breaks.h"

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <optional>

namespace kestrel::film {
namespace {

using model::FilmBreak;

// Working figures, set on films of the synthetic player (study/messy_film.h); steps are of 255.
constexpr double blankContrast = 6.0; ///< below it a picture is of one colour
constexpr double blankTo = 28.0;      ///< a picture of one colour that is film of nothing
constexpr double blankFrom = 235.0;
constexpr double fadeChange = 0.4;     ///< of all the picture, from frame to frame
constexpr double cutChange = 8.0;      ///< of the busiest twelfth
constexpr double cutAgainst = 2.5;     ///< times the change of the frames around
constexpr std::size_t aroundCut = 3;   ///< so many frames to each side
constexpr double sameLevel = 3.0;      ///< of a block, from begin to end of a held stretch
constexpr double shortestStill = 0.3;  ///< seconds in the file
constexpr double movingChange = 1.0;   ///< of the busiest twelfth
constexpr double repeatedChange = 0.4; ///< of what the pictures around change
constexpr std::size_t aroundRepeated = 2;

bool isBlank(const BlockSeries& series, std::size_t frame) {
    const BlockSeries::Whole& whole = series.whole(frame);
    return whole.contrast < blankContrast && (whole.mean < blankTo || whole.mean > blankFrom);
}

model::FrameSpan spanOf(std::size_t first, std::size_t last) {
    return {static_cast<int>(first), static_cast<int>(last)};
}

/// Whether one frame of a fade is farther from the blank one than another.
bool isFuller(const BlockSeries& series, std::size_t frame, std::size_t than, std::size_t blank) {
    const auto lit = [&](std::size_t f) {
        return std::abs(series.whole(f).mean - series.whole(blank).mean);
    };
    return lit(frame) > lit(than) || series.whole(frame).contrast > series.whole(than).contrast;
}

/// The farthest frame after a blank one whose picture still gets brighter or darker as a whole.
std::size_t fadedInBy(const BlockSeries& series, std::size_t blank) {
    std::size_t last = blank;
    while (last + 1 < series.frames() && series.whole(last + 1).middle > fadeChange &&
           isFuller(series, last + 1, last, blank)) {
        ++last;
    }
    // The last step of a fade leads to the picture in full.
    return last > blank ? last - 1 : last;
}

/// The first frame before a blank one from which the picture fades.
std::size_t fadesFrom(const BlockSeries& series, std::size_t blank) {
    std::size_t first = blank;
    while (first > 0 && series.whole(first).middle > fadeChange &&
           isFuller(series, first - 1, first, blank)) {
        --first;
    }
    return first < blank ? first + 1 : first;
}

double mostAround(const BlockSeries& series, std::size_t frame, std::size_t around) {
    double most = 0.0;
    const std::size_t last = std::min(series.frames() - 1, frame + around);
    for (std::size_t f = frame < around ? 0 : frame - around; f <= last; ++f) {
        if (f != frame) {
            most = std::max(most, series.whole(f).busiest);
        }
    }
    return most;
}

/// Whether the picture before comes back right after: a flash.
bool isFlash(const BlockSeries& series, std::size_t frame) {
    if (frame + 1 >= series.frames()) {
        return true; // a last frame of its own is no shot
    }
    double away = 0.0;
    double back = 0.0;
    for (std::size_t block = 0; block < series.blocks(); ++block) {
        away += std::abs(series.level(frame, block) - series.level(frame - 1, block));
        back += std::abs(series.level(frame + 1, block) - series.level(frame - 1, block));
    }
    return back < 0.5 * away;
}

bool isStep(const std::vector<GraphicStep>& graphics, std::size_t frame) {
    return std::any_of(graphics.begin(), graphics.end(), [&](const GraphicStep& step) {
        return step.frame == static_cast<int>(frame);
    });
}

std::vector<FilmBreak> cuts(const BlockSeries& series, const std::vector<FilmBreak>& dark,
                            const std::vector<GraphicStep>& graphics) {
    std::vector<FilmBreak> found;
    for (std::size_t frame = 1; frame < series.frames(); ++frame) {
        const double change = series.whole(frame).busiest;
        if (change >= cutChange && change >= cutAgainst * mostAround(series, frame, aroundCut) &&
            !isIn(dark, frame) && !isIn(dark, frame - 1) && !isStep(graphics, frame) &&
            !isFlash(series, frame)) {
            found.push_back({FilmBreak::Kind::cut, spanOf(frame - 1, frame)});
        }
    }
    return found;
}

/// Whether a picture is no other after a while, graphics apart: slow movement adds up.
bool isSame(const BlockSeries& series, std::size_t first, std::size_t last,
            const std::vector<GraphicStep>& graphics) {
    for (std::size_t from = first, to = first; from <= last; from = to + 1) {
        to = from;
        while (to < last && !isStep(graphics, to + 1)) {
            ++to;
        }
        for (std::size_t block = 0; block < series.blocks(); ++block) {
            if (std::abs(series.level(to, block) - series.level(from, block)) > sameLevel) {
                return false;
            }
        }
    }
    return true;
}

/// Held stretches between the other breaks.
std::vector<FilmBreak> heldStretches(const BlockSeries& series,
                                     const std::vector<model::Seconds>& times,
                                     const std::vector<FilmBreak>& others,
                                     const std::vector<GraphicStep>& graphics) {
    const auto isHeldHere = [&](std::size_t frame) {
        return isStill(series, frame) || isStep(graphics, frame);
    };
    const double moving = clearMovement(series);
    std::vector<FilmBreak> found;
    for (std::size_t frame = 1; frame < series.frames(); ++frame) {
        if (isIn(others, frame) || !isHeldHere(frame)) {
            continue;
        }
        std::size_t last = frame;
        while (last + 1 < series.frames() && !isIn(others, last + 1) && isHeldHere(last + 1)) {
            ++last;
        }
        const std::size_t run = last;
        // A graphic that goes as the film goes on is no longer of the held picture.
        while (last > frame && !isStill(series, last) &&
               (last + 1 >= series.frames() || !isStill(series, last + 1))) {
            --last;
        }
        const std::size_t first = frame - 1;
        // The first picture after a dark stretch is as new as the first after a cut.
        const bool afterBreak = isIn(others, first) || (first > 0 && isIn(others, first - 1));
        const bool atBreaks = afterBreak && last + 1 < series.frames() && isIn(others, last + 1);
        const auto moves = [&](std::size_t f) {
            return !isIn(others, f) && series.whole(f).busiest >= moving;
        };
        // Out of movement from one frame to the next; a player comes to rest more slowly, and an
        // encoder takes up to two frames to do so.
        bool abrupt = false;
        for (std::size_t f = first; f > 1 && f + 2 >= first; --f) {
            abrupt = abrupt || (moves(f) && moves(f - 1));
        }
        if ((abrupt || atBreaks) && isSame(series, frame, last, graphics) &&
            (times[last] - times[first]).value >= shortestStill) {
            found.push_back(
                {FilmBreak::Kind::still, spanOf(isIn(others, first) ? frame : first, last)});
        }
        frame = run;
    }
    return found;
}

} // namespace

std::vector<FilmBreak> darkStretches(const BlockSeries& series) {
    std::vector<FilmBreak> found;
    for (std::size_t frame = 0; frame < series.frames(); ++frame) {
        if (!isBlank(series, frame)) {
            continue;
        }
        std::size_t last = frame;
        while (last + 1 < series.frames() && isBlank(series, last + 1)) {
            ++last;
        }
        const std::size_t first = fadesFrom(series, frame);
        last = fadedInBy(series, last);
        found.push_back({FilmBreak::Kind::dark, spanOf(first, last)});
        frame = last;
    }
    return found;
}

std::vector<FilmBreak> findBreaks(const BlockSeries& series,
                                  const std::vector<model::Seconds>& times,
                                  const std::vector<FilmBreak>& dark,
                                  const std::vector<GraphicStep>& graphics) {
    std::vector<FilmBreak> breaks = dark;
    const std::vector<FilmBreak> cut = cuts(series, dark, graphics);
    breaks.insert(breaks.end(), cut.begin(), cut.end());
    const std::vector<FilmBreak> held = heldStretches(series, times, breaks, graphics);
    breaks.insert(breaks.end(), held.begin(), held.end());
    std::sort(breaks.begin(), breaks.end(),
              [](const FilmBreak& a, const FilmBreak& b) { return a.span.first < b.span.first; });
    return breaks;
}

bool isRepeated(const BlockSeries& series, std::size_t frame) {
    return series.whole(frame).busiest < repeatedChange * mostAround(series, frame, aroundRepeated);
}

double repeatedShare(const BlockSeries& series, const std::vector<FilmBreak>& breaks) {
    int moving = 0;
    int repeated = 0;
    for (std::size_t frame = 1; frame < series.frames(); ++frame) {
        if (isIn(breaks, frame)) {
            continue;
        }
        const double around = mostAround(series, frame, aroundRepeated);
        if (std::max(around, series.whole(frame).busiest) < movingChange) {
            continue;
        }
        ++moving;
        repeated += isRepeated(series, frame) ? 1 : 0;
    }
    return moving > 0 ? static_cast<double>(repeated) / moving : 0.0;
}

} // namespace kestrel::film
