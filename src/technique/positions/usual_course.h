#pragma once

#include "model/landmark.h"
#include "model/units.h"

#include <Eigen/Core>

#include <array>
#include <cstddef>
#include <map>
#include <string>
#include <vector>

/// How a technique is usually done, as a course of poses.
namespace kestrel::technique {

struct UsualCourse {
    static constexpr std::size_t pointCount =
        static_cast<std::size_t>(model::Landmark::rightToe) + 1;
    /// Places of the body's landmarks, in their order, from the middle of the hips, standing
    /// heights; x towards the target, z up, right-handed.
    using Pose = std::array<Eigen::Vector3d, pointCount>;

    model::Seconds step{0.0}; ///< from pose to pose
    std::vector<Pose> poses;
    std::map<std::string, model::Seconds> positions; ///< key positions, since the first pose
};

} // namespace kestrel::technique
