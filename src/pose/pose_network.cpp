#include "pose/pose_network.h"

#include "model/input_error.h"

#include <algorithm>
#include <cmath>

namespace kestrel::pose {
namespace {

constexpr int pictureSide = 256;
constexpr int mapSide = 64;
constexpr std::size_t slots = 39; ///< the points, two that say where to look next, four unused
constexpr std::size_t numbersPerSlot = 5; ///< x, y, depth, visibility, presence
constexpr std::size_t depthNumber = 2;
constexpr std::size_t hipsSlot = 33;
constexpr std::size_t reachSlot = 34;
constexpr int windowHalf = 3;                 ///< a point is refined in a 7 × 7 window of its map
constexpr double leastPeak = 0.5;             ///< of a map that is trusted to refine a point
constexpr std::array<int, 3> wanted{0, 1, 3}; ///< outputs: points, person score, heat maps

double logistic(double value) {
    return 1.0 / (1.0 + std::exp(-value));
}

struct MapPeak {
    double x = 0.0; ///< weighted middle, in map cells
    double y = 0.0;
    double peak = 0.0;
};

/// The heat map of `slot` around (x, y), both in map cells.
MapPeak peakAround(std::span<const float> maps, std::size_t slot, double x, double y) {
    MapPeak found{x, y, 0.0};
    const int column = static_cast<int>(x);
    const int row = static_cast<int>(y);
    double weight = 0.0;
    double sumX = 0.0;
    double sumY = 0.0;
    for (int v = std::max(0, row - windowHalf); v <= std::min(mapSide - 1, row + windowHalf); ++v) {
        for (int u = std::max(0, column - windowHalf);
             u <= std::min(mapSide - 1, column + windowHalf); ++u) {
            const auto cell = static_cast<std::size_t>(v * mapSide + u);
            const double value = logistic(maps[cell * slots + slot]);
            weight += value;
            sumX += value * u;
            sumY += value * v;
            found.peak = std::max(found.peak, value);
        }
    }
    if (found.peak >= leastPeak) {
        found.x = sumX / weight;
        found.y = sumY / weight;
    }
    return found;
}

} // namespace

PoseNetwork::PoseNetwork(const std::filesystem::path& file, int threads)
    : network_(readNetwork(file, wanted), threads) {
    if (network_.input().size() != std::size_t{3} * pictureSide * pictureSide ||
        network_.output(0).size() != slots * numbersPerSlot || network_.output(1).size() != 1 ||
        network_.output(2).size() != slots * mapSide * mapSide) {
        throw model::InputError(model::message("network.not_pose", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.set_up_again"));
    }
}

SeenPose PoseNetwork::look(const film::Picture& picture, const PoseRegion& region) {
    cutOut(picture, region, pictureSide, 0.0F, 1.0F, network_.input());
    network_.run();
    const std::span<const float> raw = network_.output(0);
    const std::span<const float> maps = network_.output(2);
    SeenPose pose;
    // The file ends with a logistic step: this is a probability already.
    pose.personScore = network_.output(1)[0];
    for (std::size_t slot = 0; slot < posePointCount; ++slot) {
        const float* numbers = raw.data() + slot * numbersPerSlot;
        const double toMap = static_cast<double>(mapSide) / pictureSide;
        const MapPeak map = peakAround(maps, slot, numbers[0] * toMap, numbers[1] * toMap);
        SeenPoint& point = pose.points[slot];
        point.px = inPicture(region, map.x / mapSide, map.y / mapSide);
        point.peak = map.peak;
        point.depthPx = numbers[depthNumber] / pictureSide * region.side;
    }
    const auto plain = [&](std::size_t slot) {
        const float* numbers = raw.data() + slot * numbersPerSlot;
        return inPicture(region, numbers[0] / pictureSide, numbers[1] / pictureSide);
    };
    pose.next = regionFrom(plain(hipsSlot), plain(reachSlot));
    return pose;
}

} // namespace kestrel::pose
