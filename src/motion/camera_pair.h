#pragma once

#include "motion/ground_camera.h"

#include <Eigen/Core>

#include <span>
#include <utility>

/// Two cameras over the same ground, known better together by what both see of the player.
namespace kestrel::motion {

/// A spot of the body that both cameras saw at the same instant, with its standard deviation per
/// axis in each picture, pixels.
struct SeenByBoth {
    Point2 first;
    double firstSd = 1.0;
    Point2 second;
    double secondSd = 1.0;
    /// How many instants the same spot was seen at: where a coach takes a joint to be from one side
    /// and from the other is not the same place, and off alike at all of them.
    int instants = 1;
};

struct CameraPair {
    GroundCamera first;
    GroundCamera second;
    /// Changes of the cameras, the first's eight and then the second's, that sixteen independent
    /// errors of standard deviation 1 make, column by column: how surely they are known together.
    Eigen::Matrix<double, 16, 16> spread = Eigen::Matrix<double, 16, 16>::Zero();
    int spots = 0;     ///< that counted
    double gapM = 0.0; ///< root mean square of how far their two lines of sight still pass
};

/// The pair with the cameras changed by such errors.
std::pair<GroundCamera, GroundCamera> changed(const CameraPair& pair,
                                              const Eigen::Matrix<double, 16, 1>& errors);

/// The two cameras as their ground marks tell them, each by itself.
CameraPair byGroundAlone(const GroundFit& first, const GroundFit& second);

/// The cameras that the ground marks and the body tell together: the marks are seen where they are,
/// and the lines of sight to one spot meet. Least squares (Levenberg–Marquardt), each gap weighed
/// by what its spot is off by and wild ones less (Huber 1964, Annals of Mathematical Statistics
/// 35); where the gaps fit worse than that, their own scatter counts. Scale and place are the
/// ground's.
CameraPair byGroundAndBody(const GroundFit& first, const GroundFit& second,
                           std::span<const SeenByBoth> spots);

} // namespace kestrel::motion
