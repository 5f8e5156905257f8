#pragma once

#include "body/proportions.h"
#include "model/landmark.h"
#include "model/units.h"

#include <Eigen/Core>

#include <array>
#include <cstddef>
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <vector>

/// A player's body in space over the instants of a rep, as it was estimated.
namespace kestrel::body {

/// A landmark of the body at a time; between two instants it lies on the way from one to the other.
struct PlaceRef {
    model::Landmark landmark = model::Landmark::head;
    model::Seconds time;
};

/// A quantity that is computed from places.
struct SpaceValue {
    double value = 0.0;
    double sd = 0.0;
};

/// The direction of the target in level axes: the angle from the picture's right, over away from
/// the camera.
struct TargetAzimuth {
    double radians = 0.0;
    double sd = 0.0;

    friend bool operator==(const TargetAzimuth&, const TargetAzimuth&) = default;
};

/// Where the search for a body ended: enough for another to go on from there (fit_again.h). What is
/// in it means something to the search only (estimate.h).
struct SearchEnd {
    double sum = 0.0; ///< of squares
    double distanceInformation = 0.0;
    double unitPx = 0.0;
    double logHeight = 0.0;
    double azimuth = 0.0;
    std::array<double, 4> camera{};
    std::array<double, 2> gravity{};
    std::array<double, 4> lean{};
    std::vector<double> landmarkErrors;

    /// A limb that may lean to the other side for a while.
    struct Answer {
        std::size_t limb = 0;
        double odds = 0.0;
        std::size_t first = 0; ///< instants, both included
        std::size_t last = 0;
        std::vector<std::size_t> points;
        std::vector<float> places;

        friend bool operator==(const Answer&, const Answer&) = default;
    };
    std::vector<Answer> answers;

    /// Another place where the search ended.
    struct Other {
        double odds = 0.0;
        std::vector<float> beside;

        friend bool operator==(const Other&, const Other&) = default;
    };
    std::vector<Other> others;

    friend bool operator==(const SearchEnd&, const SearchEnd&) = default;
};

/// What a fitted body is made of, for keeping it in a file. Places are three numbers each, of the
/// landmarks head to foot (model/landmark.h), of the first instant, of the second …
struct FittedParts {
    std::vector<model::Seconds> times; ///< of the instants, ascending
    std::vector<float> places;         ///< of the estimate, standing heights
    /// How far off the estimate may be: each draw lies beside it by so much, in `drawStep`.
    std::vector<std::vector<std::int16_t>> draws;
    std::array<double, partCount> lengths{}; ///< standing heights
    double distanceBh = 0.0;
    double groundBh = 0.0; ///< how high the ground is, on the axis up
    /// From where the technique as it is usually done would look most like this.
    std::optional<TargetAzimuth> target;
    std::optional<SearchEnd> end; ///< nothing where it was not kept

    friend bool operator==(const FittedParts&, const FittedParts&) = default;
};

/// In standing heights: a fifth of a millimetre for a grown player.
inline constexpr double drawStep = 1e-4;

/// Places are told in level axes: x to the right of the picture, y away from the camera, z up; the
/// origin lies where the camera looks, at the depth of the player's hips in the middle of the rep.
/// Lengths are in standing heights. How surely all is known is told by draws: bodies as likely as
/// the estimate says, each whole, with all its errors together and in one answer of those that
/// remain; so a quantity of any places at any times has its spread over the draws.
class FittedBody {
  public:
    /// `parts` are as many as they say of each other; std::invalid_argument otherwise.
    explicit FittedBody(FittedParts parts);

    [[nodiscard]] const FittedParts& parts() const { return parts_; }
    [[nodiscard]] std::span<const model::Seconds> times() const { return parts_.times; }
    /// Whether a time is one of an instant, or lies between two that follow one another closely.
    [[nodiscard]] bool covers(model::Seconds time) const;
    [[nodiscard]] Eigen::Vector3d place(PlaceRef ref) const;
    [[nodiscard]] std::size_t drawCount() const { return parts_.draws.size(); }
    /// The place in one of the draws.
    [[nodiscard]] Eigen::Vector3d drawn(std::size_t draw, PlaceRef ref) const;
    [[nodiscard]] double length(Part part) const;
    [[nodiscard]] double distanceBh() const { return parts_.distanceBh; }
    [[nodiscard]] double groundBh() const { return parts_.groundBh; }
    /// Nothing where it was not known how the technique is usually done.
    [[nodiscard]] std::optional<TargetAzimuth> target() const { return parts_.target; }
    /// A quantity of some places with its standard deviation over the draws. `period` is that of
    /// the quantity, 360 for a direction in degrees; 0 where it has none.
    [[nodiscard]] SpaceValue
    value(std::span<const PlaceRef> places,
          const std::function<double(std::span<const Eigen::Vector3d>)>& of,
          double period = 0.0) const;

  private:
    FittedParts parts_;
};

} // namespace kestrel::body
