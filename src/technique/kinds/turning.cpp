#include "technique/kinds/turning.h"

#include "motion/heading.h"
#include "technique/kinds/course_peaks.h"
#include "technique/kinds/courses.h"
#include "technique/kinds/heading.h"
#include "technique/kinds/inputs.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;

/// Frames around the fastest moment, while it is above half as fast, that must show it.
constexpr int fewestAtPeak = 4;

/// The kind whose readings are the samples.
const MeasureKind& headingKind() {
    return *findKind("heading");
}

model::Message nameOf(const Pack& pack, const PointExpression& leadEnd) {
    const auto landmark = landmarkForRole(pack, leadEnd.terms.front().first, model::Hand::right);
    const bool hips = landmark && lineThrough(*landmark) == model::BodyLine::hips;
    return model::message(hips ? "turn.of_hips" : "turn.of_shoulders");
}

/// How far `around` a time samples lie.
int samplesNear(const CoursePoint& point, double time, double around) {
    return static_cast<int>(
        std::count_if(point.places.begin(), point.places.end(), [&](const motion::PlaceSample& p) {
            return std::abs(p.time - time) <= around;
        }));
}

/// The line as it is seen in the frame closest to a time.
model::Construct drawn(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                       const Measure& measure, double time) {
    const auto& times = c.time.fieldTimes();
    const auto next =
        std::find_if(times.begin(), times.end(), [&](const auto& t) { return t.value >= time; });
    model::Construct construct;
    construct.frame = static_cast<int>(std::min(next, times.end() - 1) - times.begin());
    for (std::size_t i = 0; i + 1 < measure.points.size(); i += 2) {
        std::array<model::Point2, 2> ends;
        bool whole = true;
        for (std::size_t end = 0; end < 2; ++end) {
            const auto landmark =
                landmarkForRole(pack, measure.points[i + end].terms.front().first, c.hand);
            const model::LandmarkPoint* point =
                landmark ? model::find(rep.landmarks, construct.frame, *landmark) : nullptr;
            whole = whole && point != nullptr;
            ends[end] = point != nullptr ? point->px : model::Point2{};
        }
        if (whole) {
            construct.shapes.emplace_back(model::Segment{
                ends[0], ends[1], i == 0 ? model::Role::trunk : model::Role::throwingSide});
            construct.labelAt = (ends[0] + ends[1]) * 0.5;
        }
    }
    return construct;
}

} // namespace

double breadthSd(PixelHeight bodyHeightPx) {
    return std::hypot(motion::breadthFractionSd, bodyHeightPx.sd / bodyHeightPx.value);
}

std::optional<CoursePoint> turningOf(MovingRep& rep, const Circumstances& circumstances,
                                     std::span<const PointExpression> ends, motion::TimeSpan within,
                                     const model::Message& stretch, PixelHeight bodyHeightPx,
                                     double breadth, model::Message& refusal) {
    const Pack& pack = rep.pack();
    Measure measure;
    measure.kind = &headingKind();
    measure.unit = model::Unit::degrees;
    measure.at = MovingRep::position;
    measure.points.assign(ends.begin(), ends.end());
    const PixelHeight height{breadth * bodyHeightPx.value, bodyHeightPx.sd};
    CoursePoint course;
    course.name = nameOf(pack, ends[1]);
    bool allPlaced = true;
    int frames = 0;
    int shown = 0;
    for (int frame = 0; frame < circumstances.time.frameCount(); ++frame) {
        const double time = circumstances.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
        if (time < within.from - courseBeyond || time > within.to + courseBeyond) {
            continue;
        }
        const bool inside = time >= within.from && time <= within.to;
        frames += inside ? 1 : 0;
        model::Reading reading;
        readHeading(pack, rep.at(frame), circumstances, measure, height, reading);
        if (!reading.value || reading.uncertainty.placement <= 0.0) {
            continue;
        }
        shown += inside ? 1 : 0;
        course.places.push_back({time, {*reading.value, 0.0}, reading.uncertainty.placement});
        for (const PointExpression& end : ends) {
            const auto landmark =
                landmarkForRole(pack, end.terms.front().first, circumstances.hand);
            allPlaced = allPlaced && model::find(rep.rep().landmarks, frame, *landmark)->source ==
                                         model::Source::placed;
        }
    }
    if (course.places.size() < fewestInCourse) {
        refusal = model::message("turn.too_few_frames", course.name, shown, frames, stretch);
        return std::nullopt;
    }
    course.scatter = allPlaced ? motion::Scatter::stated : motion::Scatter::seen;
    course.curve = motion::speedCurve(course.places, course.scatter);
    for (motion::SpeedPoint& p : course.curve->points) {
        p.speed = p.velocity.x > 0.0 ? p.speed : 0.0; // it turns back there
    }
    return course;
}

void readTurning(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                 model::Reading& reading) {
    const TurningKind& kind = *measure.kind->as<TurningKind>();
    reading.missing = timeHindrance(pack, rep, circumstances, {measure.from, measure.at});
    if (reading.missing) {
        return;
    }
    if (!bodyHeightPx) {
        reading.missing = MissingReason{
            MissingReason::Kind::noBodyHeight,
            model::message("height.for_turn", findPosition(pack, pack.bodyHeight.at)->name)};
        return;
    }
    const Courses courses(pack, rep, circumstances);
    const motion::TimeSpan within =
        courses.stretch(measure.from, measure.fromAfter, measure.at, measure.atAfter);
    const model::Message stretch = stretchBetween(pack, measure.from, measure.at);
    const double rate =
        1.0 / model::frameInterval(circumstances.time, *model::frameOf(rep, measure.at)).value;
    model::Message refusal;
    MovingRep moving(pack, rep);
    const auto inputWith = [&](double breadth) {
        std::optional<CourseInput> input = CourseInput{{}, within, rate, bodyHeightPx->value};
        for (std::size_t i = 0; i + 1 < measure.points.size(); i += 2) {
            auto point = turningOf(moving, circumstances, std::span(measure.points).subspan(i, 2),
                                   within, stretch, *bodyHeightPx, breadth, refusal);
            if (!point) {
                return std::optional<CourseInput>();
            }
            input->points.push_back(std::move(*point));
        }
        return input;
    };
    auto input = inputWith(1.0);
    if (!input) {
        reading.missing = MissingReason{MissingReason::Kind::landmarkNotPlaced, refusal};
        return;
    }
    const CourseValue found = kind.value(*input);
    if (!found.value) {
        reading.missing = MissingReason{MissingReason::Kind::tooFewFrames, found.refusal};
        return;
    }
    for (std::size_t i = 0; i < input->points.size(); ++i) {
        const motion::SpeedPeak peak = *peakOf(*input, i).peak;
        if (samplesNear(input->points[i], peak.time, 0.5 * peak.lasts) < fewestAtPeak) {
            reading.missing =
                MissingReason{MissingReason::Kind::foreshortened,
                              model::message("turn.peak_not_seen", input->points[i].name)};
            return;
        }
    }
    // A player broader or narrower than the table turns faster or slower than it looks.
    const double sd = breadthSd(*bodyHeightPx);
    double square = 0.0;
    double sides = 0.0;
    for (const double breadth : {1.0 + sd, 1.0 - sd}) {
        auto other = inputWith(breadth);
        // So narrow or broad the player cannot be when the line then never turns as it is seen to.
        if (const auto value = other ? kind.value(*other).value : std::nullopt) {
            square += std::pow(*value - *found.value, 2);
            sides += 1.0;
        }
    }
    if (sides == 0.0) {
        reading.missing = MissingReason{
            MissingReason::Kind::foreshortened,
            model::message("turn.speed_hangs_on_breadth", input->points.front().name)};
        return;
    }
    reading.value = measure.absolute ? std::abs(*found.value) : *found.value;
    reading.uncertainty.placement = *found.scatterSd;
    reading.uncertainty.smoothing =
        std::sqrt(std::max(0.0, found.sd * found.sd - *found.scatterSd * *found.scatterSd));
    reading.uncertainty.proportion = std::sqrt(square / sides);
    model::Construct construct =
        drawn(pack, rep, circumstances, measure, peakOf(*input, 0).peak->time);
    if (!construct.shapes.empty()) {
        construct.label = model::valueOf(*reading.value, measure.unit);
        reading.constructs.push_back(std::move(construct));
    }
}

} // namespace kestrel::technique
