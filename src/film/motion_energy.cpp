#include "film/motion_energy.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <functional>

namespace kestrel::film {
namespace {

constexpr int blockSide = 8;              ///< pixels of the small picture
constexpr double busiestShare = 1.0 / 12; ///< a player with bat or racket fills about that much
constexpr int whiteFrom = 250;            ///< of 255: no detail above
constexpr int blackTo = 6;                ///< no detail below
constexpr float noiseSteps = 6.0F;        ///< change of a pixel that compression alone may make
constexpr double outlierShare = 0.01;     ///< of all motion, cut at each side of the mover's box

/// The stretch of `profile` that holds all of it but `outlierShare` at each end.
std::pair<int, int> middle(const std::vector<double>& profile) {
    double all = 0.0;
    for (const double p : profile) {
        all += p;
    }
    int first = 0;
    int last = static_cast<int>(profile.size()) - 1;
    double cut = 0.0;
    while (first < last && cut + profile[static_cast<std::size_t>(first)] < outlierShare * all) {
        cut += profile[static_cast<std::size_t>(first++)];
    }
    cut = 0.0;
    while (last > first && cut + profile[static_cast<std::size_t>(last)] < outlierShare * all) {
        cut += profile[static_cast<std::size_t>(last--)];
    }
    return {first, last};
}

} // namespace

MotionEnergy::MotionEnergy(const FilmIndex& index)
    : frameCount_(index.frameCount()),
      sourceWidth_(index.width),
      energy_(static_cast<std::size_t>(index.frameCount()), 0.0F) {}

void MotionEnergy::add(int frame, const GrayPicture& picture) {
    for (const std::uint8_t luma : picture.pixels) {
        lumaSum_ += luma;
        bright_ += luma >= whiteFrom ? 1 : 0;
        dark_ += luma <= blackTo ? 1 : 0;
    }
    pixels_ += static_cast<std::int64_t>(picture.pixels.size());
    if (before_.pixels.size() != picture.pixels.size()) {
        before_ = picture;
        moved_.assign(picture.pixels.size(), 0.0F);
        return;
    }
    std::vector<float> blocks;
    for (int top = 0; top + blockSide <= picture.height; top += blockSide) {
        for (int left = 0; left + blockSide <= picture.width; left += blockSide) {
            int sum = 0;
            for (int y = top; y < top + blockSide; ++y) {
                for (int x = left; x < left + blockSide; ++x) {
                    const std::size_t i = static_cast<std::size_t>(y) * picture.width + x;
                    sum += std::abs(picture.pixels[i] - before_.pixels[i]);
                }
            }
            blocks.push_back(static_cast<float>(sum) / (blockSide * blockSide));
        }
    }
    if (!blocks.empty()) {
        // The median is what the whole picture does: noise, flicker, a shaken camera.
        std::sort(blocks.begin(), blocks.end(), std::greater<>());
        const float everywhere = blocks[blocks.size() / 2];
        const auto busiest =
            static_cast<std::size_t>(std::ceil(busiestShare * static_cast<double>(blocks.size())));
        float sum = 0.0F;
        for (std::size_t i = 0; i < busiest; ++i) {
            sum += blocks[i] - everywhere;
        }
        energy_[static_cast<std::size_t>(frame)] = sum / static_cast<float>(busiest);
        for (std::size_t i = 0; i < picture.pixels.size(); ++i) {
            const auto change = static_cast<float>(std::abs(picture.pixels[i] - before_.pixels[i]));
            moved_[i] += std::max(0.0F, change - everywhere - noiseSteps);
        }
    }
    before_ = picture;
}

model::FilmStudy MotionEnergy::result() const {
    model::FilmStudy study;
    study.energy = energy_;
    if (pixels_ > 0) {
        const auto count = static_cast<double>(pixels_);
        study.brightness = lumaSum_ / count / 255.0;
        study.tooBright = static_cast<double>(bright_) / count;
        study.tooDark = static_cast<double>(dark_) / count;
    }
    std::vector<double> rows(static_cast<std::size_t>(before_.height), 0.0);
    std::vector<double> columns(static_cast<std::size_t>(before_.width), 0.0);
    double all = 0.0;
    for (std::size_t i = 0; i < moved_.size(); ++i) {
        rows[i / columns.size()] += moved_[i];
        columns[i % columns.size()] += moved_[i];
        all += moved_[i];
    }
    if (all > 0.0) {
        const double scale = sourceWidth_ / before_.width;
        const auto [top, bottom] = middle(rows);
        const auto [left, right] = middle(columns);
        study.mover = model::PixelBox{left * scale, top * scale, (right - left + 1) * scale,
                                      (bottom - top + 1) * scale};
    }
    return study;
}

} // namespace kestrel::film
