#include "film/motion_energy.h"

#include "film/film_breaks.h"
#include "film/graphics.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>

namespace kestrel::film {
namespace {

constexpr double busiestShare = 1.0 / 12; ///< a player with bat or racket fills about that much
constexpr int whiteFrom = 250;            ///< of 255: no detail above
constexpr int blackTo = 6;                ///< no detail below
constexpr double noiseSteps = 2.0;        ///< change of a block that compression alone may make
constexpr double outlierShare = 0.01;     ///< of all motion, cut at each side of the mover's box

/// The stretch of `profile`, in its own steps, that holds all of it but `outlierShare` at each end.
std::pair<double, double> middle(const std::vector<double>& profile) {
    double all = 0.0;
    for (const double p : profile) {
        all += p;
    }
    const double least = outlierShare * all;
    std::size_t first = 0;
    double before = 0.0;
    while (first + 1 < profile.size() && before + profile[first] < least) {
        before += profile[first++];
    }
    std::size_t last = profile.size() - 1;
    double after = 0.0;
    while (last > first && after + profile[last] < least) {
        after += profile[last--];
    }
    const auto within = [](double part, double whole) { return whole > 0.0 ? part / whole : 0.0; };
    return {static_cast<double>(first) + within(least - before, profile[first]),
            static_cast<double>(last + 1) - within(least - after, profile[last])};
}

/// Where and when something may move: neither in a break nor under a graphic.
class Movement {
  public:
    Movement(const BlockSeries& series, const std::vector<model::FilmBreak>& breaks,
             const std::vector<GraphicStep>& graphics)
        : series_(series), takes_(series.frames(), true), free_(series.blocks(), true) {
        for (const model::FilmBreak& b : breaks) {
            // From the last frame before a cut to the first after it nothing moved.
            const int first = b.kind == model::FilmBreak::Kind::cut ? b.span.last : b.span.first;
            // The picture after a dark or held stretch differs from it without having moved.
            const int last =
                std::min(b.span.last + (b.kind == model::FilmBreak::Kind::dark ? 1 : 0),
                         static_cast<int>(series.frames()) - 1);
            for (int frame = first; frame <= last; ++frame) {
                takes_[static_cast<std::size_t>(frame)] = false;
            }
        }
        for (const GraphicStep& step : graphics) {
            for (const std::size_t block : step.blocks) {
                free_[block] = false;
            }
        }
    }

    /// How much a block changes beyond what all of the picture does; 0 where nothing counts.
    [[nodiscard]] double at(std::size_t frame, std::size_t block) const {
        return takes_[frame] && free_[block]
                   ? series_.change(frame, block) - series_.whole(frame).middle
                   : 0.0;
    }

    [[nodiscard]] float energy(std::size_t frame) const {
        std::vector<double> moved(series_.blocks());
        for (std::size_t block = 0; block < moved.size(); ++block) {
            moved[block] = at(frame, block);
        }
        const auto busiest =
            static_cast<std::size_t>(std::ceil(busiestShare * static_cast<double>(moved.size())));
        std::partial_sort(moved.begin(), moved.begin() + static_cast<std::ptrdiff_t>(busiest),
                          moved.end(), std::greater<>());
        double sum = 0.0;
        for (std::size_t i = 0; i < busiest; ++i) {
            sum += std::max(0.0, moved[i]);
        }
        return static_cast<float>(sum / static_cast<double>(busiest));
    }

    /// Where things move over the whole film, in blocks; nothing where none do.
    [[nodiscard]] std::optional<model::PixelBox> box() const {
        std::vector<double> rows(series_.rows());
        std::vector<double> columns(series_.columns());
        double all = 0.0;
        for (std::size_t frame = 1; frame < series_.frames(); ++frame) {
            for (std::size_t block = 0; block < series_.blocks(); ++block) {
                const double moved = std::max(0.0, at(frame, block) - noiseSteps);
                rows[block / series_.columns()] += moved;
                columns[block % series_.columns()] += moved;
                all += moved;
            }
        }
        if (all <= 0.0) {
            return std::nullopt;
        }
        const auto [top, bottom] = middle(rows);
        const auto [left, right] = middle(columns);
        return model::PixelBox{left, top, right - left, bottom - top};
    }

  private:
    const BlockSeries& series_;
    std::vector<bool> takes_; ///< frame by frame
    std::vector<bool> free_;  ///< block by block
};

model::PixelBox scaled(const model::PixelBox& box, double by) {
    return {box.left * by, box.top * by, box.width * by, box.height * by};
}

} // namespace

MotionEnergy::MotionEnergy(const FilmIndex& index)
    : sourceWidth_(index.width), times_(index.fileTimes()), series_(index.frameCount()) {}

void MotionEnergy::add(int frame, const GrayPicture& picture) {
    for (const std::uint8_t luma : picture.pixels) {
        lumaSum_ += luma;
        bright_ += luma >= whiteFrom ? 1 : 0;
        dark_ += luma <= blackTo ? 1 : 0;
    }
    pixels_ += static_cast<std::int64_t>(picture.pixels.size());
    if (brightest_.pixels.size() != picture.pixels.size()) {
        brightest_ = picture;
    }
    std::transform(picture.pixels.begin(), picture.pixels.end(), brightest_.pixels.begin(),
                   brightest_.pixels.begin(),
                   [](std::uint8_t a, std::uint8_t b) { return std::max(a, b); });
    series_.add(frame, picture);
}

model::FilmStudy MotionEnergy::result() const {
    model::FilmStudy study;
    study.energy.assign(series_.frames(), 0.0F);
    if (pixels_ == 0) {
        return study;
    }
    const auto count = static_cast<double>(pixels_);
    study.brightness = lumaSum_ / count / 255.0;
    study.tooBright = static_cast<double>(bright_) / count;
    study.tooDark = static_cast<double>(dark_) / count;
    const double scale = sourceWidth_ / brightest_.width;
    if (const auto inside = insideBars(brightest_)) {
        study.insideBars = scaled(*inside, scale);
    }
    if (series_.blocks() == 0) {
        return study;
    }
    const std::vector<model::FilmBreak> dark = darkStretches(series_);
    const std::vector<GraphicStep> graphics = graphicSteps(series_, dark);
    study.breaks = findBreaks(series_, times_, dark, graphics);
    study.graphics = findGraphics(series_, graphics, scale);
    study.repeated = repeatedShare(series_, study.breaks);
    const Movement movement(series_, study.breaks, graphics);
    for (std::size_t frame = 1; frame < series_.frames(); ++frame) {
        // A picture shown several times moved at its first showing and goes on moving unseen.
        const bool again = study.repeated >= model::clearlyRepeated && isRepeated(series_, frame);
        study.energy[frame] = again ? study.energy[frame - 1] : movement.energy(frame);
    }
    if (const auto box = movement.box()) {
        study.mover = scaled(*box, BlockSeries::side * scale);
    }
    return study;
}

} // namespace kestrel::film
