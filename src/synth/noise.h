#pragma once

#include <cmath>
#include <cstdint>

/// Smooth, reproducible noise for grass, leaves and a hand-held camera.
namespace kestrel::synth {

/// Value noise in 0…1 from hashed lattice points.
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
        const double near = lattice(ix, iy) + u * (lattice(ix + 1, iy) - lattice(ix, iy));
        const double far =
            lattice(ix, iy + 1) + u * (lattice(ix + 1, iy + 1) - lattice(ix, iy + 1));
        return near + v * (far - near);
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

} // namespace kestrel::synth
