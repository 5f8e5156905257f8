#include "technique/kinds/both_films.h"

#include "technique/kinds/inputs.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kestrel::technique {
namespace {

using model::Point2;

std::optional<SeenLandmark> seenIn(const Film& film, model::Landmark landmark,
                                   const std::string& position) {
    const auto frame = model::frameOf(film.rep, position);
    return frame ? seenAt(film, landmark, *frame) : std::nullopt;
}

/// The landmark at a time between two frames that both show it.
std::optional<SeenLandmark> seenBetween(const Film& film, model::Landmark landmark, double time) {
    const auto& times = film.time.fieldTimes();
    if (times.size() < 2 || time < times.front().value || time > times.back().value) {
        return std::nullopt;
    }
    const int frame = std::min(model::frameAtFieldTime(film.time, model::Seconds(time)),
                               film.time.frameCount() - 2);
    const auto before = seenAt(film, landmark, frame);
    const auto after = seenAt(film, landmark, frame + 1);
    if (!before || !after) {
        return std::nullopt;
    }
    const double start = times[static_cast<std::size_t>(frame)].value;
    const double step = times[static_cast<std::size_t>(frame) + 1].value - start;
    const double share = (time - start) / step;
    const Point2 way = after->px - before->px;
    // Neighbours share what a machine that followed them is off by.
    return SeenLandmark{before->px + way * share, std::max(before->sd, after->sd),
                        way * (1.0 / step)};
}

std::optional<model::SyncOffset> stepBetween(const Film& first, const Film& second,
                                             const std::optional<model::SyncOffset>& heard) {
    if (heard) {
        return heard;
    }
    if (second.time.frameCount() < 2) {
        return std::nullopt;
    }
    struct Said {
        double later;
        double weight;
    };
    std::vector<Said> said;
    double weights = 0.0;
    double sum = 0.0;
    for (const auto& [position, frame] : first.rep.positions) {
        const auto other = model::frameOf(second.rep, position);
        if (!other) {
            continue;
        }
        const double later = second.time.fieldTimes().at(static_cast<std::size_t>(*other)).value -
                             first.time.fieldTimes().at(static_cast<std::size_t>(frame)).value;
        const double sd = std::hypot(instantSd(first.time, first.rep, position),
                                     instantSd(second.time, second.rep, position));
        said.push_back({later, 1.0 / (sd * sd)});
        weights += said.back().weight;
        sum += said.back().weight * later;
    }
    if (said.empty()) {
        return std::nullopt;
    }
    const double mean = sum / weights;
    double misfit = 0.0;
    for (const Said& s : said) {
        misfit += s.weight * (s.later - mean) * (s.later - mean);
    }
    const double freedom = std::max(1.0, static_cast<double>(said.size()) - 1.0);
    return model::SyncOffset{mean, std::sqrt(std::max(1.0, misfit / freedom) / weights)};
}

} // namespace

std::optional<SeenLandmark> seenAt(const Film& film, model::Landmark landmark, int frame) {
    const model::LandmarkPoint* point = model::find(film.rep.landmarks, frame, landmark);
    if (point == nullptr || point->hidden || point->sdPx <= 0.0) {
        return std::nullopt;
    }
    SeenLandmark seen{point->px, point->sdPx, {}};
    if (frame < static_cast<int>(film.camera.size())) {
        const model::CameraPose& pose = film.camera[static_cast<std::size_t>(frame)];
        seen.px = carriedToFirst(pose, seen.px);
        seen.sd = std::hypot(seen.sd, pose.sdPx);
    }
    return seen;
}

BothFilms::BothFilms(const model::Rep& rep, const Circumstances& c)
    : first{rep, *c.ground, c.camera, c.time},
      second{c.second->rep, c.second->ground, c.second->camera, c.second->time},
      step(stepBetween(first, second, c.second->heard)) {}

std::optional<SeenLandmark> BothFilms::seenBetween(model::Landmark landmark, int frame) const {
    if (!step) {
        return std::nullopt;
    }
    const double time = first.time.fieldTimes().at(static_cast<std::size_t>(frame)).value;
    return technique::seenBetween(second, landmark, time + step->seconds);
}

std::optional<SeenLandmark> BothFilms::seenInSecond(model::Landmark landmark,
                                                    const std::string& position) const {
    if (auto seen = seenBetween(landmark, *model::frameOf(first.rep, position))) {
        return seen;
    }
    return seenIn(second, landmark, position);
}

std::vector<motion::SeenByBoth> bodySeenByBoth(const BothFilms& films) {
    std::vector<motion::SeenByBoth> spots;
    for (const model::Landmark landmark : model::allLandmarks()) {
        if (!model::isOfBody(landmark)) {
            continue; // bat and ball are too fast to be at one place for both
        }
        std::set<int> frames; // two positions may share one
        std::vector<motion::SeenByBoth> ofThis;
        for (const auto& [position, frame] : films.first.rep.positions) {
            const auto one = seenAt(films.first, landmark, frame);
            const auto other = one ? films.seenInSecond(landmark, position) : std::nullopt;
            if (!other || !other->velocity || !frames.insert(frame).second) {
                continue;
            }
            const double unsure = model::length(*other->velocity) * films.step->sd;
            ofThis.push_back({one->px, one->sd, other->px, std::hypot(other->sd, unsure)});
        }
        for (motion::SeenByBoth& spot : ofThis) {
            spot.instants = static_cast<int>(ofThis.size());
            spots.push_back(spot);
        }
    }
    return spots;
}

} // namespace kestrel::technique
