#include "technique/kinds/sequence.h"

#include "technique/kinds/course_peaks.h"
#include "technique/kinds/courses.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/moving_rep.h"
#include "technique/kinds/turning.h"
#include "technique/kinds/two_views.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;

/// Curve and peak of a link in a unit that `scale` times pixels or degrees a second is. Of the
/// curve only what `shows`, where that is not empty.
void fill(LinkCurve& link, const motion::SpeedCurve& curve, const std::vector<bool>& shows,
          const FoundPeak& found, motion::TimeSpan within, double scale) {
    for (std::size_t i = 0; i < curve.points.size(); ++i) {
        const motion::SpeedPoint& p = curve.points[i];
        const bool shown = shows.empty() || shows[i];
        if (shown && p.time >= within.from && p.time <= within.to) {
            link.points.push_back({p.time, p.speed * scale, p.sd * scale});
            link.growth.push_back({p.time, p.gain * scale, p.gainSd * scale});
        }
    }
    if (!found.peak) {
        link.refusal = found.refusal;
        return;
    }
    link.peak = CurvePeak{found.peak->time, found.peak->timeSd, found.peak->speed * scale,
                          found.peak->speedSd * scale};
}

/// Fills in a link that is the turn of a line. Broader or narrower than the table, a player turns
/// faster or slower than it looks, and is fastest elsewhere: that adds to the peak's doubt.
void readTurningLink(const SequenceLink& link, const Courses& courses, CourseInput& input,
                     const model::Message& stretch, PixelHeight height, LinkCurve& read) {
    MovingRep moving(courses.pack(), courses.rep());
    const auto peakWith = [&](double breadth) {
        FoundPeak found;
        auto point = turningOf(moving, courses.circumstances(), link.points, input.within, stretch,
                               height, breadth, found.refusal);
        if (point) {
            input.points = {std::move(*point)};
            found = fastestTurn(input, 0);
        }
        return found;
    };
    const double sd = breadthSd(height);
    auto broad = peakWith(1.0 + sd).peak;
    auto narrow = peakWith(1.0 - sd).peak;
    FoundPeak found = peakWith(1.0);
    // So narrow or broad the player cannot be when the line then never turns as it is seen to.
    broad = broad ? broad : narrow;
    narrow = narrow ? narrow : broad;
    if (found.peak && !broad) {
        found.peak.reset();
        found.refusal = model::message("turn.time_hangs_on_breadth", input.points.front().name);
    }
    if (found.peak) {
        const auto spread = [&](double motion::SpeedPeak::*of) {
            const double here = (*found.peak).*of;
            return std::sqrt(
                0.5 * (std::pow((*broad).*of - here, 2) + std::pow((*narrow).*of - here, 2)));
        };
        found.peak->timeSd = std::hypot(found.peak->timeSd, spread(&motion::SpeedPeak::time));
        found.peak->speedSd = std::hypot(found.peak->speedSd, spread(&motion::SpeedPeak::speed));
    }
    if (input.points.empty()) {
        read.refusal = found.refusal;
        return;
    }
    fill(read, *input.points.front().curve, {}, found, input.within, 1.0);
}

LinkCurve readLink(const SequenceLink& link, const Courses& courses, motion::TimeSpan within,
                   double frameRate, const model::Message& stretch, PixelHeight height) {
    LinkCurve read;
    read.linkId = link.id;
    read.name = link.name;
    read.unit = link.of == SequenceLink::Of::speed ? model::Unit::bodyHeightsPerSecond
                                                   : model::Unit::degreesPerSecond;
    CourseInput input{{}, within, frameRate, height.value};
    if (link.of == SequenceLink::Of::turning) {
        readTurningLink(link, courses, input, stretch, height, read);
        return read;
    }
    for (const PointExpression& expression : link.points) {
        auto point = courses.pointIn(expression, within, stretch, read.refusal);
        if (!point) {
            return read;
        }
        input.points.push_back(std::move(*point));
    }
    if (link.of == SequenceLink::Of::speed) {
        const motion::SpeedCurve curve =
            motion::speedCurve(input.points[0].places, input.points[0].scatter);
        fill(read, curve, {}, peakOf(input, 0), within, 1.0 / height.value);
    } else if (const auto opening = openingOf(input, 0)) {
        fill(read, opening->speed, opening->shows, extensionOf(input, 0), within, 1.0);
    } else {
        read.refusal = extensionOf(input, 0).refusal;
    }
    return read;
}

LinkStep stepBetween(const LinkCurve& earlier, const LinkCurve& later, double frameRate) {
    LinkStep step;
    step.earlier = earlier.linkId;
    step.later = later.linkId;
    step.gapMs = model::milliseconds * (later.peak->time - earlier.peak->time);
    step.u95Ms = model::milliseconds * model::coverage95 *
                 std::hypot(earlier.peak->timeSd, later.peak->timeSd);
    if (std::abs(step.gapMs) > std::max(step.u95Ms, model::milliseconds / frameRate)) {
        step.order = step.gapMs > 0.0 ? LinkStep::Order::follows : LinkStep::Order::leads;
    }
    if (earlier.unit == later.unit && earlier.peak->value > 0.0) {
        step.gain = later.peak->value / earlier.peak->value;
    }
    return step;
}

} // namespace

model::Unit growthUnit(model::Unit unit) {
    return unit == model::Unit::bodyHeightsPerSecond ? model::Unit::bodyHeightsPerSecondSquared
                                                     : model::Unit::degreesPerSecondSquared;
}

SequenceReading readSequence(const Pack& pack, const model::Rep& rep,
                             const Circumstances& circumstances) {
    SequenceReading reading;
    if (!pack.sequence) {
        reading.missing =
            MissingReason{MissingReason::Kind::degenerate, model::message("sequence.none")};
        return reading;
    }
    const Sequence& sequence = *pack.sequence;
    if (!circumstances.view || std::find(sequence.views.begin(), sequence.views.end(),
                                         *circumstances.view) == sequence.views.end()) {
        reading.missing =
            MissingReason{MissingReason::Kind::invalidView,
                          model::message("sequence.other_view", anyOf(sequence.views))};
        return reading;
    }
    reading.missing = timeHindrance(pack, rep, circumstances, {sequence.from, sequence.at});
    const auto height = bodyHeight(pack, rep, circumstances.hand);
    if (!reading.missing && !height) {
        reading.missing = MissingReason{
            MissingReason::Kind::noBodyHeight,
            model::message("height.for_speed", findPosition(pack, pack.bodyHeight.at)->name)};
    }
    if (reading.missing) {
        return reading;
    }
    const Courses courses(pack, rep, circumstances);
    const motion::TimeSpan within =
        courses.stretch(sequence.from, sequence.fromAfter, sequence.at, sequence.atAfter);
    reading.from = within.from;
    reading.to = within.to;
    reading.frameRate =
        1.0 / model::frameInterval(circumstances.time, *model::frameOf(rep, sequence.at)).value;
    const model::Message stretch = stretchBetween(pack, sequence.from, sequence.at);
    for (const SequenceLink& link : sequence.links) {
        reading.links.push_back(
            readLink(link, courses, within, reading.frameRate, stretch, *height));
    }
    for (std::size_t i = 1; i < reading.links.size(); ++i) {
        if (reading.links[i - 1].peak && reading.links[i].peak) {
            reading.steps.push_back(
                stepBetween(reading.links[i - 1], reading.links[i], reading.frameRate));
        }
    }
    return reading;
}

std::vector<CurvePoint> courseOfMeasure(const Pack& pack, const model::Rep& rep,
                                        const Circumstances& circumstances, const Measure& measure,
                                        model::FrameSpan within) {
    const MeasureKind& kind = *measure.kind;
    if (kind.as<InstantKind>() == nullptr && kind.as<HeadingKind>() == nullptr &&
        kind.as<GroundKind>() == nullptr) {
        return {};
    }
    MovingRep moving(pack, rep);
    Circumstances same = circumstances; // the cameras are those of the rep in every frame
    same.cameras = bothCameras(pack, rep, circumstances);
    Measure moved = measure;
    moved.at = MovingRep::position;
    moved.typicalRate = 0.0;
    std::vector<CurvePoint> course;
    for (int frame = within.first; frame <= within.last; ++frame) {
        const model::Reading reading = evaluateOne(moving.pack(), moving.at(frame), same, moved);
        if (reading.value) {
            course.push_back(
                {circumstances.time.fieldTimes()[static_cast<std::size_t>(frame)].value,
                 *reading.value, reading.uncertainty.combined()});
        }
    }
    return course;
}

} // namespace kestrel::technique
