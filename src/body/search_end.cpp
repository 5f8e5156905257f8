#include "body/search_end.h"

#include "body/between_times.h"
#include "body/residuals.h"

#include <algorithm>
#include <cmath>

namespace kestrel::body {

SearchEnd searchEnd(const Estimate& estimate, double distanceInformation, double sum) {
    const State& state = estimate.state;
    SearchEnd end;
    end.sum = sum;
    end.distanceInformation = distanceInformation;
    end.unitPx = state.unitPx;
    end.logHeight = state.logHeight;
    end.azimuth = state.azimuth;
    end.camera = state.camera;
    end.gravity = state.gravity;
    end.lean = state.lean;
    end.landmarkErrors = state.landmarkErrors;
    for (const Alternative& other : estimate.alternatives) {
        SearchEnd::Answer& answer = end.answers.emplace_back();
        answer.limb = other.limb;
        answer.odds = other.odds;
        answer.first = other.first;
        answer.last = other.last;
        answer.points = other.points;
        for (const Eigen::Vector3d& place : other.places) {
            answer.places.insert(answer.places.end(), place.begin(), place.end());
        }
    }
    for (const OtherEnd& other : estimate.otherEnds) {
        end.others.push_back({other.odds, {other.beside.begin(), other.beside.end()}});
    }
    return end;
}

State stateAt(const FittedParts& parts, const SearchEnd& end) {
    State state;
    state.unitPx = end.unitPx;
    state.logHeight = end.logHeight;
    state.azimuth = end.azimuth;
    state.camera = end.camera;
    state.gravity = end.gravity;
    state.lean = end.lean;
    state.landmarkErrors = end.landmarkErrors;
    state.ground = parts.groundBh * std::exp(end.logHeight);
    std::transform(parts.lengths.begin(), parts.lengths.end(), state.logLengths.begin(),
                   [](double length) { return std::log(length); });
    const Eigen::Matrix3d axes =
        std::exp(end.logHeight) * levelAxes(state.gravity.data()).transpose();
    state.points.resize(parts.places.size());
    for (std::size_t i = 0; i < state.points.size(); i += 3) {
        const Eigen::Vector3f level(parts.places[i], parts.places[i + 1], parts.places[i + 2]);
        Eigen::Map<Eigen::Vector3d>(state.points.data() + i) = axes * level.cast<double>();
    }
    return state;
}

std::vector<Alternative> answersAt(const std::vector<model::Seconds>& times, const SearchEnd& end,
                                   const std::vector<model::Seconds>& others) {
    std::vector<Alternative> all;
    for (const SearchEnd::Answer& answer : end.answers) {
        const auto first =
            std::lower_bound(others.begin(), others.end(), times[answer.first]) - others.begin();
        const auto beyond =
            std::upper_bound(others.begin(), others.end(), times[answer.last]) - others.begin();
        if (first >= beyond) {
            continue;
        }
        Alternative other;
        other.limb = answer.limb;
        other.odds = answer.odds;
        other.points = answer.points;
        other.first = static_cast<std::size_t>(first);
        other.last = static_cast<std::size_t>(beyond - 1);
        const auto place = [&](std::size_t instant, std::size_t k) {
            const float* p =
                &answer.places[3 * ((instant - answer.first) * answer.points.size() + k)];
            return Eigen::Vector3d(p[0], p[1], p[2]);
        };
        for (std::size_t i = other.first; i <= other.last; ++i) {
            const BetweenTimes at = betweenTimes(times, others[i]);
            const std::size_t from = std::max(at.from, answer.first);
            const std::size_t to = std::clamp(at.to, answer.first, answer.last);
            for (std::size_t k = 0; k < answer.points.size(); ++k) {
                other.places.emplace_back((1.0 - at.share) * place(from, k) +
                                          at.share * place(to, k));
            }
        }
        all.push_back(std::move(other));
    }
    return all;
}

std::vector<OtherEnd> endsAt(const std::vector<model::Seconds>& times, const SearchEnd& end,
                             const std::vector<model::Seconds>& others) {
    std::vector<OtherEnd> all;
    for (const SearchEnd::Other& kept : end.others) {
        OtherEnd other;
        other.odds = kept.odds;
        const std::size_t numbers = kept.beside.size() / times.size();
        for (const model::Seconds time : others) {
            const BetweenTimes at = betweenTimes(times, time);
            for (std::size_t k = 0; k < numbers; ++k) {
                other.beside.push_back((1.0 - at.share) * kept.beside[at.from * numbers + k] +
                                       at.share * kept.beside[at.to * numbers + k]);
            }
        }
        all.push_back(std::move(other));
    }
    return all;
}

} // namespace kestrel::body
