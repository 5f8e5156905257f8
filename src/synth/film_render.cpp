#include "synth/film_render.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <random>

namespace kestrel::synth {
namespace {

using model::Landmark;

/// Instants over the exposure, each with its own sub-pixel shift: motion blur and anti-aliasing in
/// one average. The shifts are a Halton sequence and average to nothing.
constexpr int instants = 8;
constexpr std::array<model::Point2, instants> shifts{{{0.0, -0.17},
                                                      {-0.25, 0.17},
                                                      {0.25, -0.39},
                                                      {-0.375, -0.06},
                                                      {0.125, 0.28},
                                                      {-0.125, -0.28},
                                                      {0.375, 0.06},
                                                      {0.0, 0.39}}};

constexpr float lightInShadow = 0.48F; // sky without sun

struct Box {
    int left = 0;
    int top = 0;
    int right = 0; ///< one past
    int bottom = 0;
};

/// Where these meshes and their shadows can be in the picture.
Box boxAround(const std::vector<std::vector<Mesh>>& scenes, const Camera& camera,
              const Light& light) {
    double left = 1e9;
    double right = -1e9;
    double top = 1e9;
    double bottom = -1e9;
    const auto take = [&](const Vector& at) {
        if (const auto p = camera.project(at)) {
            left = std::min(left, p->x);
            right = std::max(right, p->x);
            top = std::min(top, p->y);
            bottom = std::max(bottom, p->y);
        }
    };
    for (const std::vector<Mesh>& meshes : scenes) {
        for (const Mesh& mesh : meshes) {
            constexpr std::size_t some = 3; // the margin covers those between
            for (std::size_t i = 0; i < mesh.vertices.size(); i += some) {
                const Vector& at = mesh.vertices[i].at;
                take(at);
                take(at - std::max(0.0, at.z()) / light.toSun.z() * light.toSun);
            }
        }
    }
    constexpr double margin = 6.0;
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
film::Picture developed(const std::vector<Colour>& light, const FilmSpec& spec, int number) {
    film::Picture picture;
    picture.width = spec.width;
    picture.height = spec.height;
    picture.pixels.resize(light.size());
    std::mt19937 random(spec.player.seed * 7919U + static_cast<std::uint32_t>(number));
    std::normal_distribution<float> normal(0.0F, static_cast<float>(spec.noise));
    constexpr std::size_t run = 64; // pixels between entries
    std::array<float, 4096 + 3 * run> table{};
    std::generate(table.begin(), table.end(), [&] { return normal(random); });
    const auto rounded = [](float value) {
        return static_cast<std::uint32_t>(std::clamp(value + 0.5F, 0.0F, 255.0F));
    };
    const auto gain = static_cast<float>(spec.brightness);
    const float* noise = table.data();
    for (std::size_t i = 0; i < light.size(); ++i, noise += 3) {
        if (i % run == 0) {
            noise = table.data() + random() % 4096U;
        }
        const Colour c = srgb()(gain * light[i]);
        picture.pixels[i] = 0xFF000000U | rounded(c[0] + noise[0]) << 16U |
                            rounded(c[1] + noise[1]) << 8U | rounded(c[2] + noise[2]);
    }
    return picture;
}

std::vector<Mesh> moved(std::vector<Mesh> meshes, const Vector& by, double turnDeg) {
    const double turn = model::toRadians(model::Degrees(turnDeg));
    const double c = std::cos(turn);
    const double s = std::sin(turn);
    const auto turned = [&](const Vector& v) {
        return Vector(c * v.x() - s * v.y(), s * v.x() + c * v.y(), v.z());
    };
    for (Mesh& mesh : meshes) {
        for (Vertex& vertex : mesh.vertices) {
            vertex.at = turned(vertex.at) + by;
            vertex.normal = turned(vertex.normal);
        }
    }
    return meshes;
}

/// Other people's clothes.
Outfit strangersOutfit(int number) {
    Outfit outfit;
    outfit.headwear = number % 2 == 0 ? Headwear::none : Headwear::cap;
    outfit.shorts = number % 3 == 0;
    const auto tone = static_cast<float>(number % 4);
    outfit.shirt = Colour(0.42F - 0.1F * tone, 0.12F + 0.09F * tone, 0.16F + 0.05F * tone);
    outfit.trousers = Colour(0.10F + 0.05F * tone, 0.11F, 0.14F);
    outfit.skin = number % 2 == 0 ? Colour(0.30F, 0.18F, 0.12F) : Colour(0.58F, 0.39F, 0.29F);
    return outfit;
}

/// A walking grown-up, whose motion sheet is a single stride to be repeated.
PlayerMotion walker() {
    PlayerSpec spec;
    spec.technique = "people/walking";
    spec.build.heightM = 1.74;
    return PlayerMotion(spec);
}

constexpr double walkingSpeed = 1.3; // m/s

} // namespace

FilmScene::FilmScene(const FilmSpec& spec)
    : spec_(spec),
      motion_(spec.player),
      from_(spec.fromS.value_or(motion_.begin())),
      to_(spec.toS.value_or(motion_.end())) {
    // The middle of where the hips go.
    const auto hips = [&](double time) {
        const Pose pose = motion_.pose(time);
        return Vector(0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip)));
    };
    Vector low = hips(motion_.begin());
    Vector high = low;
    constexpr int looks = 24;
    for (int i = 1; i <= looks; ++i) {
        const Vector at = hips(std::lerp(motion_.begin(), motion_.end(), i / double(looks)));
        low = low.cwiseMin(at);
        high = high.cwiseMax(at);
    }
    middle_ = 0.5 * (low + high);
    middle_.z() = 0.0;
}

void FilmScene::refilm(const CameraSpec& camera, double captureRate) {
    spec_.camera = camera;
    spec_.captureRate = captureRate;
}

int FilmScene::frameCount() const {
    return static_cast<int>(std::floor((to_ - from_) * spec_.captureRate + 1e-9)) + 1;
}

double FilmScene::frameTime(int frame) const {
    return from_ + frame / spec_.captureRate;
}

int FilmScene::frameAt(double time) const {
    return static_cast<int>(std::lround((time - from_) * spec_.captureRate));
}

Camera FilmScene::camera(double time) const {
    const Pose pose = motion_.pose(time);
    Vector now = 0.5 * (pose.at(Landmark::leftHip) + pose.at(Landmark::rightHip));
    now.z() = 0.0;
    const double handed = spec_.player.hand == model::Hand::right ? 1.0 : -1.0;
    const Subject subject{middle_, now, motion_.heightM(),
                          handed * (motion_.sheet().leadIsOffSide ? -1.0 : 1.0)};
    return cameraAt(spec_.camera, spec_.width, spec_.height, subject, time);
}

Camera FilmScene::steadyCamera() const {
    const Subject subject{middle_, middle_, motion_.heightM(),
                          (spec_.player.hand == model::Hand::right ? 1.0 : -1.0) *
                              (motion_.sheet().leadIsOffSide ? -1.0 : 1.0)};
    CameraSpec steady = spec_.camera;
    steady.shakePx = 0.0;
    steady.pans = false;
    return cameraAt(steady, spec_.width, spec_.height, subject, 0.0);
}

FrameRenderer::FrameRenderer(const FilmSpec& spec)
    : scene_(spec),
      place_(placeNamed(spec.place.empty() ? scene_.motion().sheet().place : spec.place, 17U)) {
    // Outdoors the sun stands behind the camera's shoulder, so that the side that is filmed is lit.
    if (!place_.indoors) {
        const Vector from = scene_.steadyCamera().position;
        place_.light.toSun.y() = std::copysign(place_.light.toSun.y(), from.y());
    }
    if (spec.passerBy || spec.bystanders > 0) {
        walker_.emplace(walker());
    }
    paintBackground();
}

void FrameRenderer::paintBackground() {
    Camera camera = scene_.steadyCamera();
    if (scene_.cameraMoves()) {
        // Wide enough for all that the moving camera sees, and without its lens's distortion.
        double mostX = 0.0;
        double mostY = 0.0;
        for (int frame = 0; frame < scene_.frameCount(); ++frame) {
            const Camera now = scene_.camera(scene_.frameTime(frame));
            for (const model::Point2 corner : {model::Point2{0.0, 0.0},
                                               {now.width - 1.0, 0.0},
                                               {0.0, now.height - 1.0},
                                               {now.width - 1.0, now.height - 1.0}}) {
                const Vector d = now.directionAt(corner);
                const double z = d.dot(camera.forward);
                mostX = std::max(mostX, std::abs(camera.focalPx * d.dot(camera.right) / z));
                mostY = std::max(mostY, std::abs(camera.focalPx * d.dot(camera.down) / z));
            }
        }
        camera.distortion = 0.0;
        camera.width = 2 * static_cast<int>(std::ceil(mostX) + 2.0);
        camera.height = 2 * static_cast<int>(std::ceil(mostY) + 2.0);
    }
    background_.camera = camera;
    background_.light = emptyPicture(place_, camera, 17U);
    background_.nearness.assign(background_.light.size(), 0.0F);
    std::vector<Mesh> things = place_.things;
    for (int i = 0; i < scene_.spec().bystanders; ++i) {
        // On the far side of the player, spread out, standing in mid-stride.
        const Vector away =
            -scene_.steadyCamera().position.cwiseProduct(Vector(1, 1, 0)).normalized();
        const Vector aside(-away.y(), away.x(), 0.0);
        const double spread = (i % 2 == 0 ? 1.0 : -1.0) * (1.1 + 0.8 * (i / 2));
        const Pose pose = walker_->pose(0.1 * i);
        for (Mesh& mesh : moved(figure(pose, walker_->heightM(), strangersOutfit(i),
                                       walker_->implement(), nullptr),
                                (3.0 + 0.9 * i) * away + spread * aside, 70.0 * i)) {
            things.push_back(std::move(mesh));
        }
    }
    if (!things.empty()) {
        Canvas canvas(0, 0, camera.width, camera.height);
        for (const Mesh& mesh : things) {
            canvas.draw(mesh, camera, place_.light, {});
        }
        for (std::size_t i = 0; i < background_.nearness.size(); ++i) {
            background_.nearness[i] = canvas.nearness(i);
        }
        const std::vector<Colour> empty = background_.light;
        std::fill(background_.light.begin(), background_.light.end(), Colour(Colour::Zero()));
        for (const model::Point2 shift : shifts) {
            canvas.clear();
            for (const Mesh& mesh : things) {
                canvas.draw(mesh, camera, place_.light, shift);
                canvas.drawShadow(mesh, camera, place_.light, shift);
            }
            for (std::size_t i = 0; i < empty.size(); ++i) {
                background_.light[i] += (canvas.covered(i)    ? canvas.colour(i)
                                         : canvas.inShadow(i) ? Colour(lightInShadow * empty[i])
                                                              : empty[i]) /
                                        static_cast<float>(instants);
            }
        }
    }
    if (!scene_.cameraMoves()) {
        still_ = {std::move(background_.light), std::move(background_.nearness)};
    }
}

FrameRenderer::Backdrop FrameRenderer::backdrop(const Camera& camera) const {
    if (!scene_.cameraMoves()) {
        return still_;
    }
    // The camera only turns: every pixel looks along a ray that the wide picture has seen too.
    const Camera& wide = background_.camera;
    const model::Point2 centre = wide.principalPoint();
    Backdrop seen;
    seen.light.resize(static_cast<std::size_t>(camera.width) * camera.height);
    seen.nearness.resize(seen.light.size());
    for (int y = 0; y < camera.height; ++y) {
        for (int x = 0; x < camera.width; ++x) {
            const Vector d = camera.directionAt({static_cast<double>(x), static_cast<double>(y)});
            const double z = d.dot(wide.forward);
            const double u = std::clamp(centre.x + wide.focalPx * d.dot(wide.right) / z, 0.0,
                                        wide.width - 1.001);
            const double v = std::clamp(centre.y + wide.focalPx * d.dot(wide.down) / z, 0.0,
                                        wide.height - 1.001);
            const auto left = static_cast<std::size_t>(u);
            const auto top = static_cast<std::size_t>(v);
            const auto fx = static_cast<float>(u - static_cast<double>(left));
            const auto fy = static_cast<float>(v - static_cast<double>(top));
            const std::size_t at = top * wide.width + left;
            const auto& light = background_.light;
            const std::size_t here = static_cast<std::size_t>(y) * camera.width + x;
            seen.light[here] =
                (1 - fy) * ((1 - fx) * light[at] + fx * light[at + 1]) +
                fy * ((1 - fx) * light[at + wide.width] + fx * light[at + wide.width + 1]);
            seen.nearness[here] = background_.nearness[(top + (fy > 0.5F ? 1 : 0)) * wide.width +
                                                       left + (fx > 0.5F ? 1 : 0)];
        }
    }
    return seen;
}

std::vector<Mesh> FrameRenderer::meshesAt(double time) const {
    const PlayerMotion& motion = scene_.motion();
    std::vector<Mesh> meshes = figure(motion.pose(time), motion.heightM(), scene_.spec().outfit,
                                      motion.implement(), motion.ball());
    if (scene_.spec().passerBy) {
        // Past the player half-way through the film, a third of the way to the camera.
        const Camera camera = scene_.steadyCamera();
        const double stride = walker_->end() - walker_->begin();
        const double into = std::fmod(time - motion.begin(), stride);
        const Pose pose = walker_->pose(walker_->begin() + into);
        const double halfWay = 0.5 * (motion.begin() + motion.end());
        const Vector ahead(camera.position.x(), camera.position.y(), 0.0);
        Vector across = camera.right;
        across.z() = 0.0;
        const Vector at = 0.4 * ahead + walkingSpeed * (time - halfWay) * across.normalized();
        const double turn = model::degreesFromRadians(std::atan2(across.y(), across.x())).value;
        for (Mesh& mesh : moved(figure(pose, walker_->heightM(), strangersOutfit(5),
                                       walker_->implement(), nullptr),
                                at, turn)) {
            meshes.push_back(std::move(mesh));
        }
    }
    return meshes;
}

std::vector<Colour> FrameRenderer::exposed(double time) const {
    const FilmSpec& spec = scene_.spec();
    const Camera camera = scene_.camera(time);
    std::vector<std::vector<Mesh>> scenes;
    for (int i = 0; i < instants; ++i) {
        const double within = (i + 0.5) / instants - 0.5;
        scenes.push_back(meshesAt(time + within * spec.exposureS));
    }
    const Box box = boxAround(scenes, camera, place_.light);
    Backdrop back = backdrop(camera);
    Canvas canvas(box.left, box.top, box.right - box.left, box.bottom - box.top);
    std::vector<Colour> sum(static_cast<std::size_t>(canvas.width()) * canvas.height(),
                            Colour::Zero());
    // Row by row: the canvas is a window of the picture.
    const auto eachPixel = [&](const auto& visit) {
        for (int y = 0; y < canvas.height(); ++y) {
            const std::size_t offset = static_cast<std::size_t>(y) * canvas.width();
            const std::size_t at =
                static_cast<std::size_t>(canvas.top() + y) * spec.width + canvas.left();
            for (std::size_t x = 0; x < static_cast<std::size_t>(canvas.width()); ++x) {
                visit(offset + x, at + x);
            }
        }
    };
    for (int i = 0; i < instants; ++i) {
        canvas.clear();
        for (const Mesh& mesh : scenes[i]) {
            canvas.draw(mesh, camera, place_.light, shifts[i]);
            canvas.drawShadow(mesh, camera, place_.light, shifts[i]);
        }
        eachPixel([&](std::size_t offset, std::size_t at) {
            if (canvas.nearness(offset) > back.nearness[at]) {
                sum[offset] += canvas.colour(offset);
            } else {
                // A shadow falls on the ground, not on the things that stand on it.
                const bool dark = canvas.inShadow(offset) && back.nearness[at] == 0.0F;
                sum[offset] += (dark ? lightInShadow : 1.0F) * back.light[at];
            }
        });
    }
    eachPixel([&](std::size_t offset, std::size_t at) {
        back.light[at] = sum[offset] / static_cast<float>(instants);
    });
    if (spec.nettingInFront) {
        netOver(back.light);
    }
    return std::move(back.light);
}

void FrameRenderer::netOver(std::vector<Colour>& light) const {
    // A net near the lens: its threads are out of focus and only darken a little.
    const FilmSpec& spec = scene_.spec();
    const double cell = spec.height / 12.0;
    constexpr double thread = 0.10;
    for (int y = 0; y < spec.height; ++y) {
        for (int x = 0; x < spec.width; ++x) {
            const double a = std::fmod(x + y, cell) / cell;
            const double b = std::fmod(x - y + 100.0 * cell, cell) / cell;
            const double near = std::min(std::min(a, 1.0 - a), std::min(b, 1.0 - b));
            if (near < thread) {
                const auto veil = static_cast<float>(0.55 * (1.0 - near / thread));
                Colour& at = light[static_cast<std::size_t>(y) * spec.width + x];
                at += veil * (Colour(0.06F, 0.07F, 0.06F) - at);
            }
        }
    }
}

std::vector<Colour> FrameRenderer::light(int number) const {
    const FilmSpec& spec = scene_.spec();
    const double time = scene_.frameTime(number);
    std::vector<Colour> light = exposed(time);
    if (spec.interlaced) {
        const std::vector<Colour> second = exposed(time + 0.5 / spec.captureRate);
        for (int y = 1; y < spec.height; y += 2) {
            const auto row = static_cast<std::ptrdiff_t>(y) * spec.width;
            std::copy_n(second.begin() + row, spec.width, light.begin() + row);
        }
    }
    return light;
}

film::Picture FrameRenderer::picture(const std::vector<Colour>& light, int grain) const {
    return developed(light, scene_.spec(), grain);
}

film::Picture FrameRenderer::frame(int number) const {
    return picture(light(number), number);
}

std::bitset<Pose::count> FrameRenderer::hidden(int number) const {
    const double time = scene_.frameTime(number);
    const Camera camera = scene_.camera(time);
    const std::vector<std::vector<Mesh>> scenes{meshesAt(time)};
    const Box box = boxAround(scenes, camera, place_.light);
    Canvas canvas(box.left, box.top, box.right - box.left, box.bottom - box.top);
    canvas.clear();
    for (const Mesh& mesh : scenes.front()) {
        canvas.draw(mesh, camera, place_.light, {});
    }
    const std::vector<float> behind =
        scene_.cameraMoves() ? backdrop(camera).nearness : std::vector<float>{};
    const std::vector<float>& back = scene_.cameraMoves() ? behind : still_.nearness;
    const Pose pose = scene_.motion().pose(time);
    const double height = scene_.motion().heightM();
    std::bitset<Pose::count> hidden;
    for (const Landmark landmark : model::allLandmarks()) {
        const auto index = static_cast<std::size_t>(landmark);
        if (!pose.has(landmark)) {
            continue;
        }
        const auto px = camera.project(pose.at(landmark));
        const int x = px ? static_cast<int>(std::lround(px->x)) : -1;
        const int y = px ? static_cast<int>(std::lround(px->y)) : -1;
        if (x < 0 || y < 0 || x >= camera.width || y >= camera.height) {
            hidden.set(index);
            continue;
        }
        float nearest = back[static_cast<std::size_t>(y) * camera.width + x];
        if (x >= canvas.left() && y >= canvas.top() && x < canvas.left() + canvas.width() &&
            y < canvas.top() + canvas.height()) {
            nearest = std::max(nearest, canvas.nearness(static_cast<std::size_t>(y - canvas.top()) *
                                                            canvas.width() +
                                                        (x - canvas.left())));
        }
        if (nearest > 0.0F) {
            // Flesh lies over a joint; more than that before it is something else.
            const bool thick = landmark == Landmark::leftHip || landmark == Landmark::rightHip ||
                               landmark == Landmark::leftShoulder ||
                               landmark == Landmark::rightShoulder || landmark == Landmark::head ||
                               landmark == Landmark::headTop;
            const double flesh = (thick ? 0.085 : 0.05) * height;
            hidden.set(index, camera.inCamera(pose.at(landmark)).z() - 1.0 / nearest > flesh);
        }
    }
    return hidden;
}

} // namespace kestrel::synth
