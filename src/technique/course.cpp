#include "technique/course.h"

#include "motion/out_of_plane.h"
#include "technique/course_kinds.h"
#include "technique/inputs.h"
#include "technique/measure_kind.h"
#include "technique/reading_text.h"
#include "technique/roles.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;
using model::Point2;

/// Smoothing needs to see what comes before and after the stretch, seconds.
constexpr double beyond = 0.12;
/// Of the frames of the stretch, the share that may lack a landmark.
constexpr double mayLack = 0.25;
constexpr int fewest = 7; ///< frames with the point, else nothing can be smoothed

/// Where a point was seen in a stretch of frames.
struct Course {
    std::vector<motion::PlaceSample> places;
    std::vector<int> frames;
    bool placed = true; ///< by the coach, all of it
};

class Courses {
  public:
    Courses(const Pack& pack, const model::Rep& rep, const Circumstances& c)
        : pack_(pack), rep_(rep), c_(c) {}

    [[nodiscard]] double timeOf(int frame) const {
        return c_.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
    }

    /// The point in the frames of `within`, seconds on the field; in the first frame's picture
    /// where the camera moved.
    [[nodiscard]] Course of(const PointExpression& point, motion::TimeSpan within) const {
        Course course;
        for (int frame = 0; frame < c_.time.frameCount(); ++frame) {
            if (timeOf(frame) < within.from || timeOf(frame) > within.to) {
                continue;
            }
            Point2 px;
            double square = 0.0;
            bool whole = true;
            bool placed = true;
            for (const auto& [roleName, weight] : point.terms) {
                const auto landmark = landmarkForRole(pack_, roleName, c_.hand);
                const model::LandmarkPoint* seen =
                    landmark ? model::find(rep_.landmarks, frame, *landmark) : nullptr;
                if (seen == nullptr || seen->hidden) {
                    whole = false;
                    break;
                }
                px = px + seen->px * weight;
                square += std::pow(weight * seen->sdPx, 2);
                placed = placed && seen->source == model::Source::placed;
            }
            if (!whole || square <= 0.0) {
                continue;
            }
            if (frame < static_cast<int>(c_.camera.size())) {
                const model::CameraPose& pose = c_.camera[static_cast<std::size_t>(frame)];
                px = carriedToFirst(pose, px);
                square += pose.sdPx * pose.sdPx;
            }
            course.places.push_back({timeOf(frame), px, std::sqrt(square)});
            course.frames.push_back(frame);
            course.placed = course.placed && placed;
        }
        return course;
    }

    /// What the point is called in sentences.
    static std::string nameOf(const PointExpression& point) {
        if (point.isCentreOfMass) {
            return "centre of mass";
        }
        std::string name;
        for (const auto& [roleName, weight] : point.terms) {
            name += (name.empty() ? "" : " and ") + spoken(roleName);
        }
        return name;
    }

  private:
    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
};

/// The smoothed path in the stretch, drawn on its last frame.
model::Construct drawn(const std::vector<CoursePoint>& points, const Circumstances& c, int frame,
                       const std::vector<Point2>& marks, const std::string& label) {
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

} // namespace

void readCourse(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                model::Reading& reading) {
    reading.missing = timeHindrance(pack, rep, circumstances, {measure.from, measure.at});
    if (reading.missing) {
        return;
    }
    if (measure.kind->needsBodyHeight && !bodyHeightPx) {
        reading.missing = MissingReason{
            MissingReason::Kind::noBodyHeight,
            "It is measured in body heights, and the player's height in the picture is not known: "
            "place the landmarks of " +
                findPosition(pack, pack.bodyHeight.at)->name + " first."};
        return;
    }
    const Courses courses(pack, rep, circumstances);
    const int atFrame = *model::frameOf(rep, measure.at);
    const motion::TimeSpan within{courses.timeOf(*model::frameOf(rep, measure.from)) +
                                      measure.fromAfter.value,
                                  courses.timeOf(atFrame) + measure.atAfter.value};
    const auto count = std::count_if(
        circumstances.time.fieldTimes().begin(), circumstances.time.fieldTimes().end(),
        [&](const auto& t) { return t.value >= within.from && t.value <= within.to; });
    std::vector<CoursePoint> points;
    for (const PointExpression& expression : measure.points) {
        const Course course = courses.of(expression, {within.from - beyond, within.to + beyond});
        const auto inside =
            std::count_if(course.places.begin(), course.places.end(), [&](const auto& p) {
                return p.time >= within.from && p.time <= within.to;
            });
        if (static_cast<int>(course.places.size()) < fewest ||
            static_cast<double>(inside) < (1.0 - mayLack) * static_cast<double>(count)) {
            reading.missing = MissingReason{
                MissingReason::Kind::landmarkNotPlaced,
                "It follows the " + Courses::nameOf(expression) + " from frame to frame, and " +
                    std::to_string(inside) + " of " + std::to_string(count) + " frames from " +
                    findPosition(pack, measure.from)->name + " to " +
                    findPosition(pack, measure.at)->name +
                    " have it. Propose looks for the landmarks in all frames."};
            return;
        }
        points.push_back({course.places,
                          course.placed ? motion::Scatter::stated : motion::Scatter::seen,
                          {},
                          Courses::nameOf(expression)});
    }
    CourseInput input{points, within, 1.0 / model::frameInterval(circumstances.time, atFrame).value,
                      bodyHeightPx ? bodyHeightPx->value : 0.0};
    const CourseValue found = measure.kind->course(input);
    if (!found.value) {
        reading.missing = MissingReason{MissingReason::Kind::tooFewFrames, found.refusal};
        return;
    }
    reading.value = measure.absolute ? std::abs(*found.value) : *found.value;
    reading.uncertainty.placement = found.sd;
    if (measure.kind->needsBodyHeight) {
        const double size = std::abs(*found.value);
        const double ofProportion = pack.bodyHeight.relativeSd;
        const double ofHeight = bodyHeightPx->sd / bodyHeightPx->value; // with proportions
        const double ofPlacing =
            std::sqrt(std::max(0.0, ofHeight * ofHeight - ofProportion * ofProportion));
        reading.uncertainty.placement = std::hypot(found.sd, size * ofPlacing);
        reading.uncertainty.proportion = size * ofProportion;
        reading.uncertainty.outOfPlane =
            size * motion::distanceRelativeRms(model::Degrees(measure.outOfPlaneDeg));
    }
    // What runs towards or away from the camera does not show: directions look steeper, drifts
    // smaller.
    if (measure.unit == model::Unit::degrees) {
        const model::Degrees out(measure.outOfPlaneDeg);
        reading.uncertainty.outOfPlane =
            std::hypot(motion::elevationRms(model::Degrees(*reading.value), out).value,
                       motion::leanRms(out).value);
    } else if (measure.unit == model::Unit::headDiameters) {
        const double unseen = measure.depthBh / headShare;
        reading.uncertainty.outOfPlane = std::hypot(
            reading.uncertainty.outOfPlane, std::hypot(*reading.value, unseen) - *reading.value);
    }
    reading.constructs.push_back(drawn(input.points, circumstances, atFrame, found.marks,
                                       valueText(*reading.value, measure.unit)));
}

} // namespace kestrel::technique
