#include "synth/mesh.h"

#include <Eigen/Geometry>

#include <array>
#include <cmath>
#include <numbers>

namespace kestrel::synth {
namespace {

constexpr std::size_t sides = 16; ///< points round a ring

/// Cosine and sine of each point's place on the ring.
struct Round {
    std::array<double, sides> cosine{};
    std::array<double, sides> sine{};

    Round() {
        for (std::size_t s = 0; s < sides; ++s) {
            const double turn = 2.0 * std::numbers::pi * static_cast<double>(s) / sides;
            cosine[s] = std::cos(turn);
            sine[s] = std::sin(turn);
        }
    }
};

Vector across(const Vector& axis) {
    const Vector helper = std::abs(axis.z()) < 0.9 ? Vector::UnitZ() : Vector::UnitX();
    return axis.cross(helper).normalized();
}

} // namespace

Mesh swept(const std::vector<Ring>& rings, const Colour& albedo) {
    Mesh mesh;
    mesh.albedo = albedo;
    static const Round round;
    mesh.vertices.reserve(rings.size() * sides);
    mesh.triangles.reserve(2 * rings.size() * sides);
    for (std::size_t r = 0; r < rings.size(); ++r) {
        const Ring& ring = rings[r];
        const Ring& before = rings[r == 0 ? 0 : r - 1];
        const Ring& after = rings[r + 1 == rings.size() ? r : r + 1];
        const Ring slope{after.centre - before.centre, after.a - before.a, after.b - before.b};
        for (std::size_t s = 0; s < sides; ++s) {
            const double c = round.cosine[s];
            const double d = round.sine[s];
            const Vector outward = c * ring.a + d * ring.b;
            const Vector around = -d * ring.a + c * ring.b;
            const Vector along = slope.centre + c * slope.a + d * slope.b;
            Vector normal = around.cross(along);
            if (normal.squaredNorm() < 1e-24) {
                normal =
                    outward.squaredNorm() > 1e-18 ? outward : Vector(ring.centre - before.centre);
            }
            if (normal.dot(outward) < 0.0) {
                normal = -normal;
            }
            mesh.vertices.push_back({ring.centre + outward, normal.normalized()});
        }
    }
    const auto index = [](std::size_t ring, std::size_t side) {
        return static_cast<std::uint32_t>(ring * sides + side % sides);
    };
    for (std::size_t r = 0; r + 1 < rings.size(); ++r) {
        for (std::size_t s = 0; s < sides; ++s) {
            mesh.triangles.push_back({index(r, s), index(r, s + 1), index(r + 1, s)});
            mesh.triangles.push_back({index(r, s + 1), index(r + 1, s + 1), index(r + 1, s)});
        }
    }
    return mesh;
}

Mesh limb(const Vector& from, const Vector& to, const std::vector<Girth>& girths,
          const Colour& albedo) {
    const Vector axis = (to - from).normalized();
    const Vector a = across(axis);
    const Vector b = axis.cross(a);
    std::vector<Ring> rings;
    const auto ring = [&](const Vector& centre, double radius) {
        rings.push_back({centre, radius * a, radius * b});
    };
    const auto point = [&](double t) { return Vector(from + t * (to - from)); };
    constexpr int domeRings = 4;
    const Girth& first = girths.front();
    for (int i = 0; i < domeRings; ++i) {
        const double lift = 0.5 * std::numbers::pi * i / domeRings;
        ring(point(first.at) - first.radius * std::cos(lift) * axis, first.radius * std::sin(lift));
    }
    for (const Girth& g : girths) {
        ring(point(g.at), g.radius);
    }
    const Girth& last = girths.back();
    for (int i = domeRings - 1; i >= 0; --i) {
        const double lift = 0.5 * std::numbers::pi * i / domeRings;
        ring(point(last.at) + last.radius * std::cos(lift) * axis, last.radius * std::sin(lift));
    }
    return swept(rings, albedo);
}

Mesh ellipsoid(const Vector& centre, const Vector& x, const Vector& y, const Vector& z,
               const Colour& albedo, double fromPole, double toPole) {
    constexpr int count = 12;
    std::vector<Ring> rings;
    for (int i = 0; i <= count; ++i) {
        const double from = std::asin(fromPole);
        const double to = std::asin(toPole);
        const double lift = from + (to - from) * i / count;
        const double wide = std::max(std::cos(lift), 1e-4);
        rings.push_back({centre + std::sin(lift) * z, wide * x, wide * y});
    }
    return swept(rings, albedo);
}

Mesh slab(const Vector& low, const Vector& high, const Colour& albedo) {
    Mesh mesh;
    mesh.albedo = albedo;
    for (int axis = 0; axis < 3; ++axis) {
        for (const double end : {-1.0, 1.0}) {
            const Vector normal = end * Vector::Unit(axis);
            const auto first = static_cast<std::uint32_t>(mesh.vertices.size());
            for (const auto& [a, b] : {std::pair{0, 0}, {1, 0}, {1, 1}, {0, 1}}) {
                Vector at;
                at[axis] = end < 0.0 ? low[axis] : high[axis];
                at[(axis + 1) % 3] = a == 0 ? low[(axis + 1) % 3] : high[(axis + 1) % 3];
                at[(axis + 2) % 3] = b == 0 ? low[(axis + 2) % 3] : high[(axis + 2) % 3];
                mesh.vertices.push_back({at, normal});
            }
            mesh.triangles.push_back({first, first + 1, first + 2});
            mesh.triangles.push_back({first, first + 2, first + 3});
        }
    }
    return mesh;
}

Mesh torus(const Vector& centre, double radius, double thick, const Colour& albedo,
           const Vector& axis, const Vector& along, double stretch) {
    constexpr std::uint32_t around = 32;
    constexpr std::uint32_t through = 6;
    Mesh mesh;
    mesh.albedo = albedo;
    const Vector up = axis.normalized();
    const Vector x = (along - along.dot(up) * up).normalized();
    const Vector y = up.cross(x);
    for (std::uint32_t i = 0; i < around; ++i) {
        const double turn = 2.0 * std::numbers::pi * i / around;
        const Vector middle = centre + radius * (stretch * std::cos(turn) * x + std::sin(turn) * y);
        const Vector out = (std::cos(turn) * x + stretch * std::sin(turn) * y).normalized();
        for (std::uint32_t k = 0; k < through; ++k) {
            const double roll = 2.0 * std::numbers::pi * k / through;
            const Vector normal = std::cos(roll) * out + std::sin(roll) * up;
            mesh.vertices.push_back({middle + thick * normal, normal});
            const auto at = [&](std::uint32_t ring, std::uint32_t side) {
                return (ring % around) * through + side % through;
            };
            mesh.triangles.push_back({at(i, k), at(i, k + 1), at(i + 1, k)});
            mesh.triangles.push_back({at(i, k + 1), at(i + 1, k + 1), at(i + 1, k)});
        }
    }
    return mesh;
}

} // namespace kestrel::synth
