#pragma once

#include "body/proportions.h"
#include "model/landmark.h"
#include "model/units.h"

#include <Eigen/Core>

#include <cstddef>
#include <functional>
#include <memory>
#include <span>
#include <vector>

/// A player's body in space over the instants of a rep, as it was estimated.
namespace kestrel::body {

struct Estimate;

/// A landmark of the body at an instant that there is.
struct PlaceRef {
    model::Landmark landmark = model::Landmark::head;
    std::size_t instant = 0;
};

/// A quantity that is computed from places.
struct SpaceValue {
    double value = 0.0;
    double sd = 0.0;
};

/// Places are told in level axes: x to the right of the picture, y away from the camera, z up; the
/// origin lies where the camera looks, at the depth of the player's hips in the middle of the rep.
/// Lengths are in standing heights.
class FittedBody {
  public:
    explicit FittedBody(std::shared_ptr<const Estimate> estimate);

    [[nodiscard]] std::span<const model::Seconds> times() const;
    /// The instant nearest to a time.
    [[nodiscard]] std::size_t instantAt(model::Seconds time) const;
    [[nodiscard]] Eigen::Vector3d place(PlaceRef ref) const;
    [[nodiscard]] double length(Part part) const;
    [[nodiscard]] double distanceBh() const;
    /// A quantity of some places with its standard deviation: the places are drawn as the estimate
    /// is unsure of them, all errors together. `period` is that of the quantity, 360 for a
    /// direction in degrees; 0 where it has none.
    [[nodiscard]] SpaceValue
    value(std::span<const PlaceRef> places,
          const std::function<double(std::span<const Eigen::Vector3d>)>& of,
          double period = 0.0) const;

  private:
    std::shared_ptr<const Estimate> estimate_;
};

} // namespace kestrel::body
