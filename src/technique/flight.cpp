#include "technique/flight.h"

#include "motion/out_of_plane.h"
#include "motion/propagation.h"
#include "technique/inputs.h"
#include "technique/reading_text.h"
#include "technique/roles.h"

#include <Eigen/Cholesky>

#include <algorithm>
#include <cmath>
#include <limits>
#include <memory>

namespace kestrel::technique {
namespace {

using Eigen::Vector2d;
using model::MissingReason;
using model::Point2;

constexpr double kmhPerMs = 3.6;
constexpr double milliseconds = 1000.0;

// Working figures.
/// How far the flight's heading is from the target line, degrees.
constexpr double headingSd = 2.0;
/// How well a standing height is known, metres.
constexpr double heightSd = 0.015;
/// How far from the opponent's line the player stands, where only the rules say it, metres.
constexpr double standSd = 0.2;
/// How far away cameras stand, metres: how much a ball beside the player's own plane is seen larger
/// or smaller where nothing tells the camera's distance.
constexpr double usualDistance = 10.0;
constexpr double usualDistanceRelativeSd = 0.3;
/// A flight whose readings are known no better than this share of the speed is not told.
constexpr double mostRelativeSd = 0.12;
/// Places that scatter so many times more than their deviations are not one flight.
constexpr double mostScatter = 4.0;

std::string seenFrom(const Pack& pack, const Measure& measure) {
    return findPosition(pack, measure.at)->name;
}

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
        const bool aged = d.ageFrom || d.ageTo;
        const bool fits = !aged || (c.ageYears && *c.ageYears >= d.ageFrom.value_or(0) &&
                                    *c.ageYears <= d.ageTo.value_or(200));
        if (fits && (best == nullptr || aged)) {
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
                targetSd_ = standSd;
            }
        }
    }

    [[nodiscard]] Eigen::Index errors() const override { return 11; }

    [[nodiscard]] std::optional<Vector2d> at(Point2 px,
                                             const Eigen::VectorXd& errors) const override {
        const motion::GroundCamera camera = motion::changed(
            ground_.fit.camera, motion::CameraChange(ground_.fit.spread * errors.head<8>()));
        const Vector2d through = stands_ + Vector2d(0.0, beside_ + besideSd_ * errors[8]);
        const double turn = toRadians(model::Degrees(headingSd * errors[9]));
        const Vector2d heading(std::cos(turn), std::sin(turn));
        return camera.onUprightPlane(px, through, heading);
    }

    [[nodiscard]] std::optional<double> target(const Eigen::VectorXd& errors) const override {
        return target_ ? std::optional(*target_ - stands_.x() + targetSd_ * errors[10])
                       : std::nullopt;
    }

  private:
    static constexpr double usualHeight = 1.6; // m, of players whose height nobody said
    const Ground& ground_;
    Vector2d stands_;
    double beside_ = 0.0;
    double besideSd_ = 0.0;
    std::optional<double> target_;
    double targetSd_ = 0.0;
};

/// Told by the player's height, with a camera that stands square. Errors: the scale, then where the
/// player stands.
class PlaneOfPlayer : public FlightPlane {
  public:
    PlaneOfPlayer(const Pack& pack, const Circumstances& c, PixelHeight height, Point2 stands)
        : stands_(stands),
          sign_(positiveSign(pack, c.hand, *c.view)),
          metresPerPx_(c.bodyHeight->value / height.value),
          target_(distanceByAge(pack, c)) {
        relativeSd_ = std::hypot(height.sd / height.value, heightSd / c.bodyHeight->value);
        if (pack.ball) {
            // The throwing or hitting side is the nearer one to a camera that sees the chest.
            const auto chest = chestToCamera(pack, c.view);
            const double metres = c.bodyHeight->value / usualDistance;
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
        return target_ ? std::optional(*target_ + standSd * errors[1]) : std::nullopt;
    }

  private:
    Point2 stands_;
    int sign_;
    double metresPerPx_;
    double relativeSd_ = 0.0;
    std::optional<double> target_;
};

/// The measure as a function of independent errors: four of the fitted flight, those of the plane,
/// then the drag.
class FlightReading {
  public:
    FlightReading(const Measure& measure, const FlightPlane& plane,
                  const std::vector<BallSeen>& ball, double drag, double dragRelativeSd,
                  double start)
        : measure_(measure),
          plane_(plane),
          ball_(ball),
          drag_(drag),
          dragSd_(drag * dragRelativeSd),
          start_(start),
          fitted_(fitWith(Eigen::VectorXd::Zero(errors()))) {
        if (fitted_) {
            spread_ = fitted_->covariance.llt().matrixL();
        }
    }

    [[nodiscard]] Eigen::Index errors() const { return 4 + plane_.errors() + 1; }
    [[nodiscard]] const std::optional<motion::BallFlight>& flight() const { return fitted_; }

    [[nodiscard]] FlightValue valueWith(const Eigen::VectorXd& errors) const {
        const auto fit = fitWith(errors);
        if (!fit) {
            return {std::nullopt, {}};
        }
        const motion::BallFlight flight = motion::changedFlight(*fit, spread_ * errors.head<4>());
        auto target = plane_.target(errors.segment(4, plane_.errors()));
        if (target) {
            *target -= flight.place.x();
        }
        return measure_.kind->flight(FlightInput{flight, target});
    }

    /// Standard uncertainty from the errors `first` … `first + count`.
    [[nodiscard]] double sd(Eigen::Index first, Eigen::Index count) const {
        Eigen::VectorXd sds = Eigen::VectorXd::Zero(errors());
        sds.segment(first, count).setOnes();
        const auto value = [this](const Eigen::VectorXd& e) {
            return valueWith(e).value.value_or(std::numeric_limits<double>::quiet_NaN());
        };
        return motion::standardUncertainty(value, Eigen::VectorXd::Zero(errors()), sds);
    }

  private:
    [[nodiscard]] std::optional<motion::BallFlight> fitWith(const Eigen::VectorXd& errors) const {
        const Eigen::VectorXd ofPlane = errors.segment(4, plane_.errors());
        std::vector<motion::BallSample> samples;
        for (const BallSeen& seen : ball_) {
            const auto at = plane_.at(seen.px, ofPlane);
            const auto next = plane_.at(seen.px + Point2{1.0, 0.0}, ofPlane);
            if (!at || !next) {
                return std::nullopt;
            }
            samples.push_back({seen.time, *at, (*next - *at).norm() * seen.sd});
        }
        const double drag = drag_ + dragSd_ * errors[errors.size() - 1];
        return motion::fitFlight(samples, drag, start_);
    }

    const Measure& measure_;
    const FlightPlane& plane_;
    const std::vector<BallSeen>& ball_;
    double drag_;
    double dragSd_;
    double start_;
    std::optional<motion::BallFlight> fitted_;
    Eigen::Matrix4d spread_ = Eigen::Matrix4d::Zero();
};

FlightValue noTarget() {
    return {std::nullopt, "Nothing says how far away the target is."};
}

model::Construct drawn(const std::vector<BallSeen>& ball, const Circumstances& c, int frame,
                       const std::string& label) {
    model::Construct construct;
    construct.frame = frame;
    const auto there = [&](Point2 p) {
        const auto at = static_cast<std::size_t>(frame);
        return at < c.camera.size() ? carriedFromFirst(c.camera[at], p) : p;
    };
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
        return {std::nullopt, "The ball does not get as far as the target."};
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
        return {std::nullopt, "The ball does not get as far as the target."};
    }
    return {milliseconds * *time, {}};
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

void readFlight(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                model::Reading& reading) {
    const auto frame = model::frameOf(rep, measure.at);
    if (!frame) {
        reading.missing =
            MissingReason{MissingReason::Kind::positionNotSet,
                          "“" + seenFrom(pack, measure) + "” is not set on this rep yet."};
        return;
    }
    if (!circumstances.captureRateKnown) {
        reading.missing =
            MissingReason{MissingReason::Kind::captureRateUnknown,
                          "Say on the Film station how many frames a second the camera took."};
        return;
    }
    Inputs inputs(pack, rep, circumstances.hand);
    const auto foot = resolve({measure.points[1]}, measure.at, rep, circumstances.camera, 0.0,
                              inputs, reading.missing);
    if (!foot) {
        return;
    }
    const Point2 stands = foot->front().at(inputs.values());
    std::unique_ptr<FlightPlane> plane;
    if (circumstances.ground) {
        const auto place = circumstances.ground->fit.camera.onGround(stands);
        if (place) {
            plane = std::make_unique<PlaneOnGround>(pack, circumstances, *place);
        }
    } else if (circumstances.bodyHeight && bodyHeightPx) {
        plane = std::make_unique<PlaneOfPlayer>(pack, circumstances, *bodyHeightPx, stands);
    }
    if (!plane) {
        reading.missing = MissingReason{
            MissingReason::Kind::groundUnknown,
            circumstances.groundReason.empty()
                ? "Nothing says how many metres a pixel is: mark a place of known size on the Film "
                  "station under Ground, or say on the Squad station how tall the player is and "
                  "place the landmarks of " +
                      findPosition(pack, pack.bodyHeight.at)->name + "."
                : circumstances.groundReason};
        return;
    }
    const double start = circumstances.time.fieldTimes()[static_cast<std::size_t>(*frame)].value;
    int frames = 0;
    const std::vector<BallSeen> ball = ballIn(pack, rep, circumstances, measure, start, frames);
    if (ball.size() < motion::fewestFlightSamples) {
        reading.missing =
            MissingReason{frames < static_cast<int>(motion::fewestFlightSamples)
                              ? MissingReason::Kind::tooFewFrames
                              : MissingReason::Kind::landmarkNotPlaced,
                          "The ball is known in " + std::to_string(ball.size()) + " of the " +
                              std::to_string(frames) + " frames after " + seenFrom(pack, measure) +
                              ", and " + std::to_string(motion::fewestFlightSamples) +
                              " are needed. Place it in some, or let Propose follow it."};
        return;
    }
    const double drag = pack.ball ? motion::dragPerMetre(pack.ball->massKg, pack.ball->diameterM,
                                                         pack.ball->dragCoefficient)
                                  : 0.0;
    const FlightReading of(measure, *plane, ball, drag, pack.ball ? pack.ball->dragRelativeSd : 0.0,
                           start);
    if (!of.flight() || of.flight()->scatter > mostScatter) {
        reading.missing =
            MissingReason{MissingReason::Kind::degenerate,
                          "The places of the ball after " + seenFrom(pack, measure) +
                              " do not lie on one flight: look at them frame by frame."};
        return;
    }
    const FlightValue value = of.valueWith(Eigen::VectorXd::Zero(of.errors()));
    if (!value.value) {
        reading.missing = MissingReason{MissingReason::Kind::groundUnknown, value.refusal};
        return;
    }
    const Eigen::Index planeErrors = of.errors() - 5;
    const double placing = of.sd(0, 4);
    const double ground = of.sd(4, planeErrors);
    // Seen by a camera that stands a little off square every way along looks shorter.
    double oblique = 0.0;
    if (!circumstances.ground) {
        const model::Degrees off(std::hypot(measure.outOfPlaneDeg, motion::offSquareSd.value));
        oblique = measure.unit == model::Unit::degrees
                      ? motion::elevationRms(model::Degrees(*value.value), off).value
                      : std::abs(*value.value) * motion::distanceRelativeRms(off);
    }
    const auto& flight = *of.flight();
    const double speed = flight.velocity.norm();
    const double relative =
        std::sqrt(flight.covariance.bottomRightCorner<2, 2>().trace() * 0.5) / speed;
    const double sd = std::hypot(placing, ground);
    if (!std::isfinite(sd) || relative > mostRelativeSd) {
        reading.missing = MissingReason{
            MissingReason::Kind::tooFewFrames,
            "The ball is seen over too short a way to tell its flight: place it in more frames."};
        return;
    }
    reading.value = measure.absolute ? std::abs(*value.value) : *value.value;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = ground;
    reading.uncertainty.proportion = of.sd(of.errors() - 1, 1);
    reading.uncertainty.outOfPlane = oblique;
    reading.constructs.push_back(
        drawn(ball, circumstances, *frame, valueText(*reading.value, measure.unit)));
}

} // namespace kestrel::technique
