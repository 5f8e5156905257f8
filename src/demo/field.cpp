#include "demo/field.h"

#include <algorithm>
#include <cmath>

namespace kestrel::demo {
namespace {

// Little diamond measures: rubber 18 × 4 in, mound circle 10 ft across, the grass infield around
// it, base paths 60 ft from the plate, fence behind them.
constexpr double rubberLength = 0.457;
constexpr double rubberWidth = 0.102;
constexpr double moundRadius = 1.52;
constexpr double pathDistance = 9.0;
constexpr double pathWidth = 1.8;
constexpr double fenceDistance = 24.0;
constexpr double fenceHeight = 1.5;

/// Smooth noise in 0…1 from hashed lattice points.
class Noise {
  public:
    explicit Noise(std::uint32_t seed) : seed_(seed) {}

    [[nodiscard]] double operator()(double x, double y) const {
        const double fx = std::floor(x);
        const double fy = std::floor(y);
        const auto ease = [](double t) { return t * t * (3.0 - 2.0 * t); };
        const double u = ease(x - fx);
        const double v = ease(y - fy);
        const auto ix = static_cast<std::int32_t>(fx);
        const auto iy = static_cast<std::int32_t>(fy);
        return std::lerp(std::lerp(lattice(ix, iy), lattice(ix + 1, iy), u),
                         std::lerp(lattice(ix, iy + 1), lattice(ix + 1, iy + 1), u), v);
    }

    /// Sum of octaves, 0…1.
    [[nodiscard]] double layered(double x, double y, int octaves) const {
        double sum = 0.0;
        double weight = 0.5;
        for (int i = 0; i < octaves; ++i) {
            sum += weight * (*this)(x, y);
            x = 2.03 * x + 17.0;
            y = 2.03 * y + 5.0;
            weight *= 0.5;
        }
        return sum;
    }

  private:
    [[nodiscard]] double lattice(std::int32_t x, std::int32_t y) const {
        std::uint32_t h = seed_ + static_cast<std::uint32_t>(x) * 0x9E3779B1U +
                          static_cast<std::uint32_t>(y) * 0x85EBCA77U;
        h = (h ^ (h >> 15U)) * 0x2C1B3C6DU;
        h = (h ^ (h >> 12U)) * 0x297A2D39U;
        h ^= h >> 15U;
        return static_cast<double>(h) / 4294967295.0;
    }

    std::uint32_t seed_;
};

Colour mixed(const Colour& a, const Colour& b, double t) {
    return a + static_cast<float>(std::clamp(t, 0.0, 1.0)) * (b - a);
}

class Field {
  public:
    Field(const Light& light, std::uint32_t seed) : light_(light), noise_(seed) {}

    /// Light along a ray from `origin` in `direction`.
    [[nodiscard]] Colour along(const Vector& origin, const Vector& direction) const {
        if (direction.z() < -1e-6) {
            const double run = -origin.z() / direction.z();
            const Vector hit = origin + run * direction;
            const double away = std::abs(hit.y());
            if (away < fenceDistance || (hit.y() > 0.0) == (origin.y() > 0.0)) {
                return shaded(ground(hit), Vector::UnitZ(), light_);
            }
        }
        return beyond(origin, direction);
    }

  private:
    [[nodiscard]] Colour ground(const Vector& p) const {
        const double fine = noise_.layered(9.0 * p.x(), 9.0 * p.y(), 4);
        const double coarse = noise_.layered(0.7 * p.x(), 0.7 * p.y(), 3);
        const Colour grass = mixed(Colour(0.055F, 0.13F, 0.030F), Colour(0.13F, 0.25F, 0.07F),
                                   0.9 * fine + 0.3 * coarse);
        const bool mown = std::fmod(std::abs(p.x() + 40.0), 2.4) < 1.2;
        const Colour lawn = mown ? grass : Colour(0.86F * grass);
        const Colour dirt = mixed(Colour(0.24F, 0.13F, 0.075F), Colour(0.40F, 0.24F, 0.15F),
                                  0.7 * fine + 0.5 * coarse);
        const double edge = 0.10 * (noise_(3.0 * p.x(), 3.0 * p.y()) - 0.5);
        const double fromRubber = std::hypot(p.x() + 0.05, p.y());
        Colour colour = mixed(dirt, lawn, (fromRubber - moundRadius - edge) / 0.05);
        const double path = std::abs(std::abs(p.y()) - pathDistance) - 0.5 * pathWidth;
        colour = mixed(dirt, colour, (path - edge) / 0.06);
        if (std::abs(p.x() + 0.11) < 0.5 * rubberWidth && std::abs(p.y()) < 0.5 * rubberLength) {
            colour = Colour(0.72F, 0.72F, 0.70F);
        }
        const double foulLine = std::abs(p.y()) - (pathDistance + 0.35);
        if (std::abs(foulLine) < 0.05) {
            colour = mixed(Colour(0.75F, 0.75F, 0.73F), colour, 0.5 * fine);
        }
        return colour;
    }

    [[nodiscard]] Colour beyond(const Vector& origin, const Vector& direction) const {
        const double toFence =
            (std::copysign(fenceDistance, direction.y()) - origin.y()) / direction.y();
        const Vector hit = origin + toFence * direction;
        if (hit.z() < fenceHeight) {
            const double post = std::abs(std::fmod(std::abs(hit.x()) + 100.0, 3.0) - 1.5);
            const Colour board =
                post > 1.45 ? Colour(0.10F, 0.11F, 0.12F)
                            : mixed(Colour(0.05F, 0.12F, 0.10F), Colour(0.08F, 0.17F, 0.14F),
                                    noise_(0.8 * hit.x(), 2.0 * hit.z()));
            const bool rail = hit.z() > fenceHeight - 0.12;
            return shaded(rail ? Colour(0.45F, 0.40F, 0.20F) : board, -direction, light_) * 0.8F;
        }
        const double crown = 3.2 + 2.6 * noise_.layered(0.16 * hit.x(), 0.5, 4);
        if (hit.z() < crown) {
            const double leaf = noise_.layered(1.8 * hit.x(), 1.8 * hit.z(), 5);
            return mixed(Colour(0.025F, 0.06F, 0.022F), Colour(0.11F, 0.19F, 0.07F),
                         1.4 * leaf - 0.15 + 0.08 * (hit.z() - crown));
        }
        const double height = std::clamp(direction.normalized().z() * 3.0, 0.0, 1.0);
        const double cloud = noise_.layered(0.05 * hit.x(), 0.16 * hit.z(), 5);
        return mixed(mixed(Colour(0.72F, 0.82F, 0.92F), Colour(0.36F, 0.56F, 0.86F), height),
                     Colour(0.92F, 0.93F, 0.95F), 2.2 * (cloud - 0.5));
    }

    const Light& light_;
    Noise noise_;
};

} // namespace

std::vector<Colour> fieldPicture(const Camera& camera, const Light& light, std::uint32_t seed) {
    const Field field(light, seed);
    const model::Point2 centre = camera.principalPoint();
    constexpr int grid = 3; // rays a pixel along each axis
    std::vector<Colour> picture(static_cast<std::size_t>(camera.width) * camera.height);
    for (int y = 0; y < camera.height; ++y) {
        for (int x = 0; x < camera.width; ++x) {
            Colour sum = Colour::Zero();
            for (int ray = 0; ray < grid * grid; ++ray) {
                const double px = x + (ray % grid + 0.5) / grid - 0.5;
                const double py = y + (ray / grid + 0.5) / grid - 0.5;
                const Vector direction = camera.forward +
                                         (px - centre.x) / camera.focalPx * camera.right -
                                         (py - centre.y) / camera.focalPx * Vector::UnitZ();
                sum += field.along(camera.position, direction);
            }
            picture[static_cast<std::size_t>(y) * camera.width + x] =
                sum / static_cast<float>(grid * grid);
        }
    }
    return picture;
}

} // namespace kestrel::demo
