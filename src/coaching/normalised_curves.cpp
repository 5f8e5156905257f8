#include "coaching/normalised_curves.h"

#include "coaching/consistency.h"

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

constexpr int places = 101;
constexpr double whole = 100.0;

/// The value at a time, between its neighbours; nothing in a gap.
std::optional<double> valueAt(const std::vector<technique::CurvePoint>& course, double time,
                              double longestStep) {
    constexpr double rounding = 1e-9;
    const auto next =
        std::find_if(course.begin(), course.end(),
                     [&](const technique::CurvePoint& p) { return p.time >= time - rounding; });
    if (next == course.end()) {
        return std::nullopt;
    }
    if (std::abs(next->time - time) <= rounding) {
        return next->value;
    }
    if (next == course.begin() || next->time - std::prev(next)->time > longestStep) {
        return std::nullopt;
    }
    const technique::CurvePoint& before = *std::prev(next);
    const double share = (time - before.time) / (next->time - before.time);
    return before.value + share * (next->value - before.value);
}

/// Three of the course's usual steps.
double longestStepOf(const std::vector<technique::CurvePoint>& course) {
    std::vector<double> steps;
    for (std::size_t i = 1; i < course.size(); ++i) {
        steps.push_back(course[i].time - course[i - 1].time);
    }
    if (steps.empty()) {
        return 0.0;
    }
    const auto middle = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
    std::nth_element(steps.begin(), middle, steps.end());
    constexpr double most = 3.0;
    return most * *middle;
}

/// Positions that all reps have, in the pack's order and in ascending time in each of them.
std::vector<std::string> sharedPositions(const technique::Pack& pack,
                                         const std::vector<TimedCourse>& reps) {
    std::vector<std::string> shared;
    for (const technique::Position& position : pack.positions) {
        const bool fits = std::all_of(reps.begin(), reps.end(), [&](const TimedCourse& rep) {
            const auto here = rep.positions.find(position.id);
            return here != rep.positions.end() &&
                   (shared.empty() || rep.positions.at(shared.back()) < here->second);
        });
        if (fits) {
            shared.push_back(position.id);
        }
    }
    return shared;
}

} // namespace

NormalisedCurves normalised(const technique::Pack& pack, const std::vector<TimedCourse>& reps) {
    NormalisedCurves curves;
    const std::vector<std::string> shared = sharedPositions(pack, reps);
    if (reps.empty() || shared.size() < 2) {
        return curves;
    }
    for (const std::string& id : shared) {
        double place = 0.0;
        for (const TimedCourse& rep : reps) {
            const double from = rep.positions.at(shared.front());
            const double to = rep.positions.at(shared.back());
            place += whole * (rep.positions.at(id) - from) / (to - from);
        }
        curves.marks.push_back({id, place / static_cast<double>(reps.size())});
    }
    for (const TimedCourse& rep : reps) {
        const double longest = longestStepOf(rep.course);
        std::vector<std::optional<double>> values;
        std::size_t part = 1; // between marks part − 1 and part
        for (int place = 0; place < places; ++place) {
            while (part + 1 < curves.marks.size() && curves.marks[part].place < place) {
                ++part;
            }
            const auto& from = curves.marks[part - 1];
            const auto& to = curves.marks[part];
            const double share = (place - from.place) / (to.place - from.place);
            const double begin = rep.positions.at(from.positionId);
            const double end = rep.positions.at(to.positionId);
            values.push_back(valueAt(rep.course, begin + share * (end - begin), longest));
        }
        curves.reps.push_back(std::move(values));
    }
    for (std::size_t place = 0; place < places; ++place) {
        std::vector<double> there;
        for (const auto& rep : curves.reps) {
            if (rep[place]) {
                there.push_back(*rep[place]);
            }
        }
        const auto count = static_cast<int>(there.size());
        if (count < fewestReps) {
            continue;
        }
        double mean = 0.0;
        for (const double value : there) {
            mean += value / count;
        }
        double square = 0.0;
        for (const double value : there) {
            square += (value - mean) * (value - mean);
        }
        curves.band.push_back(
            {static_cast<double>(place), mean, std::sqrt(square / (count - 1)), count});
    }
    return curves;
}

} // namespace kestrel::coaching
