#include "film/graphics.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <utility>

namespace kestrel::film {
namespace {

// Working figures, set on films of the synthetic player (study/messy_film.h); steps are of 255.
constexpr double levelStep = 5.0;      ///< a block's level, from one frame to the next
constexpr double pixelStep = 12.0;     ///< a block's pixels, each of them
constexpr double steadyLevel = 2.5;    ///< a block's level while nothing happens there
constexpr double busyChange = 1.5;     ///< of a block, from frame to frame
constexpr double busyShare = 0.35;     ///< of frames
constexpr double playersChange = 2.0;  ///< of a block where somebody moves
constexpr std::size_t sideFrames = 10; ///< looked at before and after
constexpr std::size_t longFrames = 30; ///< for that long nobody moves in one place all the time
constexpr std::size_t fewestBlocks = 6;
constexpr double mostOfPicture = 0.3;
constexpr double clearShare = 0.7; ///< of the blocks that step
constexpr int fewestMoving = 8;    ///< blocks that tell where the player is
constexpr double playersShare = 0.5;
constexpr double clearlyNearer = 0.5; ///< of one picture to another, against a third
constexpr double sameBlocks = 0.3;    ///< of both steps' blocks

using Blocks = std::vector<std::size_t>;

/// Frames [first, last) of a film.
struct Frames {
    std::size_t first = 0;
    std::size_t last = 0;

    [[nodiscard]] std::size_t count() const { return last - first; }
};

/// The frames before and after a step, as far as they are not dark.
std::array<Frames, 2> sidesOf(const BlockSeries& series, std::size_t frame, std::size_t most,
                              const std::vector<model::FilmBreak>& dark) {
    Frames before{frame, frame};
    while (before.first > 0 && before.count() < most && !isIn(dark, before.first - 1)) {
        --before.first;
    }
    Frames after{frame, frame};
    while (after.last < series.frames() && after.count() < most && !isIn(dark, after.last)) {
        ++after.last;
    }
    return {before, after};
}

bool isSteady(const BlockSeries& series, std::size_t block, Frames frames) {
    double low = std::numeric_limits<double>::max();
    double high = 0.0;
    for (std::size_t f = frames.first; f < frames.last; ++f) {
        low = std::min(low, series.level(f, block));
        high = std::max(high, series.level(f, block));
    }
    return high - low < steadyLevel;
}

bool isBusy(const BlockSeries& series, std::size_t block, Frames frames) {
    std::size_t busy = 0;
    // The first frame of a stretch shows what changed before it.
    for (std::size_t f = frames.first + 1; f < frames.last; ++f) {
        busy += series.change(f, block) > busyChange ? 1 : 0;
    }
    return frames.count() > 1 &&
           static_cast<double>(busy) >= busyShare * static_cast<double>(frames.count() - 1);
}

/// Whether two blocks lie side by side or corner to corner.
bool touches(const BlockSeries& series, std::size_t one, std::size_t other) {
    const auto place = [&](std::size_t block) {
        return std::pair(static_cast<int>(block % series.columns()),
                         static_cast<int>(block / series.columns()));
    };
    const auto [x, y] = place(one);
    const auto [u, v] = place(other);
    return std::abs(x - u) <= 1 && std::abs(y - v) <= 1;
}

/// Blocks that touch each other, corners too, in groups.
std::vector<Blocks> groupsOf(const BlockSeries& series, Blocks blocks) {
    std::vector<Blocks> groups;
    while (!blocks.empty()) {
        Blocks group{blocks.back()};
        blocks.pop_back();
        for (std::size_t i = 0; i < group.size(); ++i) {
            const auto near =
                std::stable_partition(blocks.begin(), blocks.end(),
                                      [&](std::size_t b) { return !touches(series, group[i], b); });
            group.insert(group.end(), near, blocks.end());
            blocks.erase(near, blocks.end());
        }
        std::sort(group.begin(), group.end());
        groups.push_back(std::move(group));
    }
    return groups;
}

/// Whether nothing moves at all; the first frame of a stretch shows what changed before it, and an
/// encoder may need one more.
bool isStillIn(const BlockSeries& series, Frames frames) {
    for (std::size_t f = frames.first + 2; f < frames.last; ++f) {
        if (!isStill(series, f)) {
            return false;
        }
    }
    return true;
}

double shareOf(const Blocks& blocks, const auto& holds) {
    const auto count = std::count_if(blocks.begin(), blocks.end(), holds);
    return static_cast<double>(count) / static_cast<double>(blocks.size());
}

Blocks stepped(const BlockSeries& series, std::size_t frame) {
    Blocks blocks;
    for (std::size_t block = 0; block < series.blocks(); ++block) {
        if (std::abs(series.level(frame, block) - series.level(frame - 1, block)) > levelStep ||
            series.change(frame, block) > pixelStep) {
            blocks.push_back(block);
        }
    }
    return blocks;
}

/// How far these blocks stand out from all others in a frame.
double contrastOf(const BlockSeries& series, const Blocks& blocks, std::size_t frame) {
    double sum = 0.0;
    for (const std::size_t block : blocks) {
        const std::size_t column = block % series.columns();
        const std::size_t row = block / series.columns();
        for (const auto& [dx, dy] : {std::pair{-1, 0}, {1, 0}, {0, -1}, {0, 1}}) {
            const auto x = static_cast<std::ptrdiff_t>(column) + dx;
            const auto y = static_cast<std::ptrdiff_t>(row) + dy;
            if (x >= 0 && y >= 0 && x < static_cast<std::ptrdiff_t>(series.columns()) &&
                y < static_cast<std::ptrdiff_t>(series.rows())) {
                const std::size_t other =
                    static_cast<std::size_t>(y) * series.columns() + static_cast<std::size_t>(x);
                sum += std::abs(series.level(frame, block) - series.level(frame, other));
            }
        }
    }
    return sum;
}

/// Whether the player is there: what moves first after a frame, or last before it, are these blocks
/// or those beside them.
bool isWherePlayerIs(const BlockSeries& series, const Blocks& blocks, std::size_t frame,
                     const std::vector<model::FilmBreak>& dark) {
    const auto movesHere = [&](std::size_t from, std::ptrdiff_t way) {
        int moving = 0;
        int here = 0;
        for (std::size_t f = from;
             f > 0 && f < series.frames() && !isIn(dark, f) && moving < fewestMoving;
             f = static_cast<std::size_t>(static_cast<std::ptrdiff_t>(f) + way)) {
            for (std::size_t block = 0; block < series.blocks(); ++block) {
                const double all = series.whole(f).middle; // a camera that moves
                if (series.change(f, block) - all > playersChange) {
                    ++moving;
                    here += std::any_of(blocks.begin(), blocks.end(),
                                        [&](std::size_t b) { return touches(series, b, block); })
                                ? 1
                                : 0;
                }
            }
        }
        return moving > 0 && here >= playersShare * moving;
    };
    return movesHere(frame + 1, 1) || movesHere(frame - 1, -1);
}

/// Whether what is around some blocks keeps still: a player's arm is near the rest of the player.
bool isApart(const BlockSeries& series, const Blocks& blocks, Frames frames) {
    int around = 0;
    int quiet = 0;
    for (std::size_t other = 0; other < series.blocks(); ++other) {
        const bool isNear = !std::binary_search(blocks.begin(), blocks.end(), other) &&
                            std::any_of(blocks.begin(), blocks.end(), [&](std::size_t block) {
                                return touches(series, block, other);
                            });
        if (isNear) {
            ++around;
            quiet += isBusy(series, other, frames) ? 0 : 1;
        }
    }
    return quiet >= clearShare * around;
}

/// Whether nothing moves beside some blocks shortly before and after a frame: who walks past does.
bool isAlone(const BlockSeries& series, const Blocks& blocks, std::size_t frame,
             const std::vector<model::FilmBreak>& dark) {
    const auto sides = sidesOf(series, frame, sideFrames, dark);
    return std::all_of(sides.begin(), sides.end(),
                       [&](Frames frames) { return isApart(series, blocks, frames); });
}

/// Until which frame something was drawn on a held picture: the film came to a stop from full
/// movement, and as it goes on what was beneath is there again. Nothing where that is not so, as
/// after a cut to a player who stands.
std::optional<std::size_t> drawnUntil(const BlockSeries& series, const Blocks& blocks,
                                      std::size_t frame) {
    std::size_t first = frame - 1;
    while (first > 0 && isStill(series, first)) {
        --first;
    }
    std::size_t on = frame + 1;
    while (on < series.frames() && isStill(series, on)) {
        ++on;
    }
    if (first < 3 || frame - 1 - first < sideFrames / 2 || on == series.frames()) {
        return std::nullopt;
    }
    // An encoder may take two frames to come to rest.
    const double before =
        std::max(series.whole(first - 1).busiest, series.whole(first - 3).busiest);
    if (before < clearMovement(series)) {
        return std::nullopt;
    }
    double fromBeneath = 0.0;
    double fromDrawn = 0.0;
    for (const std::size_t block : blocks) {
        fromBeneath += std::abs(series.level(on, block) - series.level(frame - 1, block));
        fromDrawn += std::abs(series.level(on, block) - series.level(on - 1, block));
    }
    return fromBeneath < clearlyNearer * fromDrawn ? std::optional(on) : std::nullopt;
}

/// Groups of blocks that all change between two frames and not around them.
std::vector<Blocks> clearGroups(const BlockSeries& series, std::size_t frame,
                                const std::vector<model::FilmBreak>& dark) {
    const auto [before, after] = sidesOf(series, frame, sideFrames, dark);
    const bool stillBefore = isStillIn(series, before);
    // At one end of a held picture everything is steady on one side.
    if (before.count() < sideFrames / 2 || after.count() < sideFrames / 2 ||
        stillBefore != isStillIn(series, after)) {
        return {};
    }
    const auto isClear = [&, first = before, second = after](std::size_t block) {
        const bool steadyBefore = isSteady(series, block, first);
        const bool steadyAfter = isSteady(series, block, second);
        return (steadyBefore && (steadyAfter || isBusy(series, block, second))) ||
               (steadyAfter && isBusy(series, block, first));
    };
    Blocks changed = stepped(series, frame);
    const auto all = static_cast<double>(changed.size());
    if (all > mostOfPicture * static_cast<double>(series.blocks())) {
        return {}; // another shot
    }
    std::vector<Blocks> groups = groupsOf(series, std::move(changed));
    std::erase_if(groups, [&](const Blocks& group) {
        return group.size() < fewestBlocks || shareOf(group, isClear) < clearShare;
    });
    double grouped = 0.0;
    for (const Blocks& group : groups) {
        grouped += static_cast<double>(group.size());
    }
    // A cut between two still pictures changes things all over.
    return stillBefore && grouped < clearShare * all ? std::vector<Blocks>{} : groups;
}

double alike(const Blocks& a, const Blocks& b) {
    Blocks both;
    std::set_intersection(a.begin(), a.end(), b.begin(), b.end(), std::back_inserter(both));
    return static_cast<double>(both.size()) /
           static_cast<double>(a.size() + b.size() - both.size());
}

} // namespace

bool isIn(const std::vector<model::FilmBreak>& breaks, std::size_t frame) {
    return std::any_of(breaks.begin(), breaks.end(), [&](const model::FilmBreak& b) {
        return b.span.contains(static_cast<int>(frame));
    });
}

std::vector<GraphicStep> graphicSteps(const BlockSeries& series,
                                      const std::vector<model::FilmBreak>& dark) {
    std::vector<GraphicStep> steps;
    for (std::size_t frame = 1; frame < series.frames(); ++frame) {
        if (isIn(dark, frame) || isIn(dark, frame - 1)) {
            continue;
        }
        for (Blocks& blocks : clearGroups(series, frame, dark)) {
            const auto sides = sidesOf(series, frame, longFrames, dark);
            std::array<bool, 2> busy{};
            for (std::size_t side = 0; side < sides.size(); ++side) {
                const auto isBusyThere = [&](std::size_t block) {
                    return isBusy(series, block, sides[side]);
                };
                busy[side] = sides[side].count() >= longFrames &&
                             shareOf(blocks, isBusyThere) >= clearShare &&
                             isApart(series, blocks, sides[side]);
            }
            const auto now = static_cast<int>(frame);
            if (busy[0] != busy[1]) { // it turns
                steps.push_back({now, busy[1], std::move(blocks)});
            } else if (const auto until = drawnUntil(series, blocks, frame)) {
                steps.push_back({now, true, blocks});
                steps.push_back({static_cast<int>(*until), false, std::move(blocks)});
            } else if (isAlone(series, blocks, frame, dark) &&
                       !isWherePlayerIs(series, blocks, frame, dark)) {
                const bool comes =
                    contrastOf(series, blocks, frame) > contrastOf(series, blocks, frame - 1);
                steps.push_back({now, comes, std::move(blocks)});
            }
        }
    }
    std::stable_sort(steps.begin(), steps.end(),
                     [](const GraphicStep& a, const GraphicStep& b) { return a.frame < b.frame; });
    return steps;
}

std::vector<model::GraphicSeen> findGraphics(const BlockSeries& series,
                                             const std::vector<GraphicStep>& steps, double scale) {
    std::vector<model::GraphicSeen> graphics;
    std::vector<bool> used(steps.size(), false);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (used[i]) {
            continue;
        }
        model::FrameSpan span{0, static_cast<int>(series.frames()) - 1};
        (steps[i].comes ? span.first : span.last) = steps[i].frame - (steps[i].comes ? 0 : 1);
        for (std::size_t k = i + 1; steps[i].comes && k < steps.size(); ++k) {
            if (!used[k] && !steps[k].comes &&
                alike(steps[i].blocks, steps[k].blocks) >= sameBlocks) {
                span.last = steps[k].frame - 1;
                used[k] = true;
                break;
            }
        }
        std::size_t left = series.columns();
        std::size_t right = 0;
        std::size_t top = series.rows();
        std::size_t bottom = 0;
        for (const std::size_t block : steps[i].blocks) {
            left = std::min(left, block % series.columns());
            right = std::max(right, block % series.columns() + 1);
            top = std::min(top, block / series.columns());
            bottom = std::max(bottom, block / series.columns() + 1);
        }
        const double side = BlockSeries::side * scale;
        graphics.push_back(
            {{static_cast<double>(left) * side, static_cast<double>(top) * side,
              static_cast<double>(right - left) * side, static_cast<double>(bottom - top) * side},
             span});
    }
    return graphics;
}

std::optional<model::PixelBox> insideBars(const GrayPicture& brightest) {
    constexpr int blackTo = 28;          // with what an encoder makes of a sharp edge
    constexpr double blackShare = 0.99;  // of a line of pixels
    constexpr double narrowest = 0.02;   // of the picture's side
    constexpr double leastPicture = 0.2; // that is left, of each side
    const auto isBlack = [&](bool column, int line) {
        const int across = column ? brightest.height : brightest.width;
        int black = 0;
        for (int i = 0; i < across; ++i) {
            const int x = column ? line : i;
            const int y = column ? i : line;
            black += brightest.pixels[static_cast<std::size_t>(y) * brightest.width +
                                      static_cast<std::size_t>(x)] <= blackTo
                         ? 1
                         : 0;
        }
        return black >= blackShare * across;
    };
    const auto inside = [&](bool column) {
        const int side = column ? brightest.width : brightest.height;
        int first = 0;
        int last = side - 1;
        while (first < last && isBlack(column, first)) {
            ++first;
        }
        while (last > first && isBlack(column, last)) {
            --last;
        }
        const int least = static_cast<int>(std::ceil(narrowest * side));
        return std::pair{first >= least ? first : 0, side - 1 - last >= least ? last : side - 1};
    };
    if (brightest.pixels.empty()) {
        return std::nullopt;
    }
    const auto [left, right] = inside(true);
    const auto [top, bottom] = inside(false);
    const int width = right - left + 1;
    const int height = bottom - top + 1;
    if ((width == brightest.width && height == brightest.height) ||
        width < leastPicture * brightest.width || height < leastPicture * brightest.height) {
        return std::nullopt;
    }
    return model::PixelBox{static_cast<double>(left), static_cast<double>(top),
                           static_cast<double>(width), static_cast<double>(height)};
}

} // namespace kestrel::film
