#include "technique/judge/evaluate.h"

#include "motion/body_segments.h"
#include "motion/centre_of_mass.h"
#include "motion/heading.h"
#include "motion/propagation.h"
#include "technique/judge/reading_text.h"
#include "technique/kinds/course.h"
#include "technique/kinds/flight.h"
#include "technique/kinds/heading.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/limb_depth.h"
#include "technique/kinds/measure_kind.h"
#include "technique/kinds/on_ground.h"
#include "technique/kinds/space_path.h"
#include "technique/kinds/turning.h"
#include "technique/kinds/two_views.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

namespace kestrel::technique {
namespace {

using model::Degrees;
using model::MissingReason;
using model::Point2;

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
        if (readInSpace(pack_, rep_, c_, cameras_.get(), measure, reading)) {
            judge(measure, reading);
            return reading;
        }
        if (measure.kind->spacePath != nullptr) {
            readSpacePath(pack_, rep_, c_, cameras_.get(), measure, reading);
        } else if (measure.kind == &timeKind()) {
            readTime(measure, reading);
        } else if (measure.kind->counted) {
            readCount(measure, reading);
        } else if (measure.kind->course != nullptr) {
            if (readableView(measure, reading)) {
                const auto read = measure.kind->turning ? readTurning : readCourse;
                read(pack_, rep_, c_, measure, height_, reading);
            }
        } else if (measure.kind->ground != nullptr) {
            if (readableView(measure, reading)) {
                readOnGround(pack_, rep_, c_, measure, reading);
                if (reading.value) {
                    reading.uncertainty.frames = measure.typicalRate * instantSd(measure.at);
                }
            }
        } else if (measure.kind->flight != nullptr) {
            if (readableView(measure, reading)) {
                flights_.read(measure,
                              model::frameOf(rep_, measure.at) ? instantSd(measure.at) : 0.0,
                              reading);
            }
        } else if (measure.kind->linesTurned) {
            if (readableView(measure, reading)) {
                readHeading(pack_, rep_, c_, measure, height_, reading);
                if (reading.value) {
                    reading.uncertainty.frames = measure.typicalRate * instantSd(measure.at);
                }
            }
        } else {
            readPoints(measure, reading);
        }
        if (reading.value) {
            judge(measure, reading);
        }
        return reading;
    }

  private:
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
                                            "Count it on the Bench: " + measure.note};
            return;
        }
        model::Reading time;
        readTime(measure, time);
        if (!time.value || *time.value <= 0.0) {
            reading.missing = time.missing.value_or(
                MissingReason{MissingReason::Kind::degenerate,
                              "The two instants between which it is counted are the same."});
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
            reading.missing =
                MissingReason{MissingReason::Kind::viewUnknown,
                              "Say on the Film station from where this clip was filmed."};
            return false;
        }
        if (std::find(measure.views.begin(), measure.views.end(), *c_.view) !=
            measure.views.end()) {
            return true;
        }
        std::string valid;
        for (const model::View view : measure.views) {
            valid += (valid.empty() ? "" : " or ") + viewText(view);
        }
        reading.missing =
            MissingReason{MissingReason::Kind::invalidView,
                          "It can be read from the " + valid + "; this clip was filmed from the " +
                              viewText(*c_.view) + ", where it does not show."};
        return false;
    }

    [[nodiscard]] double massSdPx() const {
        constexpr int grown = 16; // years; above, the table's own spread
        const bool child = c_.ageYears && *c_.ageYears < grown;
        return (child ? motion::childCentreOfMassSdBh : motion::centreOfMassSdBh) *
               (height_ ? height_->value : 0.0);
    }

    void readPoints(const Measure& measure, model::Reading& reading) const {
        if (!readableView(measure, reading)) {
            return;
        }
        const bool weighsTheBody =
            std::any_of(measure.points.begin(), measure.points.end(),
                        [](const PointExpression& p) { return p.isCentreOfMass; });
        if (weighsTheBody && !height_) {
            reading.missing = MissingReason{
                MissingReason::Kind::noBodyHeight,
                "How sure the centre of mass is depends on the player's height in the picture, "
                "which is not known: place the landmarks of " +
                    findPosition(pack_, pack_.bodyHeight.at)->name + " first."};
            return;
        }
        Inputs inputs(pack_, rep_, c_.hand);
        const auto points = [&](const std::vector<PointExpression>& expressions,
                                const std::string& position,
                                std::optional<MissingReason>& missing) {
            return resolve(expressions, position, rep_, c_.camera, massSdPx(), inputs, missing);
        };
        const auto at = points(measure.points, measure.at, reading.missing);
        if (!at) {
            return;
        }
        ResolvedPoints before;
        if (!measure.minus.empty()) {
            auto resolved = points(measure.points, measure.minus, reading.missing);
            if (!resolved) {
                return;
            }
            before = std::move(*resolved);
        }
        ResolvedPoints heightPath;
        if (measure.kind->needsBodyHeight) {
            std::optional<MissingReason> why;
            auto resolved = points(pack_.bodyHeight.path, pack_.bodyHeight.at, why);
            if (!resolved) {
                reading.missing = MissingReason{
                    MissingReason::Kind::noBodyHeight,
                    "It is measured in body heights, and the player's height in the picture is not "
                    "known: " +
                        why->text};
                return;
            }
            heightPath = std::move(*resolved);
        }

        const int sign = positiveSign(pack_, c_.hand, *c_.view);
        const auto kindValue = [&](const ResolvedPoints& points, const Eigen::VectorXd& x,
                                   double heightFactor) {
            const std::vector<Point2> p = pointsAt(points, x);
            const double height = heightPath.empty() ? 0.0
                                                     : heightFactor * pathLength(heightPath, x) /
                                                           pack_.bodyHeight.fraction;
            return measure.kind->value(
                KindInput{p, height, sign, boneFraction(*measure.kind, points)});
        };
        const auto value = [&](const Eigen::VectorXd& x, double heightFactor) {
            double v = kindValue(*at, x, heightFactor);
            if (!before.empty()) {
                v -= kindValue(before, x, heightFactor);
            }
            return measure.absolute ? std::abs(v) : v;
        };
        const Eigen::VectorXd x = inputs.values();
        if (!hasLength(*measure.kind, pointsAt(*at, x)) ||
            (!before.empty() && !hasLength(*measure.kind, pointsAt(before, x))) ||
            (!heightPath.empty() && pathLength(heightPath, x) < 1.0)) {
            reading.missing = MissingReason{
                MissingReason::Kind::degenerate,
                "Two of its points lie on the same spot, so the line between them has no "
                "direction."};
            return;
        }

        model::UncertaintyParts& u = reading.uncertainty;
        if (measure.kind->segmentAngle != SegmentAngle::none) {
            readSegmentAngle(measure, *at, before, x, inputs.sds(), reading);
        } else {
            const Tilts tilts = seenTilts(measure, *at, x);
            const Tilts earlierTilts = before.empty() ? Tilts{} : seenTilts(measure, before, x);
            for (const Tilts& t : {tilts, earlierTilts}) {
                if (!t.tooFar.empty()) {
                    reading.missing = MissingReason{MissingReason::Kind::foreshortened, t.tooFar};
                    return;
                }
            }
            reading.value = value(x, 1.0);
            const auto unseen = [&](const ResolvedPoints& points, const Tilts& t) {
                const std::vector<Point2> p = pointsAt(points, x);
                const double height = heightPath.empty()
                                          ? 0.0
                                          : pathLength(heightPath, x) / pack_.bodyHeight.fraction;
                return measure.kind->outOfPlane(
                    KindInput{p, height, sign, boneFraction(*measure.kind, points)},
                    OutOfPlane{t.deg, measure.depthBh});
            };
            u.outOfPlane = unseen(*at, tilts);
            if (!before.empty()) {
                u.outOfPlane = std::hypot(u.outOfPlane, unseen(before, earlierTilts));
            }
        }
        if (reading.missing) {
            return;
        }
        const auto valueOf = [&](const Eigen::VectorXd& moved) { return value(moved, 1.0); };
        u.placement = motion::standardUncertainty(valueOf, x, inputs.sds());
        u.proportion = motion::standardUncertainty(valueOf, x, inputs.tableSds());
        if (measure.kind->needsBodyHeight) {
            const double own = measure.kind->needsBone ? motion::segmentFractionSd : 0.0;
            const double relative = std::hypot(pack_.bodyHeight.relativeSd, own);
            u.proportion =
                std::hypot(u.proportion, std::abs(value(x, 1.0 + relative) - *reading.value));
        }
        u.frames = measure.typicalRate * instantSd(measure.at);
        addConstructs(measure, *at, before, x, sign, reading);
    }

    /// The angle between two segments at one position, with what their lengths say of their depth.
    motion::AngleFromOneView segmentAngle(const Measure& measure, const std::string& position,
                                          const ResolvedPoints& points, const Eigen::VectorXd& x,
                                          const Eigen::VectorXd& sds,
                                          const std::optional<Limb>& limb) const {
        const auto segment = [&](const std::pair<std::size_t, std::size_t>& ends) {
            motion::SeenSegment seen =
                seenSegment(rep_, c_, height_, points[ends.first], points[ends.second], x, sds);
            seen.usualTilt = Degrees(measure.outOfPlaneDeg);
            return seen;
        };
        const double picture = measure.kind->value(KindInput{pointsAt(points, x), 0.0, 1, 0.0});
        return motion::jointAngleFromOneView(
            Degrees(asAngle(*measure.kind, picture)), segment(measure.kind->segments[0]),
            segment(measure.kind->segments[1]),
            limb ? limbFold(rep_, c_, height_, position, *limb) : std::nullopt);
    }

    /// From the value of a kind to the angle between its segments, and back.
    static double asAngle(const MeasureKind& kind, double value) {
        constexpr double straight = 180.0;
        return kind.segmentAngle == SegmentAngle::supplement ? straight - value : value;
    }

    static std::optional<Limb> limbOf(const ResolvedPoints& points) {
        if (points.size() != 3 || !points[0].landmark || !points[1].landmark ||
            !points[2].landmark) {
            return std::nullopt;
        }
        return Limb{*points[0].landmark, *points[1].landmark, *points[2].landmark};
    }

    void readSegmentAngle(const Measure& measure, const ResolvedPoints& at,
                          const ResolvedPoints& before, const Eigen::VectorXd& x,
                          const Eigen::VectorXd& sds, model::Reading& reading) const {
        const std::optional<Limb> limb = limbOf(at);
        const motion::AngleFromOneView now = segmentAngle(measure, measure.at, at, x, sds, limb);
        const auto inUnit = [&](Degrees angle) { return asAngle(*measure.kind, angle.value); };
        // Below this the way the limb lies makes no difference to speak of, degrees.
        constexpr double leastChoice = 4.0;
        if (limb && before.empty() && std::abs((now.together - now.through).value) >= leastChoice) {
            const auto counted = limbFold(rep_, c_, height_, measure.at, *limb);
            const auto said = rep_.limbFolds.find(measure.at);
            const bool here = said != rep_.limbFolds.end() && said->second.contains(limb->joint);
            reading.limb = model::LimbChoice{limb->joint, inUnit(now.together), inUnit(now.through),
                                             counted, counted && !here};
        }
        double sd = now.sd.value;
        double value = inUnit(now.value);
        if (!before.empty()) {
            const motion::AngleFromOneView earlier =
                segmentAngle(measure, measure.minus, before, x, sds, limbOf(before));
            sd = std::hypot(sd, earlier.sd.value);
            value -= inUnit(earlier.value);
        }
        // Segments that are seen to point along the view and leave the angle no better known than
        // this, degrees, do not show it.
        constexpr double mostSd = 25.0;
        if (sd > mostSd && std::max(now.firstTilt, now.secondTilt).value > 0.0) {
            reading.missing = MissingReason{MissingReason::Kind::foreshortened,
                                            tooDeep(measure, at, now, reading.limb)};
            return;
        }
        reading.value = measure.absolute ? std::abs(value) : value;
        reading.uncertainty.outOfPlane = sd;
    }

    static std::string tooDeep(const Measure& measure, const ResolvedPoints& at,
                               const motion::AngleFromOneView& angle,
                               const std::optional<model::LimbChoice>& limb) {
        const auto line = [&](std::size_t i, Degrees tilt) {
            const auto& [from, to] = measure.kind->segments[i];
            return at[from].name + " to " + at[to].name + " points about " +
                   valueText(tilt.value, model::Unit::degrees);
        };
        std::string text = "The line from " + line(0, angle.firstTilt) + ", that from " +
                           line(1, angle.secondTilt) +
                           " towards or away from the camera here, so their angle does not show.";
        if (limb && !limb->counted) {
            const std::string& joint = at[1].name;
            text += " It is about " + valueText(limb->together, measure.unit) + " if the " + joint +
                    " is nearer than both its neighbours, or farther, and about " +
                    valueText(limb->through, measure.unit) +
                    " if it lies between them in depth: "
                    "say which (Z).";
        }
        return text;
    }

    static double boneFraction(const MeasureKind& kind, const ResolvedPoints& points) {
        return kind.needsBone ? *motion::segmentFraction(*points[0].landmark, *points[1].landmark)
                              : 0.0;
    }

    /// Each segment's angle out of the picture plane as far as it is known.
    struct Tilts {
        std::array<double, 2> deg{};
        std::string tooFar; ///< why the picture angle says too little; empty when it does not
    };

    Tilts seenTilts(const Measure& measure, const ResolvedPoints& points,
                    const Eigen::VectorXd& x) const {
        // Beyond this a segment points more along the view than across it, and its direction in the
        // picture says little about the body.
        constexpr double mostTiltDeg = 45.0;
        Tilts tilts;
        tilts.deg.fill(measure.outOfPlaneDeg);
        for (std::size_t i = 0; i < measure.kind->segments.size(); ++i) {
            const ResolvedPoint& from = points[measure.kind->segments[i].first];
            const ResolvedPoint& to = points[measure.kind->segments[i].second];
            const auto known = [&](auto lengthOf) -> std::optional<double> {
                return from.landmark && to.landmark ? lengthOf(*from.landmark, *to.landmark)
                                                    : std::nullopt;
            };
            const auto bone = known(motion::segmentFraction);
            // Hips and shoulders look short from the side by nature: that makes them less sure, and
            // is no reason to refuse them.
            const auto fraction = bone ? bone : known(motion::breadthFraction);
            if (!height_ || !fraction) {
                continue;
            }
            const double tilt = motion::foreshortening(model::length(to.at(x) - from.at(x)),
                                                       *fraction * height_->value)
                                    .value;
            constexpr double mostCountedDeg = 65.0; // beyond, a line has hardly a direction at all
            tilts.deg[i] = std::max(tilts.deg[i], std::min(tilt, mostCountedDeg));
            if (bone && tilt > mostTiltDeg) {
                tilts.tooFar = "The line from " + from.name + " to " + to.name + " points about " +
                               valueText(tilt, model::Unit::degrees) +
                               " towards or away from the camera here, so its angle does not show.";
            }
        }
        return tilts;
    }

    static bool hasLength(const MeasureKind& kind, const std::vector<Point2>& points) {
        return std::all_of(kind.segments.begin(), kind.segments.end(), [&](const auto& ends) {
            const Point2 way = points[ends.first] - points[ends.second];
            return (kind.levelSegments ? std::abs(way.x) : model::length(way)) >= 1.0;
        });
    }

    void addConstructs(const Measure& measure, const ResolvedPoints& at,
                       const ResolvedPoints& before, const Eigen::VectorXd& x, int sign,
                       model::Reading& reading) const {
        const auto construct = [&](const ResolvedPoints& points, const std::string& position) {
            std::vector<Point2> p = pointsAt(points, x);
            for (Point2& point : p) {
                point = drawnIn(c_, this->frame(position), point);
            }
            model::Construct drawn;
            drawn.frame = this->frame(position);
            drawn.shapes = measure.kind->shapes(KindInput{p, 0.0, sign, 0.0});
            for (const Point2& point : p) {
                drawn.shapes.emplace_back(model::Dot{point});
            }
            drawn.labelAt = p.size() == 3 ? p[1] : (p[0] + p[1]) * 0.5;
            return drawn;
        };
        model::Construct main = construct(at, measure.at);
        if (!before.empty()) {
            model::Construct earlier = construct(before, measure.minus);
            earlier.label = valueText(
                measure.kind->value(KindInput{pointsAt(before, x), 0.0, sign, 0.0}), measure.unit);
            reading.constructs.push_back(std::move(earlier));
        }
        main.label = valueText(*reading.value, measure.unit);
        reading.constructs.push_back(std::move(main));
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
        if (!readable) {
            continue;
        }
        anyHeight = anyHeight || measure.kind->needsBodyHeight;
        if (measure.kind->course != nullptr || measure.kind->flight != nullptr ||
            measure.kind->spacePath != nullptr) {
            continue; // followed from frame to frame, not placed at a position
        }
        if (measure.kind->ground != nullptr && !circumstances.ground) {
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
