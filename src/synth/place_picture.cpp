#include "synth/noise.h"
#include "synth/place.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <future>
#include <numbers>
#include <thread>

namespace kestrel::synth {
namespace {

/// Whether a point lies on the paint.
bool covers(const Paint& paint, double x, double y) {
    switch (paint.shape) {
    case Paint::Shape::box:
        return x >= std::min(paint.x0, paint.x1) && x <= std::max(paint.x0, paint.x1) &&
               y >= std::min(paint.y0, paint.y1) && y <= std::max(paint.y0, paint.y1);
    case Paint::Shape::circle: {
        const double away = std::hypot(x - paint.x0, y - paint.y0);
        return paint.width == 0.0 ? away <= paint.x1
                                  : std::abs(away - paint.x1) <= 0.5 * paint.width;
    }
    case Paint::Shape::line:
        break;
    }
    const double dx = paint.x1 - paint.x0;
    const double dy = paint.y1 - paint.y0;
    const double along =
        std::clamp(((x - paint.x0) * dx + (y - paint.y0) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return std::hypot(x - paint.x0 - along * dx, y - paint.y0 - along * dy) <= 0.5 * paint.width;
}

class Looker {
  public:
    Looker(const Place& place, std::uint32_t seed) : place_(place), noise_(seed) {}

    [[nodiscard]] Colour along(const Vector& origin, const Vector& direction) const {
        double nearest = direction.z() < -1e-6 ? -origin.z() / direction.z() : farAway;
        const Wall* hitWall = nullptr;
        double hitAlong = 0.0;
        // The nearest wall wins, nets are laid over it.
        float veil = 0.0F;
        Colour veilColour = Colour::Zero();
        for (const Wall& wall : place_.walls) {
            const Vector span(wall.x1 - wall.x0, wall.y1 - wall.y0, 0.0);
            const double length = span.norm();
            const Vector normal(-span.y() / length, span.x() / length, 0.0);
            const double towards = direction.dot(normal);
            // A wall has its inner face on its left and is not there from outside; a net is always.
            if (std::abs(towards) < 1e-9 || (towards > 0.0 && wall.cell == 0.0)) {
                continue;
            }
            const double run = (Vector(wall.x0, wall.y0, 0.0) - origin).dot(normal) / towards;
            const Vector hit = origin + run * direction;
            const double u = (hit - Vector(wall.x0, wall.y0, 0.0)).dot(span) / length;
            if (run <= 0.0 || run >= nearest || u < 0.0 || u > length || hit.z() < wall.bottom ||
                hit.z() > wall.top) {
                continue;
            }
            if (wall.cell > 0.0) {
                const double thread = 0.12 * wall.cell;
                const bool onThread = std::fmod(u, wall.cell) < thread ||
                                      std::fmod(hit.z(), wall.cell) < thread ||
                                      hit.z() > wall.top - 0.05;
                if (onThread) {
                    veil = hit.z() > wall.top - 0.05 ? 1.0F : 0.8F;
                    veilColour = hit.z() > wall.top - 0.05 ? Colour(0.7F, 0.7F, 0.7F) : wall.colour;
                }
                continue;
            }
            nearest = run;
            hitWall = &wall;
            hitAlong = u;
        }
        const Vector hit = origin + nearest * direction;
        const Colour seen = hitWall != nullptr ? onWall(*hitWall, hitAlong, hit.z())
                            : nearest < farAway
                                ? shaded(ground(hit.x(), hit.y()), Vector::UnitZ(), place_.light)
                                : beyond(direction);
        return seen + veil * (veilColour - seen);
    }

  private:
    static constexpr double farAway = 1e9;

    [[nodiscard]] Colour onWall(const Wall& wall, double along, double height) const {
        Colour colour =
            wall.colour * static_cast<float>(0.85 + 0.3 * noise_.layered(along, height, 3));
        for (const Paint& paint : wall.painted) {
            if (covers(paint, along, height)) {
                colour = paint.colour;
            }
        }
        const Vector span(wall.x1 - wall.x0, wall.y1 - wall.y0, 0.0);
        const Vector normal = Vector(-span.y(), span.x(), 0.0).normalized();
        return shaded(colour, normal, place_.light);
    }

    [[nodiscard]] Colour ground(double x, double y) const {
        Colour colour = place_.ground(x, y);
        for (const Paint& paint : place_.paint) {
            if (covers(paint, x, y)) {
                colour = paint.colour *
                         static_cast<float>(0.9 + 0.2 * noise_.layered(9.0 * x, 9.0 * y, 2));
            }
        }
        return colour;
    }

    /// Past all walls: trees and sky, or a dark ceiling.
    [[nodiscard]] Colour beyond(const Vector& direction) const {
        const Vector d = direction.normalized();
        if (place_.indoors) {
            return Colour(0.16F, 0.16F, 0.17F) * static_cast<float>(1.0 - 0.3 * d.z());
        }
        const double height = std::max(d.z(), 0.0);
        // Mirrored about a bearing that no square view looks along, so that there is no seam.
        constexpr double mirror = 1.1;
        const double bearing =
            std::abs(std::remainder(std::atan2(d.y(), d.x()) - mirror, 2.0 * std::numbers::pi));
        const double crown = 0.10 + 0.08 * noise_.layered(14.0 * bearing, 0.5, 4);
        if (height < crown) {
            const double leaf = noise_.layered(81.0 * bearing, 90.0 * height, 5);
            return mixed(Colour(0.025F, 0.06F, 0.022F), Colour(0.11F, 0.19F, 0.07F),
                         1.4 * leaf - 0.15 + 4.0 * (height - crown));
        }
        const double cloud = noise_.layered(4.5 * bearing, 8.0 * height, 5);
        return mixed(mixed(Colour(0.72F, 0.82F, 0.92F), Colour(0.36F, 0.56F, 0.86F), 3.0 * height),
                     Colour(0.92F, 0.93F, 0.95F), 2.2 * (cloud - 0.5));
    }

    const Place& place_;
    Noise noise_;
};

} // namespace

std::vector<Colour> emptyPicture(const Place& place, const Camera& camera, std::uint32_t seed) {
    const Looker looker(place, seed);
    std::vector<Colour> picture(static_cast<std::size_t>(camera.width) * camera.height);
    const auto at = [&](int x, int y) -> Colour& {
        return picture[static_cast<std::size_t>(y) * camera.width + x];
    };
    const auto inRows = [&](const std::function<void(int from, int to)>& work) {
        const int workers = static_cast<int>(std::max(1U, std::thread::hardware_concurrency()));
        std::vector<std::future<void>> parts;
        for (int i = 0; i < workers; ++i) {
            parts.push_back(std::async(std::launch::async, work, camera.height * i / workers,
                                       camera.height * (i + 1) / workers));
        }
        for (auto& part : parts) {
            part.get();
        }
    };
    const auto look = [&](double x, double y) {
        return looker.along(camera.position, camera.directionAt({x, y}));
    };
    const auto meanOfRays = [&](int x, int y, int grid, float* spread) {
        Colour sum = Colour::Zero();
        Colour least = Colour::Constant(1e9F);
        Colour most = Colour::Zero();
        for (int ray = 0; ray < grid * grid; ++ray) {
            const Colour seen =
                look(x + (ray % grid + 0.5) / grid - 0.5, y + (ray / grid + 0.5) / grid - 0.5);
            sum += seen;
            least = least.cwiseMin(seen);
            most = most.cwiseMax(seen);
        }
        if (spread != nullptr) {
            *spread = (most - least).maxCoeff();
        }
        return Colour(sum / static_cast<float>(grid * grid));
    };
    // Four rays are enough where they agree; nine smooth an edge or a thin line.
    inRows([&](int from, int to) {
        constexpr float visible = 0.012F; // linear light, some three steps of a dark 8-bit grey
        for (int y = from; y < to; ++y) {
            for (int x = 0; x < camera.width; ++x) {
                float spread = 0.0F;
                at(x, y) = meanOfRays(x, y, 2, &spread);
                if (spread > visible) {
                    at(x, y) = meanOfRays(x, y, 3, nullptr);
                }
            }
        }
    });
    return picture;
}

} // namespace kestrel::synth
