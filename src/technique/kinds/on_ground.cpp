#include "technique/kinds/on_ground.h"

#include "motion/propagation.h"
#include "technique/kinds/inputs.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>

namespace kestrel::technique {
namespace {

using Eigen::Vector2d;
using model::MissingReason;
using model::Point2;

/// A foot's length in standing heights (Drillis and Contini 1966), and how much it differs between
/// people, as a share of it; working figure.
constexpr double footFraction = 0.152;
constexpr double footRelativeSd = 0.05;

/// What is known no better than this is not told.
double mostSd(model::Unit unit) {
    switch (unit) {
    case model::Unit::degrees:
        return 10.0;
    case model::Unit::footLengths:
        return 0.5;
    default:
        return 0.25; // metres
    }
}

constexpr Eigen::Index cameraErrors = 8;

double cross(const Vector2d& a, const Vector2d& b) {
    return a.x() * b.y() - a.y() * b.x();
}

/// The measure as a function of independent errors: landmarks, then the camera, then how high each
/// landmark is that has a part in a point.
class GroundReading {
  public:
    GroundReading(const Measure& measure, const Ground& ground, const ResolvedPoints& points,
                  const Inputs& inputs, const Circumstances& c)
        : measure_(measure), ground_(ground), points_(points), landmarks_(inputs.values().size()) {
        std::set<std::size_t> parts;
        for (const ResolvedPoint& point : points) {
            for (const auto& [input, weight] : point.terms) {
                parts.insert(input);
            }
        }
        heightOf_.assign(parts.begin(), parts.end());
        const auto count = static_cast<Eigen::Index>(heightOf_.size());
        start_ = Eigen::VectorXd::Zero(landmarks_ + cameraErrors + count);
        start_.head(landmarks_) = inputs.values();
        placing_ = Eigen::VectorXd::Zero(start_.size());
        placing_.head(landmarks_) = inputs.sds();
        placing_.tail(count).setConstant(soleHeightSdM);
        camera_ = Eigen::VectorXd::Zero(start_.size());
        camera_.segment(landmarks_, cameraErrors).setOnes();
        for (const GroundLine& line : ground.place.lines) {
            if (line.id == measure.line) {
                line_ = &line;
            }
        }
        closedSide_ = c.hand == model::Hand::right ? -1 : 1; // y points to the left
        footM_ = footFraction * (c.bodyHeight ? c.bodyHeight->value : 0.0);
    }

    [[nodiscard]] const GroundLine* line() const { return line_; }
    [[nodiscard]] double footM() const { return footM_; }
    [[nodiscard]] const Eigen::VectorXd& start() const { return start_; }
    [[nodiscard]] const Eigen::VectorXd& placing() const { return placing_; }
    [[nodiscard]] const Eigen::VectorXd& camera() const { return camera_; }

    /// Nothing when a point is seen above the ground's end.
    [[nodiscard]] std::optional<std::vector<Vector2d>> places(const Eigen::VectorXd& x) const {
        const motion::GroundCamera camera = motion::changed(
            ground_.fit.camera,
            motion::CameraChange(ground_.fit.spread * x.segment<cameraErrors>(landmarks_)));
        std::vector<Vector2d> places;
        for (std::size_t i = 0; i < points_.size(); ++i) {
            const auto place = camera.onGround(points_[i].at(x), heightOf(points_[i], x));
            if (!place) {
                return std::nullopt;
            }
            places.push_back(*place);
        }
        return places;
    }

    /// NaN where places() has nothing.
    [[nodiscard]] double value(const Eigen::VectorXd& x) const {
        const auto at = places(x);
        if (!at) {
            return std::numeric_limits<double>::quiet_NaN();
        }
        const double v =
            measure_.kind->as<GroundKind>()->value(GroundInput{*at, line_, closedSide_, footM_});
        return measure_.absolute ? std::abs(v) : v;
    }

    [[nodiscard]] double sd(const Eigen::VectorXd& sds) const {
        return motion::standardUncertainty([this](const Eigen::VectorXd& x) { return value(x); },
                                           start_, sds, motion::nearby);
    }

  private:
    [[nodiscard]] double heightOf(const ResolvedPoint& point, const Eigen::VectorXd& x) const {
        double height = 0.0;
        for (const auto& [input, weight] : point.terms) {
            const auto which = std::find(heightOf_.begin(), heightOf_.end(), input);
            height += weight * x[landmarks_ + cameraErrors + (which - heightOf_.begin())];
        }
        return height;
    }

    const Measure& measure_;
    const Ground& ground_;
    const ResolvedPoints& points_;
    Eigen::Index landmarks_;
    std::vector<std::size_t> heightOf_; ///< inputs whose landmarks have a height, in its order
    const GroundLine* line_ = nullptr;
    int closedSide_ = -1;
    double footM_ = 0.0;
    Eigen::VectorXd start_;
    Eigen::VectorXd placing_;
    Eigen::VectorXd camera_;
};

/// The points on the ground and what they are compared with, as the camera sees them.
model::Construct drawn(const Measure& measure, const Ground& ground, const GroundLine* line,
                       const std::vector<Vector2d>& places, const Circumstances& c, int frame) {
    model::Construct construct;
    construct.frame = frame;
    const auto seen = [&](const Vector2d& place) -> std::optional<Point2> {
        const auto px = ground.fit.camera.inPicture({place.x(), place.y(), 0.0});
        return px ? std::optional(drawnIn(c, frame, *px)) : std::nullopt;
    };
    const auto segment = [&](const Vector2d& from, const Vector2d& to, model::Role role) {
        const auto a = seen(from);
        const auto b = seen(to);
        if (a && b) {
            construct.shapes.emplace_back(model::Segment{*a, *b, role});
        }
    };
    const auto gap = [&](const Vector2d& from, const Vector2d& to) {
        const auto a = seen(from);
        const auto b = seen(to);
        if (a && b) {
            construct.shapes.emplace_back(model::Gap{*a, *b});
            construct.labelAt = (*a + *b) * 0.5;
        }
    };
    for (const Vector2d& place : places) {
        if (const auto at = seen(place)) {
            construct.shapes.emplace_back(model::Dot{*at});
        }
    }
    if (line != nullptr) {
        const Vector2d along = (line->to - line->from).normalized();
        const Vector2d foot = line->from + along * along.dot(places[0] - line->from);
        const double half = std::max(0.5, (places[0] - foot).norm());
        segment(foot - half * along, foot + half * along, model::Role::reference);
        gap(foot, places[0]);
    } else if (measure.kind->as<GroundKind>()->value == groundDistance) {
        gap(places[0], places[1]);
    } else {
        // Beside or turned against the target line through the first place.
        const Vector2d foot(places[1].x(), places[0].y());
        segment(places[0], foot, model::Role::reference);
        if (measure.kind->as<GroundKind>()->value == groundHeading) {
            segment(places[0], places[1], model::Role::trunk);
            construct.labelAt = seen(places[1]).value_or(Point2{});
        } else {
            gap(foot, places[1]);
        }
    }
    return construct;
}

/// A foot that is seen longer than it is, is so because of the errors that turn it: its direction
/// counts as unsure as that of a foot of its own length.
double inflation(const MeasureKind& kind, const ResolvedPoints& points,
                 const std::vector<Vector2d>& places, double footM) {
    using model::Landmark;
    const auto oneFoot = [&](Landmark heel, Landmark toe) {
        return points[0].landmark == heel && points[1].landmark == toe;
    };
    if (kind.as<GroundKind>()->value != groundHeading || footM <= 0.0 ||
        !(oneFoot(Landmark::leftHeel, Landmark::leftToe) ||
          oneFoot(Landmark::rightHeel, Landmark::rightToe))) {
        return 1.0;
    }
    return std::max(1.0, (places[1] - places[0]).norm() / footM);
}

} // namespace

double groundDistance(const GroundInput& input) {
    return (input.places[1] - input.places[0]).norm();
}

double groundPastLine(const GroundInput& input) {
    const Vector2d along = (input.line->to - input.line->from).normalized();
    return cross(along, input.places[0] - input.line->from);
}

double groundOffsetInFeet(const GroundInput& input) {
    return input.closedSide * (input.places[1].y() - input.places[0].y()) / input.footM;
}

double groundHeading(const GroundInput& input) {
    const Vector2d way = input.places[1] - input.places[0];
    return model::degreesFromRadians(std::atan2(input.closedSide * way.y(), way.x())).value;
}

void refuseForGround(const Circumstances& circumstances, model::Reading& reading) {
    reading.missing =
        MissingReason{MissingReason::Kind::groundUnknown, circumstances.groundReason.empty()
                                                              ? model::message("ground.not_marked")
                                                              : circumstances.groundReason};
}

void readOnGround(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                  const Measure& measure, model::Reading& reading) {
    if (!circumstances.ground) {
        refuseForGround(circumstances, reading);
        return;
    }
    const Ground& ground = *circumstances.ground;
    Inputs inputs(pack, rep, circumstances.hand);
    const auto points = resolve(measure.points, measure.at, rep, circumstances.camera, 0.0, inputs,
                                reading.missing);
    if (!points) {
        return;
    }
    const GroundReading on(measure, ground, *points, inputs, circumstances);
    if (measure.kind->as<GroundKind>()->needsLine && on.line() == nullptr) {
        reading.missing =
            MissingReason{MissingReason::Kind::groundUnknown, model::message("ground.no_line")};
        return;
    }
    if (measure.unit == model::Unit::footLengths && !circumstances.bodyHeight) {
        reading.missing =
            MissingReason{MissingReason::Kind::noBodyHeight, model::message("height.for_foot")};
        return;
    }
    const auto places = on.places(on.start());
    const double inflated = places ? inflation(*measure.kind, *points, *places, on.footM()) : 1.0;
    const double placing = places ? inflated * on.sd(on.placing()) : 0.0;
    const double camera = places ? inflated * on.sd(on.camera()) : 0.0;
    const double most = mostSd(measure.unit);
    const double sd = std::hypot(placing, camera);
    if (!places || !std::isfinite(sd) || sd > most) {
        reading.missing = MissingReason{
            MissingReason::Kind::groundUnknown,
            std::isfinite(sd) && places
                ? model::message("ground.too_unsure_by",
                                 model::Measured{model::coverage95 * most, measure.unit})
                : model::message("ground.too_unsure")};
        return;
    }
    reading.value = on.value(on.start());
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = camera;
    if (measure.unit == model::Unit::footLengths) {
        reading.uncertainty.proportion = std::abs(*reading.value) * footRelativeSd;
    }
    model::Construct construct =
        drawn(measure, ground, on.line(), *places, circumstances, *model::frameOf(rep, measure.at));
    construct.label = model::valueOf(*reading.value, measure.unit);
    reading.constructs.push_back(std::move(construct));
}

} // namespace kestrel::technique
