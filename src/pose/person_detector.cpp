#include "pose/person_detector.h"

#include "model/input_error.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::pose {
namespace {

constexpr int pictureSide = 224;
constexpr std::size_t numbersPerAnchor = 12; ///< box, then four key points
constexpr std::size_t anchorCount = 2254;
constexpr double leastScore = 0.5;
constexpr double sameOverlap = 0.3; ///< boxes that overlap more are one person

/// The grids of anchors: cells a side, anchors a cell.
constexpr std::array<std::pair<int, int>, 3> grids{{{28, 2}, {14, 2}, {7, 6}}};

/// The middle of each anchor's cell, from 0 to 1.
std::vector<model::Point2> anchors() {
    std::vector<model::Point2> middles;
    for (const auto& [cells, perCell] : grids) {
        for (int row = 0; row < cells; ++row) {
            for (int column = 0; column < cells; ++column) {
                const model::Point2 middle{(column + 0.5) / cells, (row + 0.5) / cells};
                middles.insert(middles.end(), static_cast<std::size_t>(perCell), middle);
            }
        }
    }
    return middles;
}

/// What one anchor says: all in parts of the window's side.
struct Vote {
    double score = 0.0;
    std::array<model::Point2, 6> points; ///< box corners, hips, reach, shoulders, upper reach
};

double overlap(const Vote& a, const Vote& b) {
    const double width =
        std::min(a.points[1].x, b.points[1].x) - std::max(a.points[0].x, b.points[0].x);
    const double height =
        std::min(a.points[1].y, b.points[1].y) - std::max(a.points[0].y, b.points[0].y);
    if (width <= 0.0 || height <= 0.0) {
        return 0.0;
    }
    const auto area = [](const Vote& v) {
        return (v.points[1].x - v.points[0].x) * (v.points[1].y - v.points[0].y);
    };
    const double common = width * height;
    return common / (area(a) + area(b) - common);
}

std::vector<Vote> votes(std::span<const float> boxes, std::span<const float> scores) {
    static const std::vector<model::Point2> middles = anchors();
    std::vector<Vote> found;
    for (std::size_t index = 0; index < anchorCount; ++index) {
        const double score = 1.0 / (1.0 + std::exp(-static_cast<double>(scores[index])));
        if (score < leastScore) {
            continue;
        }
        const float* raw = boxes.data() + index * numbersPerAnchor;
        const auto at = [&](std::size_t first) {
            return middles[index] +
                   model::Point2{raw[first] / pictureSide, raw[first + 1] / pictureSide};
        };
        const model::Point2 centre = at(0);
        const model::Point2 half{raw[2] / pictureSide / 2.0, raw[3] / pictureSide / 2.0};
        found.push_back({score, {centre - half, centre + half, at(4), at(6), at(8), at(10)}});
    }
    std::sort(found.begin(), found.end(),
              [](const Vote& a, const Vote& b) { return a.score > b.score; });
    return found;
}

/// Votes for one person become their mean, weighted by score; the first vote's score stands.
std::vector<Vote> united(std::vector<Vote> votes) {
    std::vector<Vote> people;
    while (!votes.empty()) {
        const Vote first = votes.front();
        Vote mean;
        mean.score = first.score;
        double weight = 0.0;
        std::erase_if(votes, [&](const Vote& vote) {
            if (overlap(first, vote) < sameOverlap && !(&vote == &votes.front())) {
                return false;
            }
            for (std::size_t i = 0; i < mean.points.size(); ++i) {
                mean.points[i] = mean.points[i] + vote.points[i] * vote.score;
            }
            weight += vote.score;
            return true;
        });
        for (model::Point2& point : mean.points) {
            point = point * (1.0 / weight);
        }
        people.push_back(mean);
    }
    return people;
}

} // namespace

PersonDetector::PersonDetector(const std::filesystem::path& file, int threads)
    : network_(readNetwork(file), threads) {
    const std::size_t pixels = std::size_t{3} * pictureSide * pictureSide;
    if (network_.input().size() != pixels ||
        network_.output(0).size() != anchorCount * numbersPerAnchor ||
        network_.output(1).size() != anchorCount) {
        throw model::InputError(model::message("network.not_detector", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.set_up_again"));
    }
}

std::vector<Person> PersonDetector::people(const film::Picture& picture) {
    const double side = std::max(picture.width, picture.height);
    return people(picture, {{(picture.width - 1) / 2.0, (picture.height - 1) / 2.0}, side, 0.0});
}

std::vector<Person> PersonDetector::people(const film::Picture& picture, const PoseRegion& window) {
    cutOut(picture, window, pictureSide, -1.0F, 1.0F, network_.input());
    network_.run();
    std::vector<Person> found;
    for (const Vote& vote : united(votes(network_.output(0), network_.output(1)))) {
        const auto at = [&](std::size_t i) {
            return inPicture(window, vote.points[i].x, vote.points[i].y);
        };
        found.push_back({at(0), at(1), regionFrom(at(2), at(3)), vote.score});
    }
    return found;
}

} // namespace kestrel::pose
