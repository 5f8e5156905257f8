#include "technique/kinds/flight.h"

#include "motion/out_of_plane.h"
#include "technique/kinds/inputs.h"
#include "technique/pack/roles.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
#include <limits>

namespace kestrel::technique {
namespace {

using Eigen::Vector2d;
using model::MissingReason;
using model::Point2;

constexpr double kmhPerMs = 3.6;

// Working figures.
/// How well a standing height is known, metres.
constexpr double heightSd = 0.015;
/// How far away cameras stand, metres: how much a ball beside the player's own plane is seen larger
/// or smaller where nothing tells the camera's distance.
constexpr double usualDistance = 10.0;
constexpr double usualDistanceRelativeSd = 0.3;
/// Of players whose height nobody said, metres.
constexpr double usualHeight = 1.6;
/// A flight whose readings are known no better than this share of the speed is not told.
constexpr double mostRelativeSd = 0.12;
/// Places that scatter so many times more than their deviations are not one flight.
constexpr double mostScatter = 4.0;

struct BallSeen {
    double time = 0.0;
    Point2 px;
    double sd = 0.0;
};

/// The ball in the frames of the measure's stretch; in the first frame's picture where the camera
/// moved. `frames` counts all frames of the stretch.
std::vector<BallSeen> ballIn(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                             const Measure& measure, double start, int& frames) {
    std::vector<BallSeen> seen;
    const auto landmark = landmarkForRole(pack, measure.points[0].terms.front().first, c.hand);
    const auto& times = c.time.fieldTimes();
    frames = 0;
    for (int frame = 0; frame < c.time.frameCount(); ++frame) {
        const double time = times[static_cast<std::size_t>(frame)].value;
        if (time < start + measure.fromAfter.value || time > start + measure.atAfter.value) {
            continue;
        }
        ++frames;
        const model::LandmarkPoint* point =
            landmark ? model::find(rep.landmarks, frame, *landmark) : nullptr;
        if (point == nullptr || point->hidden || point->sdPx <= 0.0) {
            continue;
        }
        Point2 px = point->px;
        double sd = point->sdPx;
        if (static_cast<std::size_t>(frame) < c.camera.size()) {
            const model::CameraPose& pose = c.camera[static_cast<std::size_t>(frame)];
            px = carriedToFirst(pose, px);
            sd = std::hypot(sd, pose.sdPx);
        }
        seen.push_back({time, px, sd});
    }
    return seen;
}

/// From picture points to the upright plane the ball flies in.
class FlightPlane {
  public:
    virtual ~FlightPlane() = default;
    /// How many independent errors of standard deviation 1 it has.
    [[nodiscard]] virtual Eigen::Index errors() const = 0;
    /// Along and up, metres, with those errors made; nothing where the plane cannot be told.
    [[nodiscard]] virtual std::optional<Vector2d> at(Point2 px,
                                                     const Eigen::VectorXd& errors) const = 0;
    /// Along the plane, where the opponent's line is; nothing when that is not known.
    [[nodiscard]] virtual std::optional<double> target(const Eigen::VectorXd& errors) const = 0;
};

/// The distance the rules give for the player's age.
std::optional<double> distanceByAge(const Pack& pack, const Circumstances& c) {
    if (!pack.target) {
        return std::nullopt;
    }
    const Target::Distance* best = nullptr;
    for (const Target::Distance& d : pack.target->distances) {
        if (d.ages.contains(c.ageYears) && (best == nullptr || d.ages.limited())) {
            best = &d;
        }
    }
    return best == nullptr ? std::nullopt : std::optional(best->metres);
}

/// Told by the marked ground: the plane stands on it, through where the player stands. Errors:
/// eight of the camera, then how far beside, then the heading, then where the player stands.
class PlaneOnGround : public FlightPlane {
  public:
    PlaneOnGround(const Pack& pack, const Circumstances& c, const Vector2d& stands)
        : ground_(*c.ground), stands_(stands) {
        const double height = c.bodyHeight ? c.bodyHeight->value : usualHeight;
        const int closedSide = c.hand == model::Hand::right ? -1 : 1;
        if (pack.ball) {
            beside_ = closedSide * pack.ball->besideBh * height;
            besideSd_ = pack.ball->besideSdBh * height;
            headingDeg_ = closedSide * pack.ball->headingDeg;
            headingSdDeg_ = pack.ball->headingSdDeg;
        }
        if (pack.target) {
            for (const GroundLine& line : ground_.place.lines) {
                if (line.id == pack.target->line) {
                    target_ = 0.5 * (line.from.x() + line.to.x());
                }
            }
        }
        if (!target_) {
            if (const auto distance = distanceByAge(pack, c)) {
                target_ = stands_.x() + *distance;
                targetSd_ = standSdM;
            }
        }
    }

    [[nodiscard]] Eigen::Index errors() const override { return 11; }

    [[nodiscard]] std::optional<Vector2d> at(Point2 px,
                                             const Eigen::VectorXd& errors) const override {
        const motion::GroundCamera camera = motion::changed(
            ground_.fit.camera, motion::CameraChange(ground_.fit.spread * errors.head<8>()));
        const Vector2d through = stands_ + Vector2d(0.0, beside_ + besideSd_ * errors[8]);
        const double turn = toRadians(model::Degrees(headingDeg_ + headingSdDeg_ * errors[9]));
        const Vector2d heading(std::cos(turn), std::sin(turn));
        return camera.onUprightPlane(px, through, heading);
    }

    [[nodiscard]] std::optional<double> target(const Eigen::VectorXd& errors) const override {
        return target_ ? std::optional(*target_ - stands_.x() + targetSd_ * errors[10])
                       : std::nullopt;
    }

  private:
    const Ground& ground_;
    Vector2d stands_;
    double beside_ = 0.0;
    double besideSd_ = 0.0;
    double headingDeg_ = 0.0; // counterclockwise seen from above
    double headingSdDeg_ = PlayedBall().headingSdDeg;
    std::optional<double> target_;
    double targetSd_ = 0.0;
};

/// The scale at the player: from a known length, or from the player's height where it is known and
/// seen.
std::optional<PictureScale> scaleAtPlayer(const Circumstances& c,
                                          std::optional<PixelHeight> height) {
    if (c.scale) {
        return c.scale;
    }
    if (!c.bodyHeight || !height) {
        return std::nullopt;
    }
    return PictureScale{c.bodyHeight->value / height->value,
                        std::hypot(height->sd / height->value, heightSd / c.bodyHeight->value)};
}

/// Told by the scale at the player, with a camera that stands square. Errors: the scale, then where
/// the player stands.
class PlaneOfPlayer : public FlightPlane {
  public:
    PlaneOfPlayer(const Pack& pack, const Circumstances& c, PictureScale scale, Point2 stands)
        : stands_(stands),
          sign_(positiveSign(pack, c.hand, *c.view)),
          metresPerPx_(scale.metresPerPx),
          relativeSd_(scale.relativeSd),
          target_(distanceByAge(pack, c)) {
        if (pack.ball) {
            // The throwing or hitting side is the nearer one to a camera that sees the chest.
            const auto chest = chestToCamera(pack, c.view);
            const double metres =
                (c.bodyHeight ? c.bodyHeight->value : usualHeight) / usualDistance;
            const double nearer = !chest ? 0.0 : (*chest ? 1.0 : -1.0) * pack.ball->besideBh;
            metresPerPx_ *= 1.0 - nearer * metres;
            relativeSd_ = std::hypot(relativeSd_, pack.ball->besideSdBh * metres,
                                     nearer * metres * usualDistanceRelativeSd);
        }
    }

    [[nodiscard]] Eigen::Index errors() const override { return 2; }

    [[nodiscard]] std::optional<Vector2d> at(Point2 px,
                                             const Eigen::VectorXd& errors) const override {
        const double scale = metresPerPx_ * (1.0 + relativeSd_ * errors[0]);
        return Vector2d(scale * sign_ * (px.x - stands_.x), scale * (stands_.y - px.y));
    }

    [[nodiscard]] std::optional<double> target(const Eigen::VectorXd& errors) const override {
        return target_ ? std::optional(*target_ + standSdM * errors[1]) : std::nullopt;
    }

  private:
    Point2 stands_;
    int sign_;
    double metresPerPx_;
    double relativeSd_ = 0.0;
    std::optional<double> target_;
};

/// A flight and where the target is, along it.
struct Told {
    motion::BallFlight flight;
    std::optional<double> target; ///< from where the plane's way is counted

    [[nodiscard]] FlightValue value(const FlightKind& kind) const {
        const auto left = target ? std::optional(*target - flight.place.x()) : std::nullopt;
        return kind.value(FlightInput{flight, left});
    }
};

/// What one independent error of one standard deviation, either way, makes of it.
struct Moved {
    std::optional<Told> up;
    std::optional<Told> down;
};

/// Standard uncertainty of a kind's value from these errors; NaN where it does not exist with one.
double sdOf(const FlightKind& kind, const std::vector<Moved>& errors) {
    double square = 0.0;
    for (const Moved& error : errors) {
        if (!error.up || !error.down) {
            return std::numeric_limits<double>::quiet_NaN();
        }
        const FlightValue up = error.up->value(kind);
        const FlightValue down = error.down->value(kind);
        if (!up.value || !down.value) {
            return std::numeric_limits<double>::quiet_NaN();
        }
        square += std::pow(0.5 * (*up.value - *down.value), 2);
    }
    return std::sqrt(square);
}

FlightValue noTarget() {
    return {std::nullopt, model::message("flight.no_target")};
}

model::Construct drawn(const std::vector<BallSeen>& ball, const Circumstances& c, int frame,
                       const model::Message& label) {
    model::Construct construct;
    construct.frame = frame;
    const auto there = [&](Point2 p) { return drawnIn(c, frame, p); };
    for (std::size_t i = 0; i < ball.size(); ++i) {
        construct.shapes.emplace_back(model::Dot{there(ball[i].px)});
        if (i > 0) {
            construct.shapes.emplace_back(model::Segment{there(ball[i - 1].px), there(ball[i].px)});
        }
    }
    construct.labelAt = there(ball.front().px);
    construct.label = label;
    return construct;
}

} // namespace

FlightValue ballSpeed(const FlightInput& input) {
    return {kmhPerMs * input.flight.velocity.norm(), {}};
}

FlightValue launchAngle(const FlightInput& input) {
    const Vector2d& v = input.flight.velocity;
    return {model::degreesFromRadians(std::atan2(v.y(), v.x())).value, {}};
}

FlightValue arrivalAngle(const FlightInput& input) {
    if (!input.targetM) {
        return noTarget();
    }
    const auto time = motion::timeToGo(input.flight, *input.targetM);
    if (!time) {
        return {std::nullopt, model::message("flight.falls_short")};
    }
    const Vector2d v = motion::after(input.flight, *time).velocity;
    return {model::degreesFromRadians(std::atan2(v.y(), v.x())).value, {}};
}

FlightValue timeToTarget(const FlightInput& input) {
    if (!input.targetM) {
        return noTarget();
    }
    const auto time = motion::timeToGo(input.flight, *input.targetM);
    if (!time) {
        return {std::nullopt, model::message("flight.falls_short")};
    }
    return {model::milliseconds * *time, {}};
}

FlightValue timeOfOneMetre(const FlightInput& input) {
    const FlightValue whole = timeToTarget(input);
    if (!whole.value) {
        return whole;
    }
    FlightInput closer = input;
    *closer.targetM -= 1.0;
    return {*whole.value - timeToTarget(closer).value.value_or(0.0), {}};
}

/// A flight that measures share: why there is none, or what is known of it.
struct Flights::Fitted {
    std::optional<MissingReason> missing;
    std::vector<BallSeen> ball;
    Told told;
    std::vector<Moved> placing; ///< of the ball
    std::vector<Moved> plane;   ///< camera or scale, and where the plane stands
    std::vector<Moved> drag;
};

Flights::Flights(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 std::optional<PixelHeight> bodyHeightPx)
    : pack_(pack), rep_(rep), c_(circumstances), height_(bodyHeightPx) {}

Flights::~Flights() = default;

namespace {

std::unique_ptr<FlightPlane> planeOf(const Pack& pack, const Circumstances& c,
                                     std::optional<PixelHeight> height, Point2 stands) {
    if (c.ground) {
        const auto place = c.ground->fit.camera.onGround(stands);
        return place ? std::make_unique<PlaneOnGround>(pack, c, *place) : nullptr;
    }
    if (const auto scale = scaleAtPlayer(c, height)) {
        return std::make_unique<PlaneOfPlayer>(pack, c, *scale, stands);
    }
    return nullptr;
}

MissingReason noScale(const Pack& pack, const Circumstances& c) {
    return {MissingReason::Kind::groundUnknown,
            c.groundReason.empty()
                ? model::message("flight.no_scale", findPosition(pack, pack.bodyHeight.at)->name)
                : c.groundReason};
}

/// What stands for the measures that share a flight.
std::string keyOf(const Measure& measure) {
    std::string key = measure.at + ' ' + std::to_string(measure.fromAfter.value) + ' ' +
                      std::to_string(measure.atAfter.value);
    for (const PointExpression& point : measure.points) {
        key += ' ' + point.position;
        for (const auto& [roleName, weight] : point.terms) {
            key += ' ' + roleName + ' ' + std::to_string(weight);
        }
    }
    return key;
}

} // namespace

const Flights::Fitted& Flights::fitted(const Measure& measure) {
    auto& known = fitted_[keyOf(measure)];
    if (known) {
        return *known;
    }
    auto result = std::make_unique<Fitted>();
    const auto refuse = [&](const std::optional<MissingReason>& why) -> const Fitted& {
        result->missing = why;
        known = std::move(result);
        return *known;
    };
    if (const auto why = timeHindrance(pack_, rep_, c_, {measure.at})) {
        return refuse(why);
    }
    Inputs inputs(pack_, rep_, c_.hand);
    std::optional<MissingReason> missing;
    const auto foot =
        resolve({measure.points[1]}, measure.at, rep_, c_.camera, 0.0, inputs, missing);
    if (!foot) {
        return refuse(missing);
    }
    const auto plane = planeOf(pack_, c_, height_, foot->front().at(inputs.values()));
    if (!plane) {
        return refuse(noScale(pack_, c_));
    }
    const std::string& position = findPosition(pack_, measure.at)->name;
    const double start =
        c_.time.fieldTimes()[static_cast<std::size_t>(*model::frameOf(rep_, measure.at))].value;
    int frames = 0;
    result->ball = ballIn(pack_, rep_, c_, measure, start, frames);
    if (result->ball.size() < motion::fewestFlightSamples) {
        return refuse(MissingReason{frames < static_cast<int>(motion::fewestFlightSamples)
                                        ? MissingReason::Kind::tooFewFrames
                                        : MissingReason::Kind::landmarkNotPlaced,
                                    model::message("flight.too_few_frames", result->ball.size(),
                                                   frames, position, motion::fewestFlightSamples)});
    }
    const double drag = pack_.ball ? motion::dragPerMetre(pack_.ball->massKg, pack_.ball->diameterM,
                                                          pack_.ball->dragCoefficient)
                                   : 0.0;
    const auto toldWith = [&](const Eigen::VectorXd& ofPlane,
                              double withDrag) -> std::optional<Told> {
        std::vector<motion::BallSample> samples;
        for (const BallSeen& seen : result->ball) {
            const auto at = plane->at(seen.px, ofPlane);
            const auto next = plane->at(seen.px + Point2{1.0, 0.0}, ofPlane);
            if (!at || !next) {
                return std::nullopt;
            }
            samples.push_back({seen.time, *at, (*next - *at).norm() * seen.sd});
        }
        const auto flight = motion::fitFlight(samples, withDrag, start);
        return flight ? std::optional(Told{*flight, plane->target(ofPlane)}) : std::nullopt;
    };
    const Eigen::VectorXd none = Eigen::VectorXd::Zero(plane->errors());
    const auto told = toldWith(none, drag);
    if (!told || told->flight.scatter > mostScatter) {
        return refuse(MissingReason{MissingReason::Kind::degenerate,
                                    model::message("flight.no_one_flight", position)});
    }
    result->told = *told;
    const Eigen::Matrix4d spread = told->flight.covariance.llt().matrixL();
    for (Eigen::Index i = 0; i < spread.cols(); ++i) {
        const auto with = [&](double way) {
            return Told{motion::changedFlight(told->flight, way * spread.col(i)), told->target};
        };
        result->placing.push_back({with(1.0), with(-1.0)});
    }
    for (Eigen::Index i = 0; i < plane->errors(); ++i) {
        const Eigen::VectorXd one = Eigen::VectorXd::Unit(plane->errors(), i);
        result->plane.push_back({toldWith(one, drag), toldWith(-one, drag)});
    }
    const double dragSd = drag * (pack_.ball ? pack_.ball->dragRelativeSd : 0.0);
    result->drag.push_back({toldWith(none, drag + dragSd), toldWith(none, drag - dragSd)});
    known = std::move(result);
    return *known;
}

void Flights::read(const Measure& measure, double instantSd, model::Reading& reading) {
    const Fitted& of = fitted(measure);
    if (of.missing) {
        reading.missing = of.missing;
        return;
    }
    const FlightKind& kind = *measure.kind->as<FlightKind>();
    const FlightValue value = of.told.value(kind);
    if (!value.value) {
        reading.missing = MissingReason{MissingReason::Kind::groundUnknown, value.refusal};
        return;
    }
    const double placing = sdOf(kind, of.placing);
    const double ground = sdOf(kind, of.plane);
    const double drag = sdOf(kind, of.drag);
    const motion::BallFlight& flight = of.told.flight;
    const double relative = std::sqrt(0.5 * flight.covariance.bottomRightCorner<2, 2>().trace()) /
                            flight.velocity.norm();
    if (!std::isfinite(placing + ground + drag) || relative > mostRelativeSd) {
        reading.missing =
            MissingReason{MissingReason::Kind::tooFewFrames, model::message("flight.too_short")};
        return;
    }
    // The flight is told at an instant that is known to its frame.
    const auto toldAt = [&](double seconds) {
        const motion::BallState state = motion::after(flight, seconds);
        Told there = of.told;
        there.flight.time += seconds;
        there.flight.place = state.place;
        there.flight.velocity = state.velocity;
        return there;
    };
    reading.value = measure.absolute ? std::abs(*value.value) : *value.value;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = ground;
    reading.uncertainty.proportion = drag;
    reading.uncertainty.frames = sdOf(kind, {Moved{toldAt(instantSd), toldAt(-instantSd)}});
    if (!c_.ground) {
        // Seen by a camera that stands a little off square every way along looks shorter.
        const model::Degrees off(std::hypot(measure.outOfPlaneDeg, motion::offSquareSd.value));
        reading.uncertainty.outOfPlane =
            measure.unit == model::Unit::degrees
                ? motion::elevationRms(model::Degrees(*value.value), off).value
                : std::abs(*value.value) * motion::distanceRelativeRms(off);
    }
    reading.constructs.push_back(drawn(of.ball, c_, *model::frameOf(rep_, measure.at),
                                       model::valueOf(*reading.value, measure.unit)));
}

} // namespace kestrel::technique
