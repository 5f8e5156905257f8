#include "body/process_noise.h"

#include "motion/local_fit.h"

#include <algorithm>
#include <cmath>

namespace kestrel::body {
namespace {

/// Half the width of a parabola that tells an acceleration, seconds; more where frames are few.
constexpr double halfWidth = 0.05;
/// What is met within so many seconds may happen in depth now.
constexpr double reach = 0.12;
/// No point is taken to be calmer than this, standing heights a second squared.
constexpr double calmest = 3.0;

/// Of a point that strikes, throws and runs, standing heights a second squared. Working figures,
/// set on films of the synthetic player with seeds for setting.
double usualAlong(model::Landmark landmark) {
    using model::Landmark;
    switch (landmark) {
    case Landmark::headTop:
    case Landmark::head:
        return 3.0;
    case Landmark::leftHip:
    case Landmark::rightHip:
        return 4.0;
    case Landmark::leftShoulder:
    case Landmark::rightShoulder:
        return 8.0;
    case Landmark::leftKnee:
    case Landmark::rightKnee:
        return 15.0;
    case Landmark::leftWrist:
    case Landmark::rightWrist:
        return 60.0;
    case Landmark::leftHand:
    case Landmark::rightHand:
        return 75.0;
    default:
        return 24.0; // elbows and feet
    }
}

struct Bend {
    double time;
    double square; ///< of acceleration, mean of both axes
};

std::vector<Bend> bendsOf(const SeenRep& rep, model::Landmark landmark, double scalePx) {
    std::vector<motion::Sample> x;
    std::vector<motion::Sample> y;
    for (const SeenInstant& instant : rep.instants) {
        if (const auto seen = instant.points.find(landmark); seen != instant.points.end()) {
            const double sd = seen->second.sdPx / scalePx;
            x.push_back({instant.time.value, seen->second.px.x / scalePx, sd});
            y.push_back({instant.time.value, seen->second.px.y / scalePx, sd});
        }
    }
    std::vector<Bend> bends;
    constexpr std::size_t around = 2; // frames to each side at least
    for (std::size_t i = 0; i < x.size(); ++i) {
        double half = halfWidth;
        if (i >= around && i + around < x.size()) {
            half = std::max(half, 1.001 * std::max(x[i].time - x[i - around].time,
                                                   x[i + around].time - x[i].time));
        }
        const auto alongX = motion::fitLocally(x, x[i].time, half);
        const auto alongY = motion::fitLocally(y, x[i].time, half);
        if (alongX && alongY) {
            // What placing alone bends such a parabola: 720 σ² / (n width⁴) for even times.
            const double samples =
                std::max(4.0, 2.0 * half * static_cast<double>(x.size()) /
                                  std::max(x.back().time - x.front().time, half));
            const double noise = 720.0 * x[i].sd * x[i].sd / (samples * std::pow(2.0 * half, 4));
            const double square =
                0.5 * (alongX->bend * alongX->bend + alongY->bend * alongY->bend) - noise;
            bends.push_back({x[i].time, std::max(0.0, square)});
        }
    }
    return bends;
}

} // namespace

std::vector<std::vector<Acceleration>> accelerations(const SeenRep& rep, double scalePx) {
    std::vector<std::vector<Acceleration>> sds(rep.instants.size(),
                                               std::vector<Acceleration>(pointCount));
    for (std::size_t point = 0; point < pointCount; ++point) {
        const std::vector<Bend> bends = bendsOf(rep, landmarkAt(point), scalePx);
        for (std::size_t i = 0; i < sds.size(); ++i) {
            double sum = 0.0;
            int count = 0;
            for (const Bend& bend : bends) {
                if (std::abs(bend.time - rep.instants[i].time.value) <= reach) {
                    sum += bend.square;
                    ++count;
                }
            }
            const double across = std::max(calmest, count > 0 ? std::sqrt(sum / count) : 0.0);
            sds[i][point] = {across, std::max(across, usualAlong(landmarkAt(point)))};
        }
    }
    return sds;
}

} // namespace kestrel::body
