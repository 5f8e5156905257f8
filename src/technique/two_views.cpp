#include "technique/two_views.h"

#include "motion/propagation.h"
#include "motion/two_views.h"
#include "technique/inputs.h"
#include "technique/reading_text.h"
#include "technique/roles.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <set>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;
using model::Point2;

double degrees(double radians) {
    return model::degreesFromRadians(radians).value;
}

double angleOf(const Vector3d& a, const Vector3d& b) {
    return degrees(std::atan2(a.cross(b).norm(), a.dot(b)));
}

/// −180…180.
double wrapped(double angle) {
    constexpr double turn = 360.0;
    return angle - turn * std::round(angle / turn);
}

double headingOf(const Vector3d& trail, const Vector3d& lead, int leading) {
    const Vector3d way = lead - trail;
    return degrees(std::atan2(leading * way.y(), way.x()));
}

/// A landmark as one of the two films shows it.
struct SeenLandmark {
    Point2 px;
    double sd = 0.0;
    /// Pixels a second, where it was read between two frames of the film; else the film shows it
    /// at its own frame only, to half of one.
    std::optional<Point2> velocity;
};

/// A film of the two: its rep, its ground and how its camera moved.
struct Film {
    const model::Rep& rep;
    const Ground& ground;
    const model::CameraMotion& camera;
    const model::ClipTime& time;
};

std::optional<SeenLandmark> seenAt(const Film& film, model::Landmark landmark, int frame) {
    const model::LandmarkPoint* point = model::find(film.rep.landmarks, frame, landmark);
    if (point == nullptr || point->hidden || point->sdPx <= 0.0) {
        return std::nullopt;
    }
    SeenLandmark seen{point->px, point->sdPx, {}};
    if (frame < static_cast<int>(film.camera.size())) {
        const model::CameraPose& pose = film.camera[static_cast<std::size_t>(frame)];
        seen.px = carriedToFirst(pose, seen.px);
        seen.sd = std::hypot(seen.sd, pose.sdPx);
    }
    return seen;
}

std::optional<SeenLandmark> seenIn(const Film& film, model::Landmark landmark,
                                   const std::string& position) {
    const auto frame = model::frameOf(film.rep, position);
    return frame ? seenAt(film, landmark, *frame) : std::nullopt;
}

/// The landmark at a time between two frames that both show it.
std::optional<SeenLandmark> seenBetween(const Film& film, model::Landmark landmark, double time) {
    const auto& times = film.time.fieldTimes();
    if (times.size() < 2 || time < times.front().value || time > times.back().value) {
        return std::nullopt;
    }
    const int frame = std::min(model::frameAtFieldTime(film.time, model::Seconds(time)),
                               film.time.frameCount() - 2);
    const auto before = seenAt(film, landmark, frame);
    const auto after = seenAt(film, landmark, frame + 1);
    if (!before || !after) {
        return std::nullopt;
    }
    const double start = times[static_cast<std::size_t>(frame)].value;
    const double step = times[static_cast<std::size_t>(frame) + 1].value - start;
    const double share = (time - start) / step;
    const Point2 way = after->px - before->px;
    // Neighbours share what a machine that followed them is off by.
    return SeenLandmark{before->px + way * share, std::max(before->sd, after->sd),
                        way * (1.0 / step)};
}

constexpr double speedOfSound = 343.0; // m/s, in air of 20 °C
/// How far from the origin of the marked place what was heard may have been, metres. Working
/// figure.
constexpr double heardWithinM = 1.0;

/// From the first film's time to the second's: as heard, or as the key positions say that both
/// have, weighed by how surely each is known and, where they disagree by more, by how much they do.
/// Nothing without either.
std::optional<model::FilmStep> stepBetween(const Film& first, const Film& second,
                                           const std::optional<model::FilmStep>& heard) {
    if (heard) {
        return heard;
    }
    if (second.time.frameCount() < 2) {
        return std::nullopt;
    }
    struct Said {
        double later;
        double weight;
    };
    std::vector<Said> said;
    double weights = 0.0;
    double sum = 0.0;
    for (const auto& [position, frame] : first.rep.positions) {
        const auto other = model::frameOf(second.rep, position);
        if (!other) {
            continue;
        }
        const double later = second.time.fieldTimes().at(static_cast<std::size_t>(*other)).value -
                             first.time.fieldTimes().at(static_cast<std::size_t>(frame)).value;
        const double sd = std::hypot(instantSd(first.time, first.rep, position),
                                     instantSd(second.time, second.rep, position));
        said.push_back({later, 1.0 / (sd * sd)});
        weights += said.back().weight;
        sum += said.back().weight * later;
    }
    if (said.empty()) {
        return std::nullopt;
    }
    const double mean = sum / weights;
    double misfit = 0.0;
    for (const Said& s : said) {
        misfit += s.weight * (s.later - mean) * (s.later - mean);
    }
    const double freedom = std::max(1.0, static_cast<double>(said.size()) - 1.0);
    return model::FilmStep{mean, std::sqrt(std::max(1.0, misfit / freedom) / weights)};
}

/// The two films of a motion and how their times go together.
struct BothFilms {
    Film first;
    Film second;
    std::optional<model::FilmStep> step;

    BothFilms(const model::Rep& rep, const Circumstances& c)
        : first{rep, *c.ground, c.camera, c.time},
          second{c.second->rep, c.second->ground, c.second->camera, c.second->time},
          step(stepBetween(first, second, c.second->heard)) {}

    /// At the instant that the first film shows, where the second has frames on both sides of it.
    [[nodiscard]] std::optional<SeenLandmark> seenInSecond(model::Landmark landmark,
                                                           const std::string& position) const {
        if (step) {
            const int frame = *model::frameOf(first.rep, position);
            const double time = first.time.fieldTimes().at(static_cast<std::size_t>(frame)).value;
            if (auto seen = seenBetween(second, landmark, time + step->seconds)) {
                return seen;
            }
        }
        return seenIn(second, landmark, position);
    }
};

/// What both films show of the body at the first one's key positions. What the second film shows at
/// its own frame only may be half a frame off, and is left out.
std::vector<motion::SeenByBoth> bodySeenByBoth(const BothFilms& films) {
    std::vector<motion::SeenByBoth> spots;
    for (const model::Landmark landmark : model::allLandmarks()) {
        if (!model::isOfBody(landmark)) {
            continue; // bat and ball are too fast to be at one place for both
        }
        std::set<int> frames; // two positions may share one
        std::vector<motion::SeenByBoth> ofThis;
        for (const auto& [position, frame] : films.first.rep.positions) {
            const auto one = seenIn(films.first, landmark, position);
            const auto other = one ? films.seenInSecond(landmark, position) : std::nullopt;
            if (!other || !other->velocity || !frames.insert(frame).second) {
                continue;
            }
            const double unsure = model::length(*other->velocity) * films.step->sd;
            ofThis.push_back({one->px, one->sd, other->px, std::hypot(other->sd, unsure)});
        }
        for (motion::SeenByBoth& spot : ofThis) {
            spot.instants = static_cast<int>(ofThis.size());
            spots.push_back(spot);
        }
    }
    return spots;
}

/// One term of a point: a landmark with its weight, seen by both cameras; four inputs from `first`.
struct Term {
    double weight = 1.0;
    std::size_t first = 0;
    Point2 velocity; ///< in the second film, pixels a second
};

/// The points of a measure at one position, each made of its terms.
using Points = std::vector<std::vector<Term>>;

/// The inputs of one reading: picture places of both films, eight errors of each camera, and how
/// far the films are out of step, seconds.
class SpaceInputs {
  public:
    SpaceInputs(const BothFilms& films, const motion::CameraPair& cameras)
        : films_(films), cameras_(cameras) {}

    /// Adds a landmark at a position; false when one of the films lacks it.
    bool add(model::Landmark landmark, const std::string& position, double weight,
             std::vector<Term>& terms) {
        const auto one = seenIn(films_.first, landmark, position);
        const auto other = one ? films_.seenInSecond(landmark, position) : std::nullopt;
        if (!one || !other) {
            return false;
        }
        ownFrames_ = ownFrames_ || !other->velocity;
        terms.push_back({weight, values_.size(), other->velocity.value_or(Point2{})});
        for (const SeenLandmark& seen : {*one, *other}) {
            values_.insert(values_.end(), {seen.px.x, seen.px.y});
            sds_.insert(sds_.end(), {seen.sd, seen.sd});
        }
        return true;
    }

    [[nodiscard]] Eigen::VectorXd values() const {
        Eigen::VectorXd x = Eigen::VectorXd::Zero(size());
        std::copy(values_.begin(), values_.end(), x.data());
        return x;
    }
    /// Of placing, or of the two cameras.
    [[nodiscard]] Eigen::VectorXd placingSds() const {
        Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
        std::copy(sds_.begin(), sds_.end(), sds.data());
        return sds;
    }
    [[nodiscard]] Eigen::VectorXd cameraSds() const {
        Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
        sds.segment(size() - 1 - cameraErrors, cameraErrors).setOnes();
        return sds;
    }
    /// Of the two films' step.
    [[nodiscard]] Eigen::VectorXd stepSds() const {
        Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
        sds[size() - 1] = films_.step ? films_.step->sd : 0.0;
        return sds;
    }
    /// Whether the second film shows a landmark at its own frame of a position only.
    [[nodiscard]] bool ownFrames() const { return ownFrames_; }

    /// The point in space; nothing where the two sights do not tell it.
    [[nodiscard]] std::optional<Vector3d> place(const std::vector<Term>& terms,
                                                const Eigen::VectorXd& x) const {
        const auto [first, other] =
            motion::changed(cameras_, x.segment<cameraErrors>(size() - 1 - cameraErrors));
        Vector3d sum = Vector3d::Zero();
        const double outOfStep = x[size() - 1];
        for (const Term& term : terms) {
            const auto i = static_cast<Eigen::Index>(term.first);
            const Point2 second = Point2{x[i + 2], x[i + 3]} + term.velocity * outOfStep;
            const auto at = motion::placeSeenTwice({first, {x[i], x[i + 1]}, sds_[term.first]},
                                                   {other, second, sds_[term.first + 2]});
            if (!at) {
                return std::nullopt;
            }
            sum += term.weight * *at;
        }
        return sum;
    }

  private:
    static constexpr Eigen::Index cameraErrors = 16; // of both

    [[nodiscard]] Eigen::Index size() const {
        return static_cast<Eigen::Index>(values_.size()) + cameraErrors + 1;
    }

    const BothFilms& films_;
    const motion::CameraPair& cameras_;
    bool ownFrames_ = false;
    std::vector<double> values_;
    std::vector<double> sds_;
};

model::Construct drawn(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                       const Measure& measure, double value) {
    model::Construct construct;
    construct.frame = *model::frameOf(rep, measure.at);
    std::vector<Point2> points;
    for (const PointExpression& expression : measure.points) {
        const std::string& at = expression.position.empty() ? measure.at : expression.position;
        const int frame = *model::frameOf(rep, at);
        Point2 px;
        for (const auto& [role, weight] : expression.terms) {
            const auto landmark = landmarkForRole(pack, role, c.hand);
            px = px + model::find(rep.landmarks, frame, *landmark)->px * weight;
        }
        points.push_back(px);
        construct.shapes.emplace_back(model::Dot{px});
    }
    const bool pairs = points.size() == 4; // two lines, else one way through all points
    for (std::size_t i = 1; i < points.size(); i += pairs ? 2 : 1) {
        construct.shapes.emplace_back(model::Segment{points[i - 1], points[i]});
    }
    construct.labelAt = points.size() == 3 ? points[1] : (points[0] + points[1]) * 0.5;
    construct.label = valueText(value, measure.unit);
    return construct;
}

} // namespace

model::FilmStep lightFromSound(model::FilmStep heard, const motion::GroundCamera& first,
                               const motion::GroundCamera& second) {
    heard.seconds -= (second.position.norm() - first.position.norm()) / speedOfSound;
    heard.sd = std::hypot(heard.sd, heardWithinM / speedOfSound);
    return heard;
}

double interiorAngleInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[0] - p[1], p[2] - p[1]);
}

double flexionInSpace(const SpaceInput& input) {
    constexpr double straight = 180.0;
    return straight - interiorAngleInSpace(input);
}

double angleBetweenInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return angleOf(p[1] - p[0], p[3] - p[2]);
}

double elevationInSpace(const SpaceInput& input) {
    const Vector3d way = input.places[1] - input.places[0];
    return degrees(std::atan2(way.z(), std::hypot(way.x(), way.y())));
}

double distanceInSpace(const SpaceInput& input) {
    return (input.places[1] - input.places[0]).norm() / input.bodyHeightM;
}

double headingInSpace(const SpaceInput& input) {
    return headingOf(input.places[0], input.places[1], input.leading);
}

double separationInSpace(const SpaceInput& input) {
    const auto p = input.places;
    return wrapped(headingOf(p[0], p[1], input.leading) - headingOf(p[2], p[3], input.leading));
}

std::shared_ptr<const motion::CameraPair> bothCameras(const Pack& pack, const model::Rep& rep,
                                                      const Circumstances& circumstances) {
    if (!circumstances.second || !secondViewHindrance(pack, rep, circumstances).empty()) {
        return nullptr;
    }
    const BothFilms films(rep, circumstances);
    return std::make_shared<const motion::CameraPair>(motion::byGroundAndBody(
        films.first.ground.fit, films.second.ground.fit, bodySeenByBoth(films)));
}

bool readInSpace(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const motion::CameraPair* cameras, const Measure& measure,
                 model::Reading& reading) {
    if (measure.kind->space == nullptr || cameras == nullptr ||
        (measure.kind->space == distanceInSpace && !circumstances.bodyHeight)) {
        return false;
    }
    const BothFilms films(rep, circumstances);
    SpaceInputs inputs(films, *cameras);
    const auto pointsAt = [&](const std::string& position) -> std::optional<Points> {
        Points points;
        for (const PointExpression& expression : measure.points) {
            std::vector<Term> terms;
            for (const auto& [role, weight] : expression.terms) {
                const auto landmark = landmarkForRole(pack, role, circumstances.hand);
                if (!landmark ||
                    !inputs.add(*landmark,
                                expression.position.empty() ? position : expression.position,
                                weight, terms)) {
                    return std::nullopt;
                }
            }
            points.push_back(std::move(terms));
        }
        return points;
    };
    const auto at = pointsAt(measure.at);
    const auto before = measure.minus.empty() ? std::optional(Points()) : pointsAt(measure.minus);
    if (!at || !before) {
        return false;
    }
    const int side = circumstances.hand == model::Hand::right ? -1 : 1; // along y, see GroundInput
    const int leading = leadsWithDominantSide(pack) ? side : -side;
    bool told = true;
    const auto valueOf = [&](const Points& points, const Eigen::VectorXd& x) {
        std::vector<Vector3d> places;
        for (const auto& terms : points) {
            const auto place = inputs.place(terms, x);
            told = told && place.has_value();
            places.push_back(place.value_or(Vector3d::Zero()));
        }
        return measure.kind->space(
            {places, leading, circumstances.bodyHeight ? circumstances.bodyHeight->value : 0.0});
    };
    const auto value = [&](const Eigen::VectorXd& x) {
        const double v = valueOf(*at, x) - (before->empty() ? 0.0 : valueOf(*before, x));
        return measure.absolute ? std::abs(v) : v;
    };
    const Eigen::VectorXd x = inputs.values();
    const double read = value(x);
    const double placing = motion::standardUncertainty(value, x, inputs.placingSds());
    const double ofCameras =
        motion::standardUncertainty(value, x, inputs.cameraSds(), motion::nearby);
    if (!told || !std::isfinite(read)) {
        return false;
    }
    reading.value = read;
    reading.twoViews = true;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = ofCameras;
    const double outOfStep = motion::standardUncertainty(value, x, inputs.stepSds());
    const double instant = std::hypot(instantSd(circumstances.time, rep, measure.at),
                                      inputs.ownFrames() ? circumstances.second->frameSd : 0.0);
    reading.uncertainty.frames = std::hypot(measure.typicalRate * instant, outOfStep);
    reading.constructs.push_back(drawn(pack, rep, circumstances, measure, read));
    return true;
}

std::string secondViewHindrance(const Pack& pack, const model::Rep& rep,
                                const Circumstances& circumstances) {
    if (!circumstances.second) {
        return circumstances.secondReason;
    }
    if (!circumstances.ground) {
        return "Mark the ground of this clip: both films need the same marked place.";
    }
    if (circumstances.ground->place.id != circumstances.second->ground.place.id) {
        return "The two films have different places marked on the ground.";
    }
    const bool shared =
        circumstances.second->heard ||
        std::any_of(pack.positions.begin(), pack.positions.end(), [&](const Position& p) {
            return model::frameOf(rep, p.id) && model::frameOf(circumstances.second->rep, p.id);
        });
    return shared
               ? std::string()
               : std::string("No key position is set in both films yet; that or their sound tells "
                             "which pictures show the same instant.");
}

} // namespace kestrel::technique
