#include "demo/film_render.h"

#include "demo/field.h"
#include "film/video_writer.h"

#include <algorithm>
#include <cmath>
#include <future>
#include <iterator>
#include <random>
#include <thread>

namespace kestrel::demo {
namespace {

struct Box {
    int left = 0;
    int top = 0;
    int right = 0; ///< one past
    int bottom = 0;
};

bool inPicture(const Camera& camera, const Vector& point) {
    const auto at = camera.project(point);
    return at && at->x > 0.0 && at->x < camera.width && at->y > 0.0 && at->y < camera.height;
}

/// Where player, ball and shadow can be in the picture at these instants.
Box boxAround(const std::vector<Pose>& poses, const Camera& camera, const Light& light,
              double heightM) {
    double left = 1e9;
    double right = -1e9;
    double top = 1e9;
    double bottom = -1e9;
    double margin = 0.0;
    for (const Pose& pose : poses) {
        for (const model::Landmark landmark : model::allLandmarks()) {
            const Vector& point = pose.at(landmark);
            if (landmark == model::Landmark::ball && !inPicture(camera, point)) {
                continue;
            }
            const Vector onGround =
                point - std::max(0.0, point.z()) / light.toSun.z() * light.toSun;
            for (const Vector& p : {point, onGround}) {
                if (const auto at = camera.project(p)) {
                    left = std::min(left, at->x);
                    right = std::max(right, at->x);
                    top = std::min(top, at->y);
                    bottom = std::max(bottom, at->y);
                    // Flesh, glove and peak reach at most this far beyond the landmarks.
                    margin =
                        std::max(margin, 0.13 * heightM * camera.focalPx / camera.inCamera(p).z());
                }
            }
        }
    }
    const auto clamped = [](double v, int most) {
        return static_cast<int>(std::clamp(v, 0.0, static_cast<double>(most)));
    };
    return {clamped(left - margin, camera.width), clamped(top - margin, camera.height),
            clamped(right + margin + 1.0, camera.width),
            clamped(bottom + margin + 1.0, camera.height)};
}

/// Linear light to an 8-bit sRGB step, not yet rounded (IEC 61966-2-1).
float toSrgb(float light) {
    const float v = std::clamp(light, 0.0F, 1.0F);
    return 255.0F * (v <= 0.0031308F ? 12.92F * v : 1.055F * std::pow(v, 1.0F / 2.4F) - 0.055F);
}

/// toSrgb by table: pow for every pixel of every frame would cost more than the drawing.
class Srgb {
  public:
    Srgb() {
        for (std::size_t i = 0; i < table_.size(); ++i) {
            table_[i] = toSrgb(static_cast<float>(i) / static_cast<float>(table_.size() - 1));
        }
    }
    [[nodiscard]] Colour operator()(const Colour& light) const {
        const auto step = [this](float v) {
            const float place = std::clamp(v, 0.0F, 1.0F) * static_cast<float>(table_.size() - 1);
            return table_[static_cast<std::size_t>(place + 0.5F)];
        };
        return {step(light[0]), step(light[1]), step(light[2])};
    }

  private:
    std::array<float, 8192> table_{};
};

const Srgb& srgb() {
    static const Srgb table;
    return table;
}

/// Adds sensor noise and rounds. The noise is a drawn table entered anew at a random place every
/// few pixels: a fresh normal number for each value would cost more than the drawing.
film::Picture developed(const std::vector<Colour>& steps, const FilmSpec& spec, int number) {
    film::Picture picture;
    picture.width = spec.width;
    picture.height = spec.height;
    picture.pixels.resize(steps.size());
    std::mt19937 random(spec.pitcher.seed * 7919U + static_cast<std::uint32_t>(number));
    std::normal_distribution<float> normal(0.0F, static_cast<float>(spec.noise));
    constexpr std::size_t run = 64; // pixels between entries
    std::array<float, 4096 + 3 * run> table{};
    std::generate(table.begin(), table.end(), [&] { return normal(random); });
    const auto rounded = [](float value) {
        return static_cast<std::uint32_t>(std::clamp(value + 0.5F, 0.0F, 255.0F));
    };
    const float* noise = table.data();
    for (std::size_t i = 0; i < steps.size(); ++i, noise += 3) {
        if (i % run == 0) {
            noise = table.data() + random() % 4096U;
        }
        const Colour& c = steps[i];
        picture.pixels[i] = 0xFF000000U | rounded(c[0] + noise[0]) << 16U |
                            rounded(c[1] + noise[1]) << 8U | rounded(c[2] + noise[2]);
    }
    return picture;
}

} // namespace

Camera cameraOf(const FilmSpec& spec) {
    return openSideCamera(spec.pitcher.hand, spec.pitcher.heightM, spec.distanceM, spec.width,
                          spec.height, spec.bodyFraction);
}

int frameCount(const FilmSpec& spec) {
    return static_cast<int>(std::floor((spec.toS - spec.fromS) * spec.captureRate + 1e-9)) + 1;
}

double frameTime(const FilmSpec& spec, int frame) {
    return spec.fromS + frame / spec.captureRate;
}

FrameRenderer::FrameRenderer(const FilmSpec& spec)
    : spec_(spec), motion_(spec.pitcher), camera_(cameraOf(spec)) {
    // The sun stands behind the camera's shoulder, so that the side that is filmed is lit.
    light_.toSun.y() = std::copysign(light_.toSun.y(), camera_.position.y());
    field_ = fieldPicture(camera_, light_, 17U);
    std::transform(field_.begin(), field_.end(), std::back_inserter(fieldSteps_), srgb());
}

film::Picture FrameRenderer::frame(int number, int grain) const {
    // Instants over the exposure, each with its own sub-pixel shift: motion blur and anti-aliasing
    // in one average. The shifts are a Halton sequence and average to nothing.
    constexpr int instants = 8;
    static constexpr std::array<model::Point2, instants> shifts{{{0.0, -0.17},
                                                                 {-0.25, 0.17},
                                                                 {0.25, -0.39},
                                                                 {-0.375, -0.06},
                                                                 {0.125, 0.28},
                                                                 {-0.125, -0.28},
                                                                 {0.375, 0.06},
                                                                 {0.0, 0.39}}};
    std::vector<Pose> poses;
    for (int i = 0; i < instants; ++i) {
        const double within = (i + 0.5) / instants - 0.5;
        poses.push_back(motion_.pose(frameTime(spec_, number) + within * spec_.exposureS));
    }
    const Box box = boxAround(poses, camera_, light_, spec_.pitcher.heightM);
    std::vector<Colour> steps = fieldSteps_;
    Canvas canvas(box.left, box.top, box.right - box.left, box.bottom - box.top);
    std::vector<Colour> sum(static_cast<std::size_t>(canvas.width()) * canvas.height(),
                            Colour::Zero());
    const auto fieldAt = [&](std::size_t offset) -> const Colour& {
        const std::size_t x = canvas.left() + offset % canvas.width();
        const std::size_t y = canvas.top() + offset / canvas.width();
        return field_[y * spec_.width + x];
    };
    constexpr float lightInShadow = 0.48F; // sky without sun
    for (int i = 0; i < instants; ++i) {
        canvas.clear();
        for (const Mesh& mesh :
             figure(poses[i], spec_.pitcher.heightM, spec_.pitcher.hand, spec_.outfit)) {
            canvas.draw(mesh, camera_, light_, shifts[i]);
            canvas.drawShadow(mesh, camera_, light_, shifts[i]);
        }
        for (std::size_t offset = 0; offset < sum.size(); ++offset) {
            if (canvas.covered(offset)) {
                sum[offset] += canvas.colour(offset);
            } else {
                sum[offset] += (canvas.inShadow(offset) ? lightInShadow : 1.0F) * fieldAt(offset);
            }
        }
    }
    for (std::size_t offset = 0; offset < sum.size(); ++offset) {
        const std::size_t x = canvas.left() + offset % canvas.width();
        const std::size_t y = canvas.top() + offset / canvas.width();
        steps[y * spec_.width + x] = srgb()(sum[offset] / static_cast<float>(instants));
    }
    return developed(steps, spec_, grain);
}

namespace {

int stillFrames(const Reel& reel) {
    return static_cast<int>(std::lround(reel.stillS * reel.pitches.front().captureRate));
}

} // namespace

std::vector<std::pair<int, int>> framesOfPitches(const Reel& reel) {
    std::vector<std::pair<int, int>> frames;
    int next = 0;
    for (const FilmSpec& pitch : reel.pitches) {
        const int first = next + stillFrames(reel);
        frames.emplace_back(first, first + frameCount(pitch) - 1);
        next = frames.back().second + 1 + stillFrames(reel);
    }
    return frames;
}

bool renderReel(const Reel& reel, const std::filesystem::path& file,
                const FrameProgress& progress) {
    const FilmSpec& any = reel.pitches.front();
    film::VideoWriter writer(file, any.width, any.height, any.fileRate, any.quality);
    const int still = stillFrames(reel);
    const int all = framesOfPitches(reel).back().second + 1 + still;
    const int atOnce = static_cast<int>(std::max(1U, std::thread::hardware_concurrency()));
    int done = 0;
    for (const FilmSpec& pitch : reel.pitches) {
        const FrameRenderer renderer(pitch);
        const int moving = frameCount(pitch);
        for (int next = -still; next < moving + still; next += atOnce) {
            std::vector<std::future<film::Picture>> pictures;
            for (int n = next; n < std::min(moving + still, next + atOnce); ++n) {
                pictures.push_back(std::async(std::launch::async, [&renderer, n, moving] {
                    return renderer.frame(std::clamp(n, 0, moving - 1), n);
                }));
            }
            for (auto& picture : pictures) {
                writer.write(picture.get());
                ++done;
            }
            if (progress && !progress(done, all)) {
                return false;
            }
        }
    }
    writer.finish();
    return true;
}

bool renderFilm(const FilmSpec& spec, const std::filesystem::path& file,
                const FrameProgress& progress) {
    return renderReel({{spec}, 0.0}, file, progress);
}

} // namespace kestrel::demo
