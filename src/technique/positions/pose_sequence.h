#pragma once

#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <Eigen/Core>

/// A rep's landmarks as one array over time, free of where the player stands in the picture, how
/// large, and with which hand.
namespace kestrel::technique {

/// Standing height in the picture, pixels: what the body's path of the pack measures where it is
/// long, which is where the player stands upright. 0 where no frame shows the path.
double heightSeen(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances);

struct PoseSequence {
    /// Between instants, seconds.
    static constexpr double step = 1.0 / 60.0;

    double begin = 0.0; ///< field time of the first instant, seconds
    /// One column an instant. Rows, for landmarks from head top to right toe: x and y from the
    /// middle of the hips (right and up, standing heights), then whether each is seen; then the
    /// hips' place from their median (standing heights), their speed (standing heights a second,
    /// over a fifteenth of a second), and 1. What is not seen is 0. A left-hander is mirrored.
    Eigen::MatrixXf rows;

    static constexpr int landmarks = static_cast<int>(model::Landmark::rightToe) + 1;
    static constexpr int rowCount = 3 * landmarks + 5;

    [[nodiscard]] int instants() const { return static_cast<int>(rows.cols()); }
    [[nodiscard]] double timeAt(double instant) const { return begin + instant * step; }
};

/// Of the span of the rep, or of all its landmarks where it has none. Between frames places are
/// interpolated; of frames closer together than the step, the nearest count most. Nothing is seen
/// where neither frame beside an instant has a landmark, or the hips. No instants come of a rep
/// whose height is not seen.
PoseSequence poseSequence(const Pack& pack, const model::Rep& rep,
                          const Circumstances& circumstances);

} // namespace kestrel::technique
