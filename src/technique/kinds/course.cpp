#include "technique/kinds/course.h"

#include "motion/out_of_plane.h"
#include "technique/kinds/course_kinds.h"
#include "technique/kinds/courses.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/level_plane.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;
using model::Point2;

/// The smoothed path in the stretch, drawn on its last frame.
model::Construct drawn(const std::vector<CoursePoint>& points, const Circumstances& c, int frame,
                       const std::vector<Point2>& marks, const model::Message& label) {
    model::Construct construct;
    construct.frame = frame;
    const auto there = [&](Point2 p) { return drawnIn(c, frame, p); };
    for (const CoursePoint& point : points) {
        for (std::size_t i = 1; i < point.path.size(); ++i) {
            construct.shapes.emplace_back(
                model::Segment{there(point.path[i - 1]), there(point.path[i])});
        }
    }
    for (const Point2& mark : marks) {
        construct.shapes.emplace_back(model::Dot{there(mark)});
    }
    construct.labelAt = there(marks.empty() ? points.front().path.back() : marks.front());
    construct.label = label;
    return construct;
}

/// Standard uncertainty of a kind's value from what each place scatters by, one place and axis
/// after the other, with the smoothing as strong as it is. Forgets the points' curves.
double scatterSd(const CourseKind& kind, CourseInput& input) {
    double square = 0.0;
    for (std::size_t which = 0; which < input.points.size(); ++which) {
        if (!input.points[which].curve) {
            continue; // the kind does not look at it
        }
        const motion::SpeedCurve curve = *input.points[which].curve;
        const std::vector<motion::PlaceSample>& places = input.points[which].places;
        const motion::PathResponse response = motion::pathResponse(places, curve);
        for (std::size_t place = 0; place < places.size(); ++place) {
            for (const bool alongX : {true, false}) {
                const auto valueWith = [&](double by) {
                    input.points[which].curve =
                        motion::withPlaceOff(curve, response, place, alongX, by);
                    return kind.value(input).value;
                };
                const auto up = valueWith(1.0);
                const auto down = valueWith(-1.0);
                square += up && down ? std::pow(0.5 * (*up - *down), 2) : 0.0;
            }
        }
        input.points[which].curve = curve;
    }
    return std::sqrt(square);
}

} // namespace

void readCourse(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                model::Reading& reading) {
    const CourseKind& kind = *measure.kind->as<CourseKind>();
    reading.missing = timeHindrance(pack, rep, circumstances, {measure.from, measure.at});
    if (reading.missing) {
        return;
    }
    if (measure.kind->needsBodyHeight && !bodyHeightPx) {
        reading.missing = MissingReason{
            MissingReason::Kind::noBodyHeight,
            model::message("height.for_way", findPosition(pack, pack.bodyHeight.at)->name)};
        return;
    }
    const Courses courses(pack, rep, circumstances);
    const int atFrame = *model::frameOf(rep, measure.at);
    const motion::TimeSpan within =
        courses.stretch(measure.from, measure.fromAfter, measure.at, measure.atAfter);
    const model::Message stretch = stretchBetween(pack, measure.from, measure.at);
    std::vector<CoursePoint> points;
    for (const PointExpression& expression : measure.points) {
        model::Message refusal;
        auto point = courses.pointIn(expression, within, stretch, refusal);
        if (!point) {
            reading.missing = MissingReason{MissingReason::Kind::landmarkNotPlaced, refusal};
            return;
        }
        points.push_back(std::move(*point));
    }
    CourseInput input{points, within, 1.0 / model::frameInterval(circumstances.time, atFrame).value,
                      bodyHeightPx ? bodyHeightPx->value : 0.0};
    if (kind.onLevelPlane) {
        input.plane = levelPlane(circumstances, measure, reading);
        if (!input.plane) {
            return;
        }
    }
    const CourseValue found = kind.value(input);
    if (!found.value) {
        reading.missing = MissingReason{MissingReason::Kind::tooFewFrames, found.refusal};
        return;
    }
    reading.value = measure.absolute ? std::abs(*found.value) : *found.value;
    const double scatter = found.scatterSd ? *found.scatterSd : scatterSd(kind, input);
    const double smoothing = std::sqrt(std::max(0.0, found.sd * found.sd - scatter * scatter));
    reading.uncertainty.placement = scatter;
    reading.uncertainty.smoothing = smoothing;
    if (measure.kind->needsBodyHeight) {
        const double size = std::abs(*found.value);
        const double ofProportion = pack.bodyHeight.relativeSd;
        const double ofHeight = bodyHeightPx->sd / bodyHeightPx->value; // with proportions
        const double ofPlacing =
            std::sqrt(std::max(0.0, ofHeight * ofHeight - ofProportion * ofProportion));
        reading.uncertainty.placement = std::hypot(scatter, size * ofPlacing);
        reading.uncertainty.proportion = size * ofProportion;
        reading.uncertainty.outOfPlane =
            size * motion::distanceRelativeRms(model::Degrees(measure.outOfPlaneDeg));
    }
    reading.uncertainty.frames =
        measure.typicalRate * instantSd(circumstances.time, rep, measure.at);
    reading.constructs.push_back(drawn(input.points, circumstances, atFrame, found.marks,
                                       model::valueOf(*reading.value, measure.unit)));
    // What runs towards or away from the camera does not show: directions look steeper, drifts
    // smaller.
    if (kind.onLevelPlane) {
        addPlaneDoubt(circumstances, measure, input, reading);
    } else if (measure.unit == model::Unit::degrees) {
        const model::Degrees out(measure.outOfPlaneDeg);
        reading.uncertainty.outOfPlane =
            std::hypot(motion::elevationRms(model::Degrees(*reading.value), out).value,
                       motion::leanRms(out).value);
    } else if (measure.unit == model::Unit::headDiameters) {
        const double unseen = measure.depthBh / headShare;
        reading.uncertainty.outOfPlane = std::hypot(
            reading.uncertainty.outOfPlane, std::hypot(*reading.value, unseen) - *reading.value);
    }
}

} // namespace kestrel::technique
