#include "synth/film_edit.h"

#include "film/video_writer.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <future>
#include <memory>
#include <numbers>
#include <optional>
#include <thread>

namespace kestrel::synth {
namespace {

constexpr std::uint32_t whitePixel = 0xFFF2F2F2U;
constexpr std::uint32_t blackPixel = 0xFF000000U;
constexpr std::uint32_t navyPixel = 0xFF16284AU;
constexpr std::uint32_t yellowPixel = 0xFFF0D23CU;

/// The colour of a graphic at a place in its box, 0…1 from left to right and top to bottom; nothing
/// where one sees through.
std::optional<std::uint32_t> colourOf(Graphic graphic, double u, double v, double seconds) {
    switch (graphic) {
    case Graphic::turningLogo: {
        // A disc of six sectors, half a turn a second.
        const double x = 2.0 * u - 1.0;
        const double y = 2.0 * v - 1.0;
        if (x * x + y * y > 1.0) {
            return std::nullopt;
        }
        constexpr int sectors = 6;
        const double turns = std::atan2(y, x) / (2.0 * std::numbers::pi) + 0.5 * seconds + 2.0;
        return static_cast<int>(std::floor(sectors * turns)) % 2 == 0 ? whitePixel : navyPixel;
    }
    case Graphic::scoreLine: {
        // Light strokes of letters on a dark band.
        constexpr int letters = 14;
        const double within = u * letters - std::floor(u * letters);
        const bool stroke = v > 0.25 && v < 0.75 &&
                            (within < 0.2 || (within < 0.6 && std::abs(v - 0.5) < 0.08) ||
                             (within > 0.5 && within < 0.65));
        return stroke ? whitePixel : navyPixel;
    }
    case Graphic::arrow: {
        const double off = std::abs(u - v);
        const bool shaft = off < 0.06;
        const bool head = u > 0.7 && v > 0.7 && u + v < 2.0 - 0.4 * off && off < 0.3;
        return shaft || head ? std::optional(yellowPixel) : std::nullopt;
    }
    }
    return std::nullopt;
}

void paint(const LaidOver& laid, double seconds, film::Picture& picture) {
    const auto left = static_cast<int>(laid.box.left);
    const auto top = static_cast<int>(laid.box.top);
    const auto width = static_cast<int>(laid.box.width);
    const auto height = static_cast<int>(laid.box.height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            if (const auto colour =
                    colourOf(laid.graphic, (x + 0.5) / width, (y + 0.5) / height, seconds)) {
                picture.pixels[static_cast<std::size_t>(top + y) * picture.width +
                               static_cast<std::size_t>(left + x)] = *colour;
            }
        }
    }
}

void barsOver(int width, film::Picture& picture) {
    for (int y = 0; y < picture.height; ++y) {
        const auto row = picture.pixels.begin() + static_cast<std::ptrdiff_t>(y) * picture.width;
        std::fill_n(row, width, blackPixel);
        std::fill_n(row + picture.width - width, width, blackPixel);
    }
}

void dim(double light, film::Picture& picture) {
    for (std::uint32_t& pixel : picture.pixels) {
        std::uint32_t dimmed = blackPixel;
        for (const unsigned shift : {0U, 8U, 16U}) {
            const auto step = static_cast<double>(pixel >> shift & 0xFFU);
            dimmed |= static_cast<std::uint32_t>(std::lround(light * step)) << shift;
        }
        pixel = dimmed;
    }
}

/// A shot's renderer. Somebody who stands still is drawn once; only the grain changes.
class Shot {
  public:
    explicit Shot(const FrameRenderer& renderer) : renderer_(renderer) {}

    void standBefore() {
        if (before_.empty()) {
            before_ = renderer_.light(0);
        }
    }
    void standAfter() {
        if (after_.empty()) {
            after_ = renderer_.light(count() - 1);
        }
    }
    [[nodiscard]] int count() const { return renderer_.scene().frameCount(); }
    [[nodiscard]] film::Picture picture(int take) const {
        return take < 0          ? renderer_.picture(before_, take)
               : take >= count() ? renderer_.picture(after_, take)
                                 : renderer_.frame(take);
    }

  private:
    const FrameRenderer& renderer_;
    std::vector<Colour> before_;
    std::vector<Colour> after_;
};

/// Writes the frames of `edit`, taken from `shots`. False when `progress` cancelled.
bool write(const FilmEdit& edit, std::vector<Shot>& shots, film::VideoWriter& writer,
           const FrameProgress& progress) {
    for (const EditedFrame& frame : edit.frames) {
        Shot& shot = shots[static_cast<std::size_t>(frame.shot)];
        if (frame.take < 0) {
            shot.standBefore();
        } else if (frame.take >= shot.count()) {
            shot.standAfter();
        }
    }
    const auto& spec = edit.shots.front();
    const double perSecond =
        static_cast<double>(spec.fileRate.num) / static_cast<double>(spec.fileRate.den);
    // Twice as many pictures as cores are under way, so that none waits for the encoder.
    const std::size_t underWay = 2 * std::max(1U, std::thread::hardware_concurrency());
    const std::size_t all = edit.frames.size();
    std::deque<std::shared_future<film::Picture>> pictures;
    std::shared_future<film::Picture> latest;
    std::size_t asked = 0;
    for (std::size_t i = 0; i < all; ++i) {
        while (asked < all && pictures.size() < underWay) {
            const EditedFrame& frame = edit.frames[asked++];
            if (!frame.held || !latest.valid()) {
                const Shot& shot = shots[static_cast<std::size_t>(frame.shot)];
                latest = std::async(std::launch::async, [&shot, take = frame.take] {
                             return shot.picture(take);
                         }).share();
            }
            pictures.push_back(latest);
        }
        film::Picture picture = pictures.front().get();
        pictures.pop_front();
        if (edit.frames[i].light < 1.0) {
            dim(edit.frames[i].light, picture);
        }
        barsOver(edit.barPx, picture);
        for (const LaidOver& laid : edit.graphics) {
            if (laid.frames.contains(static_cast<int>(i))) {
                paint(laid, static_cast<double>(i) / perSecond, picture);
            }
        }
        writer.write(picture);
        if (progress && !progress(static_cast<int>(i) + 1, static_cast<int>(all))) {
            return false;
        }
    }
    return true;
}

film::VideoWriter writerFor(const FilmSpec& spec, const std::filesystem::path& file) {
    return {file, spec.width, spec.height, spec.fileRate, spec.quality};
}

int stillFrames(const Reel& reel) {
    return static_cast<int>(std::lround(reel.stillS * reel.reps.front().captureRate));
}

} // namespace

void play(FilmEdit& edit, int shot, int first, int last) {
    for (int take = first; take <= last; ++take) {
        edit.frames.push_back({shot, take});
    }
}

void playWhole(FilmEdit& edit, int shot, int still) {
    const int count = FilmScene(edit.shots[static_cast<std::size_t>(shot)]).frameCount();
    play(edit, shot, -still, count - 1 + still);
}

void hold(FilmEdit& edit, int count) {
    EditedFrame last = edit.frames.back();
    last.held = true;
    edit.frames.insert(edit.frames.end(), static_cast<std::size_t>(count), last);
}

void dark(FilmEdit& edit, int count) {
    EditedFrame last = edit.frames.empty() ? EditedFrame{} : edit.frames.back();
    last.light = 0.0;
    last.held = !edit.frames.empty();
    edit.frames.insert(edit.frames.end(), static_cast<std::size_t>(count), last);
}

void fadeOut(FilmEdit& edit, int count) {
    for (int i = 0; i < count; ++i) {
        edit.frames[edit.frames.size() - 1 - static_cast<std::size_t>(i)].light =
            static_cast<double>(i) / count;
    }
}

void fadeIn(FilmEdit& edit, int from, int count) {
    for (int i = 0; i < count; ++i) {
        edit.frames[static_cast<std::size_t>(from + i)].light = static_cast<double>(i) / count;
    }
}

void repeatPictures(FilmEdit& edit, int every) {
    for (std::size_t i = 0; i < edit.frames.size(); ++i) {
        if (i % static_cast<std::size_t>(every) != 0) {
            edit.frames[i] = edit.frames[i - 1];
            edit.frames[i].held = true;
        }
    }
}

bool renderEdit(const FilmEdit& edit, const std::filesystem::path& file,
                const FrameProgress& progress) {
    std::vector<std::unique_ptr<FrameRenderer>> renderers;
    std::vector<Shot> shots;
    for (const FilmSpec& spec : edit.shots) {
        renderers.push_back(std::make_unique<FrameRenderer>(spec));
        shots.emplace_back(*renderers.back());
    }
    film::VideoWriter writer = writerFor(edit.shots.front(), file);
    if (!write(edit, shots, writer, progress)) {
        return false;
    }
    writer.finish();
    return true;
}

std::vector<std::pair<int, int>> framesOfReps(const Reel& reel) {
    std::vector<std::pair<int, int>> frames;
    int next = 0;
    for (const FilmSpec& rep : reel.reps) {
        const int first = next + stillFrames(reel);
        frames.emplace_back(first, first + FilmScene(rep).frameCount() - 1);
        next = frames.back().second + 1 + stillFrames(reel);
    }
    return frames;
}

bool renderReel(const Reel& reel, const std::filesystem::path& file,
                const FrameProgress& progress) {
    FilmEdit edit{reel.reps, {}, {}};
    for (std::size_t i = 0; i < reel.reps.size(); ++i) {
        playWhole(edit, static_cast<int>(i), stillFrames(reel));
    }
    return renderEdit(edit, file, progress);
}

bool renderFilm(const FrameRenderer& renderer, const std::filesystem::path& file,
                const FrameProgress& progress) {
    FilmEdit edit{{renderer.scene().spec()}, {}, {}};
    playWhole(edit, 0, 0);
    std::vector<Shot> shots{Shot(renderer)};
    film::VideoWriter writer = writerFor(edit.shots.front(), file);
    if (!write(edit, shots, writer, progress)) {
        return false;
    }
    writer.finish();
    return true;
}

} // namespace kestrel::synth
