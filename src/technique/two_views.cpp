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
};

/// A film of the two: its rep, its ground and how its camera moved.
struct Film {
    const model::Rep& rep;
    const Ground& ground;
    const model::CameraMotion& camera;
};

std::optional<SeenLandmark> seenIn(const Film& film, model::Landmark landmark,
                                   const std::string& position) {
    const auto frame = model::frameOf(film.rep, position);
    const model::LandmarkPoint* point =
        frame ? model::find(film.rep.landmarks, *frame, landmark) : nullptr;
    if (point == nullptr || point->hidden || point->sdPx <= 0.0) {
        return std::nullopt;
    }
    SeenLandmark seen{point->px, point->sdPx};
    if (*frame < static_cast<int>(film.camera.size())) {
        const model::CameraPose& pose = film.camera[static_cast<std::size_t>(*frame)];
        seen.px = carriedToFirst(pose, seen.px);
        seen.sd = std::hypot(seen.sd, pose.sdPx);
    }
    return seen;
}

/// One term of a point: a landmark with its weight, seen by both cameras; four inputs from `first`.
struct Term {
    double weight = 1.0;
    std::size_t first = 0;
};

/// The points of a measure at one position, each made of its terms.
using Points = std::vector<std::vector<Term>>;

/// The inputs of one reading: picture places of both films, then eight errors of each camera.
class SpaceInputs {
  public:
    SpaceInputs(const Film& first, const Film& second) : films_{&first, &second} {}

    /// Adds a landmark at a position; false when one of the films lacks it.
    bool add(model::Landmark landmark, const std::string& position, double weight,
             std::vector<Term>& terms) {
        const auto one = seenIn(*films_[0], landmark, position);
        const auto other = seenIn(*films_[1], landmark, position);
        if (!one || !other) {
            return false;
        }
        terms.push_back({weight, values_.size()});
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
        sds.tail(2 * cameraErrors).setOnes();
        return sds;
    }

    /// The point in space; nothing where the two sights do not tell it.
    [[nodiscard]] std::optional<Vector3d> place(const std::vector<Term>& terms,
                                                const Eigen::VectorXd& x) const {
        const auto begin = static_cast<Eigen::Index>(values_.size());
        std::array<motion::GroundCamera, 2> cameras;
        for (std::size_t film = 0; film < 2; ++film) {
            const motion::GroundFit& fit = films_[film]->ground.fit;
            const Eigen::VectorXd errors =
                x.segment(begin + static_cast<Eigen::Index>(film) * cameraErrors, cameraErrors);
            cameras[film] = motion::changed(fit.camera, fit.spread * errors);
        }
        Vector3d sum = Vector3d::Zero();
        for (const Term& term : terms) {
            const auto i = static_cast<Eigen::Index>(term.first);
            const auto at =
                motion::placeSeenTwice({cameras[0], {x[i], x[i + 1]}, sds_[term.first]},
                                       {cameras[1], {x[i + 2], x[i + 3]}, sds_[term.first + 2]});
            if (!at) {
                return std::nullopt;
            }
            sum += term.weight * *at;
        }
        return sum;
    }

  private:
    static constexpr Eigen::Index cameraErrors = 8;

    [[nodiscard]] Eigen::Index size() const {
        return static_cast<Eigen::Index>(values_.size()) + 2 * cameraErrors;
    }

    std::array<const Film*, 2> films_;
    std::vector<double> values_;
    std::vector<double> sds_;
};

/// Half a frame of each film, for what changes so fast.
double frameSd(const Circumstances& c, const model::Rep& rep, const std::string& position) {
    const double rounding =
        model::frameInterval(c.time, *model::frameOf(rep, position)).value / std::sqrt(12.0);
    const model::FoundInstant* found = model::onlyFound(rep, position);
    return found == nullptr ? rounding : std::hypot(rounding, found->sd.value);
}

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

bool readInSpace(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, model::Reading& reading) {
    if (measure.kind->space == nullptr || !circumstances.second || !circumstances.ground ||
        !secondViewHindrance(pack, rep, circumstances).empty() ||
        (measure.kind->space == distanceInSpace && !circumstances.bodyHeight)) {
        return false;
    }
    const SecondView& second = *circumstances.second;
    const Film firstFilm{rep, *circumstances.ground, circumstances.camera};
    const Film secondFilm{second.rep, second.ground, second.camera};
    SpaceInputs inputs(firstFilm, secondFilm);
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
    const double cameras = motion::standardUncertainty(value, x, inputs.cameraSds());
    if (!told || !std::isfinite(read)) {
        return false;
    }
    reading.value = read;
    reading.twoViews = true;
    reading.uncertainty.placement = placing;
    reading.uncertainty.ground = cameras;
    reading.uncertainty.frames =
        measure.typicalRate * std::hypot(frameSd(circumstances, rep, measure.at), second.frameSd);
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
        std::any_of(pack.positions.begin(), pack.positions.end(), [&](const Position& p) {
            return model::frameOf(rep, p.id) && model::frameOf(circumstances.second->rep, p.id);
        });
    return shared ? std::string()
                  : std::string("No key position is set in both films yet; that is what tells that "
                                "they show the same instant.");
}

} // namespace kestrel::technique
