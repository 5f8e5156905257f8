#include "technique/positions/pose_sequence.h"

#include "technique/pack/roles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <vector>

namespace kestrel::technique {
namespace {

using model::Landmark;
using model::Point2;

Point2 carried(const Circumstances& c, int frame, Point2 p) {
    const auto at = static_cast<std::size_t>(frame);
    return at < c.camera.size() ? carriedToFirst(c.camera[at], p) : p;
}

std::optional<Point2> placeOf(const Pack& pack, const PointExpression& expression, int frame,
                              const model::FrameLandmarks& points, const Circumstances& c) {
    Point2 sum;
    for (const auto& [role, weight] : expression.terms) {
        const auto landmark = landmarkForRole(pack, role, c.hand);
        const auto point = landmark ? points.find(*landmark) : points.end();
        if (point == points.end() || point->second.hidden) {
            return std::nullopt;
        }
        sum = sum + point->second.px * weight;
    }
    return carried(c, frame, sum);
}

/// Places over an instant's neighbours, the nearest counting most.
class Nearby {
  public:
    void add(Point2 place, double weight) {
        sum_ = sum_ + place * weight;
        weight_ += weight;
    }
    [[nodiscard]] std::optional<Point2> mean() const {
        return weight_ > 0.0 ? std::optional(sum_ * (1.0 / weight_)) : std::nullopt;
    }

  private:
    Point2 sum_;
    double weight_ = 0.0;
};

struct Instant {
    std::array<std::optional<Point2>, PoseSequence::landmarks> points;
    std::optional<Point2> hips;
};

class Sampler {
  public:
    Sampler(const model::Rep& rep, const Circumstances& c) : rep_(rep), c_(c) {}

    [[nodiscard]] Instant at(double time) const {
        std::array<Nearby, PoseSequence::landmarks> near;
        const int last = model::frameAtFieldTime(c_.time, model::Seconds(time));
        const double apartOnFilm = model::frameInterval(c_.time, last).value;
        const double interval = apartOnFilm > 0.0 ? apartOnFilm : PoseSequence::step;
        const double reach = std::max(PoseSequence::step, interval);
        const int beside = static_cast<int>(reach / interval) + 1;
        for (int frame = last - beside; frame <= last + beside; ++frame) {
            const auto points = rep_.landmarks.find(frame);
            if (frame < 0 || frame >= c_.time.frameCount() || points == rep_.landmarks.end()) {
                continue;
            }
            const double apart =
                std::abs(c_.time.fieldTimes()[static_cast<std::size_t>(frame)].value - time);
            constexpr double rounding = 1e-6;
            const double weight = 1.0 - apart / reach;
            if (weight <= rounding) {
                continue;
            }
            for (const auto& [landmark, point] : points->second) {
                if (const auto l = static_cast<std::size_t>(landmark);
                    l < near.size() && !point.hidden) {
                    near[l].add(carried(c_, frame, point.px), weight);
                }
            }
        }
        Instant instant;
        for (std::size_t l = 0; l < near.size(); ++l) {
            instant.points[l] = near[l].mean();
        }
        const auto left = instant.points[static_cast<std::size_t>(Landmark::leftHip)];
        const auto right = instant.points[static_cast<std::size_t>(Landmark::rightHip)];
        if (left && right) {
            instant.hips = (*left + *right) * 0.5;
        }
        return instant;
    }

  private:
    const model::Rep& rep_;
    const Circumstances& c_;
};

Point2 middleOf(const std::vector<Instant>& instants) {
    std::vector<double> x;
    std::vector<double> y;
    for (const Instant& instant : instants) {
        if (instant.hips) {
            x.push_back(instant.hips->x);
            y.push_back(instant.hips->y);
        }
    }
    const auto median = [](std::vector<double>& values) {
        if (values.empty()) {
            return 0.0;
        }
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::nth_element(values.begin(), middle, values.end());
        return *middle;
    };
    return {median(x), median(y)};
}

} // namespace

double heightSeen(const Pack& pack, const model::Rep& rep, const Circumstances& c) {
    std::vector<double> heights;
    for (const auto& [frame, points] : rep.landmarks) {
        double path = 0.0;
        std::optional<Point2> before;
        bool whole = true;
        for (const PointExpression& expression : pack.bodyHeight.path) {
            const auto place = placeOf(pack, expression, frame, points, c);
            whole = whole && place.has_value();
            if (place && before) {
                path += model::length(*place - *before);
            }
            before = place;
        }
        if (whole) {
            heights.push_back(path / pack.bodyHeight.fraction);
        }
    }
    if (heights.empty()) {
        return 0.0;
    }
    constexpr double upright = 0.9; // the share of frames in which the path is shorter
    const auto at = heights.begin() +
                    static_cast<std::ptrdiff_t>(upright * static_cast<double>(heights.size() - 1));
    std::nth_element(heights.begin(), at, heights.end());
    return *at;
}

PoseSequence poseSequence(const Pack& pack, const model::Rep& rep, const Circumstances& c) {
    PoseSequence sequence;
    const double height = heightSeen(pack, rep, c);
    if (rep.landmarks.empty() || height <= 0.0) {
        return sequence;
    }
    const int lastFrame = c.time.frameCount() - 1;
    const int from =
        std::clamp(rep.span ? rep.span->first : rep.landmarks.begin()->first, 0, lastFrame);
    const int to =
        std::clamp(rep.span ? rep.span->last : rep.landmarks.rbegin()->first, from, lastFrame);
    const auto timeOf = [&](int frame) {
        return c.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
    };
    sequence.begin = timeOf(from);
    const int count =
        static_cast<int>(std::floor((timeOf(to) - sequence.begin) / PoseSequence::step + 1e-6)) + 1;
    const Sampler sampler(rep, c);
    std::vector<Instant> instants;
    for (int i = 0; i < count; ++i) {
        instants.push_back(sampler.at(sequence.timeAt(i)));
    }
    const Point2 middle = middleOf(instants);
    const bool mirror = c.hand == model::Hand::left;
    const double acrossScale = (mirror ? -1.0 : 1.0) / height;
    const auto scaled = [&](Point2 way) {
        return Eigen::Vector2f(static_cast<float>(way.x * acrossScale),
                               static_cast<float>(-way.y / height));
    };
    sequence.rows = Eigen::MatrixXf::Zero(PoseSequence::rowCount, count);
    constexpr int seenFrom = 2 * PoseSequence::landmarks;
    constexpr int hipsFrom = 3 * PoseSequence::landmarks;
    for (int i = 0; i < count; ++i) {
        const Instant& instant = instants[static_cast<std::size_t>(i)];
        auto column = sequence.rows.col(i);
        column[PoseSequence::rowCount - 1] = 1.0F;
        if (!instant.hips) {
            continue;
        }
        for (int l = 0; l < PoseSequence::landmarks; ++l) {
            const auto landmark = static_cast<Landmark>(l);
            const auto& point = instant.points[static_cast<std::size_t>(
                mirror ? model::mirrored(landmark) : landmark)];
            if (point) {
                column.segment<2>(2 * l) = scaled(*point - *instant.hips);
                column[seenFrom + l] = 1.0F;
            }
        }
        column.segment<2>(hipsFrom) = scaled(*instant.hips - middle);
        constexpr int beside = 2;
        if (i >= beside && i + beside < count) {
            const auto& before = instants[static_cast<std::size_t>(i - beside)].hips;
            const auto& after = instants[static_cast<std::size_t>(i + beside)].hips;
            if (before && after) {
                constexpr double apart = 2.0 * beside * PoseSequence::step;
                column.segment<2>(hipsFrom + 2) = scaled((*after - *before) * (1.0 / apart));
            }
        }
    }
    return sequence;
}

} // namespace kestrel::technique
