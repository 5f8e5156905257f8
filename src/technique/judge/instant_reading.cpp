#include "technique/judge/instant_reading.h"

#include "motion/body_segments.h"
#include "motion/centre_of_mass.h"
#include "motion/heading.h"
#include "motion/propagation.h"
#include "motion/segment_depth.h"
#include "technique/kinds/constructs.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/limb_depth.h"
#include "technique/pack/roles.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string>
#include <vector>

namespace kestrel::technique {
namespace {

using model::Degrees;
using model::MissingReason;
using model::Point2;

/// From the value of a kind to the angle between its segments, and back.
double asAngle(const InstantKind& how, double value) {
    constexpr double straight = 180.0;
    return how.segmentAngle == SegmentAngle::supplement ? straight - value : value;
}

std::optional<Limb> limbOf(const ResolvedPoints& points) {
    if (points.size() != 3 || !points[0].landmark || !points[1].landmark || !points[2].landmark) {
        return std::nullopt;
    }
    return Limb{*points[0].landmark, *points[1].landmark, *points[2].landmark};
}

double boneFraction(const InstantKind& how, const ResolvedPoints& points) {
    return how.needsBone ? *motion::segmentFraction(*points[0].landmark, *points[1].landmark) : 0.0;
}

bool hasLength(const InstantKind& how, const std::vector<Point2>& points) {
    return std::all_of(how.segments.begin(), how.segments.end(), [&](const auto& ends) {
        const Point2 way = points[ends.first] - points[ends.second];
        return (how.levelSegments ? std::abs(way.x) : model::length(way)) >= 1.0;
    });
}

/// Each segment's angle out of the picture plane as far as it is known.
struct Tilts {
    std::array<double, 2> deg{};
    model::Message tooFar; ///< why the picture angle says too little; empty when it does not
};

/// One measure being read: its points resolved, then value, then uncertainty, then what shows it.
class InstantReading {
  public:
    InstantReading(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                   const Measure& measure, const InstantKind& how,
                   const std::optional<PixelHeight>& height)
        : pack_(pack),
          rep_(rep),
          c_(c),
          measure_(measure),
          how_(how),
          height_(height),
          sign_(positiveSign(pack, c.hand, *c.view)),
          inputs_(pack, rep, c.hand) {}

    void read(model::Reading& reading) {
        if (!resolve(reading) || !isDefined(reading)) {
            return;
        }
        how_.segmentAngle == SegmentAngle::none ? readInPicture(reading)
                                                : readSegmentAngle(reading);
        if (!reading.missing) {
            addUncertainty(reading);
            addConstructs(reading);
        }
    }

  private:
    [[nodiscard]] double massSdPx() const {
        constexpr int grown = 16; // years; above, the table's own spread
        const bool child = c_.ageYears && *c_.ageYears < grown;
        return (child ? motion::childCentreOfMassSdBh : motion::centreOfMassSdBh) *
               (height_ ? height_->value : 0.0);
    }

    std::optional<ResolvedPoints> points(const std::vector<PointExpression>& expressions,
                                         const std::string& position,
                                         std::optional<MissingReason>& missing) {
        return technique::resolve(expressions, position, rep_, c_.camera, massSdPx(), inputs_,
                                  missing);
    }

    /// Finds the points of the measure; false when one is missing, with the reason.
    bool resolve(model::Reading& reading) {
        const bool weighsTheBody =
            std::any_of(measure_.points.begin(), measure_.points.end(),
                        [](const PointExpression& p) { return p.isCentreOfMass; });
        if (weighsTheBody && !height_) {
            reading.missing =
                MissingReason{MissingReason::Kind::noBodyHeight,
                              model::message("height.for_centre_of_mass",
                                             findPosition(pack_, pack_.bodyHeight.at)->name)};
            return false;
        }
        auto at = points(measure_.points, measure_.at, reading.missing);
        if (!at) {
            return false;
        }
        at_ = std::move(*at);
        if (!measure_.minus.empty()) {
            auto before = points(measure_.points, measure_.minus, reading.missing);
            if (!before) {
                return false;
            }
            before_ = std::move(*before);
        }
        if (measure_.kind->needsBodyHeight) {
            std::optional<MissingReason> why;
            auto path = points(pack_.bodyHeight.path, pack_.bodyHeight.at, why);
            if (!path) {
                reading.missing = MissingReason{MissingReason::Kind::noBodyHeight,
                                                model::message("height.because", why->why)};
                return false;
            }
            heightPath_ = std::move(*path);
        }
        x_ = inputs_.values();
        return true;
    }

    /// Whether the lines that count have a direction.
    bool isDefined(model::Reading& reading) const {
        if (hasLength(how_, pointsAt(at_, x_)) &&
            (before_.empty() || hasLength(how_, pointsAt(before_, x_))) &&
            (heightPath_.empty() || pathLength(heightPath_, x_) >= 1.0)) {
            return true;
        }
        reading.missing =
            MissingReason{MissingReason::Kind::degenerate, model::message("line.no_direction")};
        return false;
    }

    [[nodiscard]] double heightPx(const Eigen::VectorXd& x) const {
        return heightPath_.empty() ? 0.0 : pathLength(heightPath_, x) / pack_.bodyHeight.fraction;
    }

    [[nodiscard]] double kindValue(const ResolvedPoints& points, const Eigen::VectorXd& x,
                                   double heightFactor) const {
        const std::vector<Point2> p = pointsAt(points, x);
        return how_.value(
            KindInput{p, heightFactor * heightPx(x), sign_, boneFraction(how_, points)});
    }

    /// The value with the inputs moved to `x`.
    [[nodiscard]] double value(const Eigen::VectorXd& x, double heightFactor = 1.0) const {
        double v = kindValue(at_, x, heightFactor);
        if (!before_.empty()) {
            v -= kindValue(before_, x, heightFactor);
        }
        return measure_.absolute ? std::abs(v) : v;
    }

    /// The value as the picture has it, and how far segments out of its plane spoil it.
    void readInPicture(model::Reading& reading) const {
        const Tilts now = seenTilts(at_);
        const Tilts earlier = before_.empty() ? Tilts{} : seenTilts(before_);
        for (const Tilts& tilts : {now, earlier}) {
            if (!tilts.tooFar.empty()) {
                reading.missing = MissingReason{MissingReason::Kind::foreshortened, tilts.tooFar};
                return;
            }
        }
        reading.value = value(x_);
        const auto unseen = [&](const ResolvedPoints& points, const Tilts& tilts) {
            const std::vector<Point2> p = pointsAt(points, x_);
            return how_.outOfPlane(KindInput{p, heightPx(x_), sign_, boneFraction(how_, points)},
                                   OutOfPlane{tilts.deg, measure_.depthBh});
        };
        reading.uncertainty.outOfPlane = unseen(at_, now);
        if (!before_.empty()) {
            reading.uncertainty.outOfPlane =
                std::hypot(reading.uncertainty.outOfPlane, unseen(before_, earlier));
        }
    }

    [[nodiscard]] Tilts seenTilts(const ResolvedPoints& points) const {
        // Beyond this a segment points more along the view than across it, and its direction in the
        // picture says little about the body.
        constexpr double mostTiltDeg = 45.0;
        Tilts tilts;
        tilts.deg.fill(measure_.outOfPlaneDeg);
        for (std::size_t i = 0; i < how_.segments.size(); ++i) {
            const ResolvedPoint& from = points[how_.segments[i].first];
            const ResolvedPoint& to = points[how_.segments[i].second];
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
            const double tilt = motion::foreshortening(model::length(to.at(x_) - from.at(x_)),
                                                       *fraction * height_->value)
                                    .value;
            constexpr double mostCountedDeg = 65.0; // beyond, a line has hardly a direction at all
            tilts.deg[i] = std::max(tilts.deg[i], std::min(tilt, mostCountedDeg));
            if (bone && tilt > mostTiltDeg) {
                tilts.tooFar = model::message("line.out_of_plane", from.name, to.name,
                                              model::Measured{tilt, model::Unit::degrees});
            }
        }
        return tilts;
    }

    /// The angle between two segments at one position, with what their lengths say of their depth.
    [[nodiscard]] motion::AngleFromOneView segmentAngle(const std::string& position,
                                                        const ResolvedPoints& points,
                                                        const std::optional<Limb>& limb) const {
        const auto segment = [&](const std::pair<std::size_t, std::size_t>& ends) {
            motion::SeenSegment seen = seenSegment(rep_, c_, height_, points[ends.first],
                                                   points[ends.second], x_, inputs_.sds());
            seen.usualTilt = Degrees(measure_.outOfPlaneDeg);
            return seen;
        };
        const double picture = how_.value(KindInput{pointsAt(points, x_), 0.0, 1, 0.0});
        return motion::jointAngleFromOneView(
            Degrees(asAngle(how_, picture)), segment(how_.segments[0]), segment(how_.segments[1]),
            limb ? limbFold(rep_, c_, height_, position, *limb) : std::nullopt);
    }

    void readSegmentAngle(model::Reading& reading) const {
        const std::optional<Limb> limb = limbOf(at_);
        const motion::AngleFromOneView now = segmentAngle(measure_.at, at_, limb);
        const auto inUnit = [&](Degrees angle) { return asAngle(how_, angle.value); };
        // Below this the way the limb lies makes no difference to speak of, degrees.
        constexpr double leastChoice = 4.0;
        if (limb && before_.empty() &&
            std::abs((now.together - now.through).value) >= leastChoice) {
            const auto counted = limbFold(rep_, c_, height_, measure_.at, *limb);
            const auto said = rep_.limbFolds.find(measure_.at);
            const bool here = said != rep_.limbFolds.end() && said->second.contains(limb->joint);
            reading.limb = model::LimbChoice{limb->joint, inUnit(now.together), inUnit(now.through),
                                             counted, counted && !here};
        }
        double sd = now.sd.value;
        double value = inUnit(now.value);
        if (!before_.empty()) {
            const motion::AngleFromOneView earlier =
                segmentAngle(measure_.minus, before_, limbOf(before_));
            sd = std::hypot(sd, earlier.sd.value);
            value -= inUnit(earlier.value);
        }
        // Segments that are seen to point along the view and leave the angle no better known than
        // this, degrees, do not show it.
        constexpr double mostSd = 25.0;
        if (sd > mostSd && std::max(now.firstTilt, now.secondTilt).value > 0.0) {
            reading.missing =
                MissingReason{MissingReason::Kind::foreshortened, tooDeep(now, reading.limb)};
            return;
        }
        reading.value = measure_.absolute ? std::abs(value) : value;
        reading.uncertainty.outOfPlane = sd;
    }

    [[nodiscard]] model::Message tooDeep(const motion::AngleFromOneView& angle,
                                         const std::optional<model::LimbChoice>& limb) const {
        const auto line = [&](std::size_t i, Degrees tilt) {
            const auto& [from, to] = how_.segments[i];
            return model::message("line.tilt", at_[from].name, at_[to].name,
                                  model::Measured{tilt.value, model::Unit::degrees});
        };
        std::vector<model::Message> sentences{model::message(
            "angle.out_of_plane", line(0, angle.firstTilt), line(1, angle.secondTilt))};
        if (limb && !limb->counted) {
            sentences.push_back(
                model::message("angle.either_fold", model::Measured{limb->together, measure_.unit},
                               at_[1].name, model::Measured{limb->through, measure_.unit}));
        }
        return model::listOf("list.sentences", std::move(sentences));
    }

    void addUncertainty(model::Reading& reading) const {
        model::UncertaintyParts& u = reading.uncertainty;
        const auto valueOf = [&](const Eigen::VectorXd& moved) { return value(moved); };
        u.placement = motion::standardUncertainty(valueOf, x_, inputs_.sds());
        u.proportion = motion::standardUncertainty(valueOf, x_, inputs_.tableSds());
        if (measure_.kind->needsBodyHeight) {
            const double own = how_.needsBone ? motion::segmentFractionSd : 0.0;
            const double relative = std::hypot(pack_.bodyHeight.relativeSd, own);
            u.proportion =
                std::hypot(u.proportion, std::abs(value(x_, 1.0 + relative) - *reading.value));
        }
        u.frames = measure_.typicalRate * instantSd(c_.time, rep_, measure_.at);
    }

    void addConstructs(model::Reading& reading) const {
        const auto construct = [&](const std::string& position) {
            return *constructAt(pack_, rep_, c_.hand, measure_, position); // its points were found
        };
        model::Construct main = construct(measure_.at);
        if (!before_.empty()) {
            model::Construct earlier = construct(measure_.minus);
            earlier.label = model::valueOf(
                how_.value(KindInput{pointsAt(before_, x_), 0.0, sign_, 0.0}), measure_.unit);
            reading.constructs.push_back(std::move(earlier));
        }
        main.label = model::valueOf(*reading.value, measure_.unit);
        reading.constructs.push_back(std::move(main));
    }

    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
    const Measure& measure_;
    const InstantKind& how_;
    const std::optional<PixelHeight>& height_;
    int sign_;
    Inputs inputs_;
    ResolvedPoints at_;
    ResolvedPoints before_;     ///< empty: no difference is read
    ResolvedPoints heightPath_; ///< empty: the kind needs no height
    Eigen::VectorXd x_;         ///< values of the inputs
};

} // namespace

void readInstant(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, const InstantKind& how,
                 const std::optional<PixelHeight>& height, model::Reading& reading) {
    InstantReading(pack, rep, circumstances, measure, how, height).read(reading);
}

} // namespace kestrel::technique
