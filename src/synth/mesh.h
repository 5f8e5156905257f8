#pragma once

#include "synth/raster.h"

#include <vector>

/// Closed surfaces built from simple shapes.
namespace kestrel::synth {

/// A ring of a swept surface: an ellipse with half axes `a` and `b` about `centre`.
struct Ring {
    Vector centre;
    Vector a;
    Vector b;
};

/// The surface through the rings, closed at both ends.
Mesh swept(const std::vector<Ring>& rings, const Colour& albedo);

struct Girth {
    double at;     ///< 0 at the near joint, 1 at the far one
    double radius; ///< metres
};

/// A limb with rounded ends and the given girths along it (ascending `at`).
Mesh limb(const Vector& from, const Vector& to, const std::vector<Girth>& girths,
          const Colour& albedo);

/// An ellipsoid with half axes x, y, z; only the part from `fromPole` to `toPole` along z
/// (−1 bottom, 1 top).
Mesh ellipsoid(const Vector& centre, const Vector& x, const Vector& y, const Vector& z,
               const Colour& albedo, double fromPole = -1.0, double toPole = 1.0);

/// A block along the axes between two corners.
Mesh slab(const Vector& low, const Vector& high, const Colour& albedo);

/// A ring about `axis` through `centre`, `radius` to the middle of a tube `thick` in radius; drawn
/// out along `along` by `stretch` for an oval.
Mesh torus(const Vector& centre, double radius, double thick, const Colour& albedo,
           const Vector& axis = Vector::UnitZ(), const Vector& along = Vector::UnitX(),
           double stretch = 1.0);

} // namespace kestrel::synth
