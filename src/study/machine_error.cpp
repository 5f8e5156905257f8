#include "study/machine_error.h"

#include "track/person/body_points.h"

#include <cmath>

namespace kestrel::study {

double LastingError::next(double after, double lasts, std::mt19937& random) {
    std::normal_distribution<double> normal;
    const double stays = first_ ? 0.0 : std::exp(-after / lasts);
    first_ = false;
    value_ = stays * value_ + std::sqrt(1.0 - stays * stays) * normal(random);
    return value_;
}

MachineError machineError(model::Landmark landmark, double bodyPx) {
    pose::SeenPose pose;
    for (pose::SeenPoint& point : pose.points) {
        point.peak = 1.0;
    }
    const auto proposals = track::proposedLandmarks(pose, bodyPx);
    const auto& proposal = proposals.at(landmark);
    return {proposal.scatterPx, proposal.lastingPx};
}

} // namespace kestrel::study
