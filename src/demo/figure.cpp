#include "demo/figure.h"

#include <Eigen/Geometry>

#include <array>
#include <cmath>
#include <numbers>

namespace kestrel::demo {
namespace {

using model::Landmark;

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

/// A ring of a swept surface: an ellipse with half axes `a` and `b` about `centre`.
struct Ring {
    Vector centre;
    Vector a;
    Vector b;
};

/// The surface through the rings, closed at both ends.
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

Vector across(const Vector& axis) {
    const Vector helper = std::abs(axis.z()) < 0.9 ? Vector::UnitZ() : Vector::UnitX();
    return axis.cross(helper).normalized();
}

struct Girth {
    double at;     ///< 0 at the near joint, 1 at the far one
    double radius; ///< metres
};

/// A limb with rounded ends and the given girths along it (ascending `at`).
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

/// An ellipsoid with half axes x, y, z; only the part from `fromPole` to `toPole` along z
/// (−1 bottom, 1 top).
Mesh ellipsoid(const Vector& centre, const Vector& x, const Vector& y, const Vector& z,
               const Colour& albedo, double fromPole = -1.0, double toPole = 1.0) {
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

class Dresser {
  public:
    Dresser(const Pose& pose, double heightM, model::Hand hand, const Outfit& outfit)
        : pose_(pose), h_(heightM), hand_(hand), o_(outfit) {}

    std::vector<Mesh> dress() {
        trunk();
        head();
        for (const bool left : {true, false}) {
            arm(left);
            leg(left);
        }
        ball();
        return std::move(meshes_);
    }

  private:
    [[nodiscard]] const Vector& at(Landmark left, bool isLeft) const {
        return pose_.at(isLeft ? left : model::mirrored(left));
    }

    void trunk() {
        const Vector hips = 0.5 * (pose_.at(Landmark::leftHip) + pose_.at(Landmark::rightHip));
        const Vector neck =
            0.5 * (pose_.at(Landmark::leftShoulder) + pose_.at(Landmark::rightShoulder));
        const Vector hipLine =
            (pose_.at(Landmark::leftHip) - pose_.at(Landmark::rightHip)).normalized();
        const Vector shoulderLine =
            (pose_.at(Landmark::leftShoulder) - pose_.at(Landmark::rightShoulder)).normalized();
        const Vector up = (neck - hips).normalized();
        // Half width and half depth in body heights, from crotch to collar.
        struct Level {
            double t;
            double halfWidth;
            double halfDepth;
        };
        const auto ring = [&](const Level& l) {
            const Vector line = ((1.0 - l.t) * hipLine + l.t * shoulderLine).normalized();
            const Vector wide = (line - line.dot(up) * up).normalized();
            const Vector deep = up.cross(wide);
            return Ring{hips + l.t * (neck - hips), h_ * l.halfWidth * wide,
                        h_ * l.halfDepth * deep};
        };
        const auto sweep = [&](const std::vector<Level>& levels, const Colour& colour) {
            std::vector<Ring> rings;
            for (const Level& l : levels) {
                rings.push_back(ring(l));
            }
            meshes_.push_back(swept(rings, colour));
        };
        sweep({{-0.20, 0.004, 0.004},
               {-0.18, 0.050, 0.045},
               {-0.10, 0.088, 0.062},
               {0.02, 0.094, 0.066},
               {0.14, 0.086, 0.062},
               {0.24, 0.082, 0.059}},
              o_.trousers);
        sweep({{0.19, 0.086, 0.063}, {0.22, 0.087, 0.0635}, {0.25, 0.086, 0.0625}}, o_.cap); // belt
        sweep({{0.22, 0.083, 0.060},
               {0.45, 0.088, 0.064},
               {0.68, 0.110, 0.074},
               {0.84, 0.126, 0.074},
               {0.95, 0.132, 0.062},
               {1.02, 0.108, 0.047},
               {1.07, 0.044, 0.034},
               {1.09, 0.004, 0.004}},
              o_.shirt);
        const Vector skull = pose_.at(Landmark::head);
        meshes_.push_back(limb(neck, skull, {{0.1, 0.034 * h_}, {0.8, 0.031 * h_}}, o_.skin));
    }

    void head() {
        const Vector centre = pose_.at(Landmark::head);
        const Vector up = (pose_.at(Landmark::headTop) - centre).normalized();
        const Vector face = pose_.face;
        const Vector side = up.cross(face).normalized();
        const auto ellipse = [&](double wide, double deep, double tall, const Vector& offset,
                                 const Colour& colour, double from = -1.0) {
            meshes_.push_back(ellipsoid(centre + h_ * offset, h_ * wide * side, h_ * deep * face,
                                        h_ * tall * up, colour, from));
        };
        ellipse(0.045, 0.054, 0.062, Vector::Zero(), o_.skin);
        ellipse(0.037, 0.030, 0.036, 0.020 * face - 0.030 * up, o_.skin); // jaw
        ellipse(0.048, 0.050, 0.054, -0.012 * face - 0.004 * up, o_.hair);
        ellipse(0.049, 0.058, 0.052, 0.012 * up, o_.cap, 0.15);
        ellipse(0.041, 0.040, 0.006, 0.060 * face + 0.024 * up, o_.cap);  // peak
        ellipse(0.007, 0.012, 0.012, 0.054 * face - 0.010 * up, o_.skin); // nose
        for (const double s : {-1.0, 1.0}) {
            ellipse(0.008, 0.006, 0.006, 0.048 * face + s * 0.018 * side + 0.004 * up,
                    Colour(0.75F, 0.75F, 0.75F));
            ellipse(0.004, 0.004, 0.005, 0.053 * face + s * 0.018 * side + 0.004 * up,
                    Colour(0.03F, 0.02F, 0.02F));
            ellipse(0.006, 0.010, 0.014, s * 0.046 * side - 0.004 * up, o_.skin); // ear
        }
        ellipse(0.014, 0.005, 0.003, 0.048 * face - 0.034 * up, Colour(0.35F, 0.12F, 0.10F));
    }

    void arm(bool left) {
        const Vector& shoulder = at(Landmark::leftShoulder, left);
        const Vector& elbow = at(Landmark::leftElbow, left);
        const Vector& wrist = at(Landmark::leftWrist, left);
        const Vector& hand = at(Landmark::leftHand, left);
        meshes_.push_back(limb(
            shoulder, elbow, {{0.0, 0.039 * h_}, {0.3, 0.036 * h_}, {0.55, 0.033 * h_}}, o_.shirt));
        meshes_.push_back(limb(shoulder, elbow, {{0.45, 0.026 * h_}, {1.0, 0.0215 * h_}}, o_.skin));
        meshes_.push_back(limb(
            elbow, wrist, {{0.0, 0.0215 * h_}, {0.28, 0.0235 * h_}, {1.0, 0.0155 * h_}}, o_.skin));
        const Vector along = (hand - wrist).normalized();
        const bool throws = left == (hand_ == model::Hand::left);
        const Vector wide = across(along);
        const Vector deep = along.cross(wide);
        if (throws) {
            meshes_.push_back(ellipsoid(wrist + 0.5 * (hand - wrist), h_ * 0.023 * wide,
                                        h_ * 0.012 * deep, h_ * 0.034 * along, o_.skin));
            for (int finger = 0; finger < 4; ++finger) {
                const Vector base = hand + h_ * (0.012 * finger - 0.018) * wide;
                const Vector tip = base + h_ * (0.040 * along + 0.010 * deep);
                meshes_.push_back(limb(base - 0.01 * h_ * along, tip,
                                       {{0.0, 0.0062 * h_}, {1.0, 0.0050 * h_}}, o_.skin));
            }
            meshes_.push_back(limb(wrist + 0.012 * h_ * wide, hand + 0.030 * h_ * wide,
                                   {{0.0, 0.008 * h_}, {1.0, 0.006 * h_}}, o_.skin));
        } else {
            meshes_.push_back(ellipsoid(hand + 0.022 * h_ * along, h_ * 0.056 * wide,
                                        h_ * 0.030 * deep, h_ * 0.066 * along, o_.glove));
            meshes_.push_back(limb(hand + 0.03 * h_ * wide,
                                   hand + h_ * (0.066 * wide + 0.05 * along),
                                   {{0.0, 0.016 * h_}, {1.0, 0.013 * h_}}, o_.glove));
        }
    }

    void leg(bool left) {
        const Vector& hip = at(Landmark::leftHip, left);
        const Vector& knee = at(Landmark::leftKnee, left);
        const Vector& ankle = at(Landmark::leftAnkle, left);
        const Vector& heel = at(Landmark::leftHeel, left);
        const Vector& toe = at(Landmark::leftToe, left);
        meshes_.push_back(
            limb(hip, knee,
                 {{-0.05, 0.050 * h_}, {0.15, 0.055 * h_}, {0.5, 0.047 * h_}, {1.0, 0.035 * h_}},
                 o_.trousers));
        meshes_.push_back(limb(
            knee, ankle, {{0.0, 0.035 * h_}, {0.25, 0.037 * h_}, {0.5, 0.033 * h_}}, o_.trousers));
        meshes_.push_back(
            limb(knee, ankle, {{0.3, 0.032 * h_}, {0.6, 0.026 * h_}, {1.0, 0.020 * h_}}, o_.socks));
        // The shoe stands on the sole line heel–toe; it is built upwards from there.
        const Vector along = (toe - heel).normalized();
        const Vector wide = along.cross(ankle - heel).normalized();
        const Vector up = wide.cross(along);
        struct Cut {
            double t;
            double halfWidth;
            double height;
        };
        std::vector<Ring> rings;
        for (const Cut& cut :
             {Cut{-0.02, 0.002, 0.004}, Cut{0.0, 0.016, 0.030}, Cut{0.15, 0.021, 0.046},
              Cut{0.4, 0.022, 0.038}, Cut{0.7, 0.027, 0.026}, Cut{0.92, 0.022, 0.020},
              Cut{1.0, 0.012, 0.012}, Cut{1.01, 0.002, 0.004}}) {
            const Vector sole = heel + cut.t * (toe - heel);
            rings.push_back({sole + 0.5 * h_ * cut.height * up, h_ * cut.halfWidth * wide,
                             0.5 * h_ * cut.height * up});
        }
        meshes_.push_back(swept(rings, o_.shoes));
    }

    void ball() {
        constexpr double radius = 0.0366; // baseball, circumference 9 to 9.25 in
        meshes_.push_back(ellipsoid(pose_.at(Landmark::ball), radius * Vector::UnitX(),
                                    radius * Vector::UnitY(), radius * Vector::UnitZ(),
                                    Colour(0.85F, 0.85F, 0.82F)));
    }

    const Pose& pose_;
    double h_;
    model::Hand hand_;
    const Outfit& o_;
    std::vector<Mesh> meshes_;
};

} // namespace

std::vector<Mesh> figure(const Pose& pose, double heightM, model::Hand hand, const Outfit& outfit) {
    return Dresser(pose, heightM, hand, outfit).dress();
}

} // namespace kestrel::demo
