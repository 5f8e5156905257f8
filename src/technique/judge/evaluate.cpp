#include "technique/judge/evaluate.h"

#include "motion/body_segments.h"
#include "motion/propagation.h"
#include "technique/judge/instant_reading.h"
#include "technique/kinds/body_reading.h"
#include "technique/kinds/course.h"
#include "technique/kinds/flight.h"
#include "technique/kinds/heading.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/on_ground.h"
#include "technique/kinds/space_path.h"
#include "technique/kinds/turning.h"
#include "technique/kinds/two_views.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>
#include <variant>

namespace kestrel::technique {
namespace {

using model::MissingReason;

/// How well an eye tells a part of a turn of a marked ball at both ends together, turns; working
/// figure.
constexpr double countSd = 0.12;

const MeasureRange* rangeInForce(const Measure& measure, const std::set<std::string>& schools,
                                 const Circumstances& c) {
    const MeasureRange* best = nullptr;
    int bestConditions = -1;
    for (const MeasureRange& range : measure.ranges) {
        const bool fits = range.ages.contains(c.ageYears) &&
                          (range.school.empty() || schools.contains(range.school)) &&
                          (range.variant.empty() || range.variant == c.variant) &&
                          (range.shot.empty() || range.shot == c.shotType);
        const int conditions = (range.ages.limited() ? 1 : 0) + (range.school.empty() ? 0 : 1) +
                               (range.variant.empty() ? 0 : 1) + (range.shot.empty() ? 0 : 1);
        if (fits && conditions > bestConditions) {
            best = &range;
            bestConditions = conditions;
        }
    }
    return best;
}

/// The player's height as it would look in the first frame's picture, to which all points are
/// carried when the camera moved.
std::optional<PixelHeight> heightInFirstPicture(const Pack& pack, const model::Rep& rep,
                                                const Circumstances& c) {
    auto height = bodyHeight(pack, rep, c.hand);
    const auto frame = model::frameOf(rep, pack.bodyHeight.at);
    if (height && frame) {
        const double zoom = zoomAt(c.camera, *frame);
        height->value /= zoom;
        height->sd /= zoom;
    }
    return height;
}

class Evaluation {
  public:
    Evaluation(const Pack& pack, const model::Rep& rep, const Circumstances& c)
        : pack_(pack),
          rep_(rep),
          c_(c),
          schools_(schoolsInForce(pack, c.schools)),
          height_(heightInFirstPicture(pack, rep, c)),
          flights_(pack, rep, c, height_),
          cameras_(c.cameras ? c.cameras : bothCameras(pack, rep, c)) {}

    model::Reading read(const Measure& measure) {
        model::Reading reading;
        reading.measureId = measure.id;
        reading.positionId = measure.at;
        reading.unit = measure.unit;
        model::Reading fromBody = reading;
        if (readInSpace(pack_, rep_, c_, cameras_.get(), measure, reading)) {
            judge(measure, reading);
            return reading;
        }
        std::visit([&](const auto& how) { readAs(how, measure, reading); }, measure.kind->how);
        // The one film tells it twice, in the picture and in space: what is surer counts.
        if (readFromBody(pack_, rep_, c_, measure, fromBody) &&
            (!reading.value || fromBody.uncertainty.combined() < reading.uncertainty.combined())) {
            reading = std::move(fromBody);
        } else if (!reading.value && fromBody.missing) {
            reading.missing = fromBody.missing; // looking at it helps more than filming anew
        }
        if (reading.value) {
            judge(measure, reading);
        }
        return reading;
    }

  private:
    void readAs(const InstantKind& how, const Measure& measure, model::Reading& reading) const {
        if (readableView(measure, reading)) {
            readInstant(pack_, rep_, c_, measure, how, height_, reading);
        }
    }

    void readAs(const CourseKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        if (readableView(measure, reading)) {
            readCourse(pack_, rep_, c_, measure, height_, reading);
        }
    }

    void readAs(const TurningKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        if (readableView(measure, reading)) {
            readTurning(pack_, rep_, c_, measure, height_, reading);
        }
    }

    void readAs(const HeadingKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        if (readableView(measure, reading)) {
            readHeading(pack_, rep_, c_, measure, height_, reading);
            addFrameDoubt(measure, reading);
        }
    }

    void readAs(const GroundKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        if (readableView(measure, reading)) {
            readOnGround(pack_, rep_, c_, measure, reading);
            addFrameDoubt(measure, reading);
        }
    }

    void readAs(const FlightKind& /*how*/, const Measure& measure, model::Reading& reading) {
        if (readableView(measure, reading)) {
            flights_.read(measure, model::frameOf(rep_, measure.at) ? instantSd(measure.at) : 0.0,
                          reading);
        }
    }

    void readAs(const SpacePathKind& /*how*/, const Measure& measure,
                model::Reading& reading) const {
        readSpacePath(pack_, rep_, c_, cameras_.get(), measure, reading);
    }

    void readAs(const TimeKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        readTime(measure, reading);
    }

    void readAs(const CountedKind& /*how*/, const Measure& measure, model::Reading& reading) const {
        readCount(measure, reading);
    }

    /// What being off by a part of a frame does to a value.
    void addFrameDoubt(const Measure& measure, model::Reading& reading) const {
        if (reading.value) {
            reading.uncertainty.frames = measure.typicalRate * instantSd(measure.at);
        }
    }

    [[nodiscard]] double instantSd(const std::string& position) const {
        return technique::instantSd(c_.time, rep_, position);
    }

    /// The frame of a position that has one.
    [[nodiscard]] int frame(const std::string& position) const {
        return *model::frameOf(rep_, position);
    }

    void readTime(const Measure& measure, model::Reading& reading) const {
        reading.missing = timeHindrance(pack_, rep_, c_, {measure.from, measure.at});
        if (reading.missing) {
            return;
        }
        const double scale = measure.unit == model::Unit::milliseconds ? 1000.0 : 1.0;
        reading.value =
            scale * model::elapsed(c_.time, frame(measure.from), frame(measure.at)).value;
        reading.uncertainty.frames =
            scale * std::hypot(instantSd(measure.from), instantSd(measure.at));
    }

    /// What the coach counted between two instants, as a rate.
    void readCount(const Measure& measure, model::Reading& reading) const {
        const auto counted = rep_.counts.find(measure.id);
        if (counted == rep_.counts.end()) {
            reading.missing = MissingReason{MissingReason::Kind::notCounted,
                                            model::message("count.not_counted", measure.note)};
            return;
        }
        model::Reading time;
        readTime(measure, time);
        if (!time.value || *time.value <= 0.0) {
            reading.missing = time.missing.value_or(
                MissingReason{MissingReason::Kind::degenerate, model::message("count.no_time")});
            return;
        }
        // readTime() speaks in seconds when the measure's own unit is not milliseconds.
        constexpr double perMinute = 60.0;
        const double turns = counted->second;
        reading.value = perMinute * turns / *time.value;
        reading.uncertainty.placement = *reading.value * countSd / std::max(turns, countSd);
        reading.uncertainty.frames = *reading.value * time.uncertainty.frames / *time.value;
    }

    [[nodiscard]] bool readableView(const Measure& measure, model::Reading& reading) const {
        if (!c_.view) {
            reading.missing = MissingReason{MissingReason::Kind::viewUnknown,
                                            model::message("film.view_unknown")};
            return false;
        }
        if (std::find(measure.views.begin(), measure.views.end(), *c_.view) !=
            measure.views.end()) {
            return true;
        }
        reading.missing = MissingReason{
            MissingReason::Kind::invalidView,
            model::message("film.other_view", anyOf(measure.views), nameOfView(*c_.view))};
        return false;
    }

    void judge(const Measure& measure, model::Reading& reading) const {
        reading.u95 = model::coverage95 * reading.uncertainty.combined();
        const MeasureRange* range = rangeInForce(measure, schools_, c_);
        if (range == nullptr) {
            reading.verdict = model::Verdict::reported;
            return;
        }
        reading.range = range->good;
        reading.rangeBasis = range->basis;
        reading.rangeSchool = range->school;
        reading.verdict = model::judge(*reading.value, reading.u95, range->good);
    }

    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
    std::set<std::string> schools_;
    std::optional<PixelHeight> height_; ///< known once its position is marked
    Flights flights_;
    std::shared_ptr<const motion::CameraPair> cameras_; ///< of two views, where there are
};

} // namespace

std::optional<model::View> viewToFindBy(const Circumstances& circumstances) {
    return circumstances.view ? circumstances.view : circumstances.nearestView;
}

std::vector<model::Reading> evaluate(const Pack& pack, const model::Rep& rep,
                                     const Circumstances& circumstances) {
    Evaluation evaluation(pack, rep, circumstances);
    std::vector<model::Reading> readings;
    readings.reserve(pack.measures.size());
    for (const Measure& measure : pack.measures) {
        readings.push_back(evaluation.read(measure));
    }
    return readings;
}

model::Reading evaluateOne(const Pack& pack, const model::Rep& rep,
                           const Circumstances& circumstances, const Measure& measure) {
    return Evaluation(pack, rep, circumstances).read(measure);
}

namespace {

/// Whether a kind's points are followed from frame to frame, not placed at a position.
bool isFollowed(const MeasureKind& kind) {
    return kind.as<CourseKind>() != nullptr || kind.as<TurningKind>() != nullptr ||
           kind.as<FlightKind>() != nullptr || kind.as<SpacePathKind>() != nullptr;
}

} // namespace

std::vector<model::Landmark> landmarksToPlace(const Pack& pack, const Position& position,
                                              const Circumstances& circumstances) {
    std::set<std::string> needed;
    const auto need = [&](const std::vector<PointExpression>& points, const std::string& at) {
        for (const PointExpression& point : points) {
            // Nobody places a whole body for its centre of mass: that is the machine's part.
            if (!point.isCentreOfMass &&
                (point.position.empty() ? at : point.position) == position.id) {
                for (const auto& term : point.terms) {
                    needed.insert(term.first);
                }
            }
        }
    };
    bool anyHeight = false;
    for (const Measure& measure : pack.measures) {
        const bool readable =
            !circumstances.view || std::find(measure.views.begin(), measure.views.end(),
                                             *circumstances.view) != measure.views.end();
        if (!readable && !(circumstances.body && isOfBodyInSpace(measure))) {
            continue;
        }
        anyHeight = anyHeight || measure.kind->needsBodyHeight;
        if (isFollowed(*measure.kind)) {
            continue;
        }
        if (measure.kind->as<GroundKind>() != nullptr && !circumstances.ground) {
            continue; // nothing could be read from them yet
        }
        need(measure.points, measure.at);
        if (!measure.minus.empty()) {
            need(measure.points, measure.minus);
        }
    }
    if (anyHeight) {
        need(pack.bodyHeight.path, pack.bodyHeight.at);
    }
    std::vector<model::Landmark> landmarks;
    for (const std::string& name : position.landmarks) {
        const auto landmark = landmarkForRole(pack, name, circumstances.hand);
        if (landmark && (needed.contains(name))) {
            landmarks.push_back(*landmark);
        }
    }
    return landmarks;
}

std::optional<PixelHeight> bodyHeight(const Pack& pack, const model::Rep& rep, model::Hand hand) {
    Inputs inputs(pack, rep, hand);
    std::optional<MissingReason> missing;
    const auto path =
        resolve(pack.bodyHeight.path, pack.bodyHeight.at, rep, {}, 0.0, inputs, missing);
    if (!path) {
        return std::nullopt;
    }
    const Eigen::VectorXd x = inputs.values();
    const double fraction = pack.bodyHeight.fraction;
    PixelHeight height;
    height.value = pathLength(*path, x) / fraction;
    const double placed = motion::standardUncertainty(
        [&](const Eigen::VectorXd& moved) { return pathLength(*path, moved) / fraction; }, x,
        inputs.sds());
    height.sd = std::hypot(placed, height.value * pack.bodyHeight.relativeSd);
    return height;
}

} // namespace kestrel::technique
