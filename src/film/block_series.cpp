#include "film/block_series.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <functional>

namespace kestrel::film {

BlockSeries::BlockSeries(int frameCount)
    : frames_(static_cast<std::size_t>(frameCount)), wholes_(frames_) {}

void BlockSeries::add(int frame, const GrayPicture& picture) {
    const auto now = static_cast<std::size_t>(frame);
    if (columns_ == 0) {
        columns_ = static_cast<std::size_t>(picture.width / side);
        rows_ = static_cast<std::size_t>(picture.height / side);
        levels_.resize(frames_ * blocks());
        changes_.resize(frames_ * blocks());
        before_ = picture;
    }
    if (picture.pixels.size() != before_.pixels.size() || blocks() == 0) {
        return;
    }
    for (; next_ > 0 && next_ < now; ++next_) {
        std::copy_n(levels_.begin() + static_cast<std::ptrdiff_t>((next_ - 1) * blocks()), blocks(),
                    levels_.begin() + static_cast<std::ptrdiff_t>(next_ * blocks()));
        wholes_[next_] = wholes_[next_ - 1];
        wholes_[next_].busiest = wholes_[next_].most = wholes_[next_].middle = 0.0;
    }
    constexpr double pixels = side * side;
    for (std::size_t block = 0; block < blocks(); ++block) {
        const std::size_t left = block % columns_ * side;
        const std::size_t top = block / columns_ * side;
        int sum = 0;
        int changed = 0;
        for (std::size_t y = top; y < top + side; ++y) {
            const std::size_t row = y * static_cast<std::size_t>(picture.width);
            for (std::size_t i = row + left; i < row + left + side; ++i) {
                sum += picture.pixels[i];
                changed += std::abs(picture.pixels[i] - before_.pixels[i]);
            }
        }
        constexpr double most = 255.0;
        levels_[now * blocks() + block] =
            static_cast<std::uint16_t>(std::lround(sum / pixels * levelScale));
        changes_[now * blocks() + block] =
            static_cast<std::uint8_t>(std::min(most, std::round(changed / pixels * changeScale)));
    }
    measureWhole(now);
    next_ = now + 1;
    before_ = picture;
}

void BlockSeries::measureWhole(std::size_t frame) {
    constexpr std::size_t ofBusiest = 12;
    Whole& whole = wholes_[frame];
    const auto count = static_cast<double>(blocks());
    std::vector<double> levels(blocks());
    std::vector<double> changes(blocks());
    for (std::size_t block = 0; block < blocks(); ++block) {
        levels[block] = level(frame, block);
        changes[block] = change(frame, block);
        whole.mean += levels[block] / count;
    }
    // Tenths, so that a small graphic does not count.
    std::sort(levels.begin(), levels.end());
    whole.contrast = levels[levels.size() - 1 - levels.size() / 10] - levels[levels.size() / 10];
    std::sort(changes.begin(), changes.end(), std::greater<>());
    const std::size_t busiest = (changes.size() + ofBusiest - 1) / ofBusiest;
    for (std::size_t i = 0; i < busiest; ++i) {
        whole.busiest += changes[i] / static_cast<double>(busiest);
    }
    whole.most = changes.front();
    whole.middle = changes[changes.size() / 2];
}

bool isStill(const BlockSeries& series, std::size_t frame) {
    // What encoders make, on films of the synthetic player.
    constexpr double ofMost = 1.6;
    constexpr double ofBusiest = 4.0; // where one begins anew, for one frame
    const auto isQuiet = [&](std::size_t f) {
        return f > 0 && f < series.frames() && series.whole(f).most < ofMost;
    };
    return isQuiet(frame) ||
           (series.whole(frame).busiest < ofBusiest && isQuiet(frame - 1) && isQuiet(frame + 1));
}

double clearMovement(const BlockSeries& series) {
    constexpr double least = 1.0; // steps of 255; an encoder makes less
    constexpr double ofLoudest = 0.03;
    constexpr double share = 0.98; // of the frames; the few above are cuts
    std::vector<double> changes;
    for (std::size_t frame = 1; frame < series.frames(); ++frame) {
        changes.push_back(series.whole(frame).busiest);
    }
    if (changes.empty()) {
        return least;
    }
    const auto at = static_cast<std::ptrdiff_t>(share * static_cast<double>(changes.size() - 1));
    std::nth_element(changes.begin(), changes.begin() + at, changes.end());
    return std::max(least, ofLoudest * changes[static_cast<std::size_t>(at)]);
}

} // namespace kestrel::film
