#include "technique/kinds/body_reading.h"

#include "body/fitted_body.h"
#include "motion/centre_of_mass.h"
#include "technique/judge/target_line.h"
#include "technique/kinds/constructs.h"
#include "technique/kinds/heading.h"
#include "technique/kinds/in_space.h"
#include "technique/kinds/inputs.h"
#include "technique/pack/roles.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <vector>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;

/// A point of a measure: landmarks of the body at an instant, weighed.
struct SpacePoint {
    std::vector<std::pair<body::PlaceRef, double>> terms;
    bool isCentreOfMass = false;
};

using SpacePoints = std::vector<SpacePoint>;

/// How much farther the body is off where no coach has looked at a reading's landmarks: machines
/// take left for right, and a limb that is hidden for another. Measured on rendered films
/// (docs/body.md).
constexpr double followedWidening = 1.3;

/// The points of a measure at a position; nothing when one is not of the body or not inside it.
/// `followed` becomes true when no coach has looked at one of them.
std::optional<SpacePoints> pointsAt(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                                    const Measure& measure, const std::string& position,
                                    bool& followed) {
    SpacePoints points;
    for (const PointExpression& expression : measure.points) {
        const auto frame =
            model::frameOf(rep, expression.position.empty() ? position : expression.position);
        if (!frame || *frame >= c.time.frameCount()) {
            return std::nullopt;
        }
        const model::Seconds time = c.time.fieldTimes()[static_cast<std::size_t>(*frame)];
        SpacePoint made{{}, expression.isCentreOfMass};
        for (const auto& [role, weight] : expression.terms) {
            const auto landmark = landmarkForRole(pack, role, c.hand);
            const model::LandmarkPoint* point =
                landmark ? model::find(rep.landmarks, *frame, *landmark) : nullptr;
            if (point == nullptr || point->hidden || !model::isOfBody(*landmark) ||
                !c.body->covers(time)) {
                return std::nullopt;
            }
            followed = followed || point->source != model::Source::placed;
            made.terms.emplace_back(body::PlaceRef{*landmark, time}, weight);
        }
        points.push_back(std::move(made));
    }
    return points;
}

/// What may be different from the estimate when a quantity is computed.
struct Change {
    std::optional<std::size_t> draw;  ///< of the body; unset: the estimate
    double later = 0.0;               ///< seconds, of all instants
    double azimuth = 0.0;             ///< radians, of the target line
    Vector3d mass = Vector3d::Zero(); ///< of the centre of mass, in the target line's axes
};

/// One measure on one body.
class BodyReading {
  public:
    BodyReading(const Pack& pack, const Circumstances& c, const Measure& measure, TargetLine line,
                SpacePoints at, SpacePoints before)
        : c_(c),
          measure_(measure),
          line_(line),
          at_(std::move(at)),
          before_(std::move(before)),
          dominantSide_(c.hand == model::Hand::right ? -1 : 1),
          leading_(leadsWithDominantSide(pack) ? dominantSide_ : -dominantSide_) {}

    [[nodiscard]] double value(const Change& change) const {
        const double now = valueAt(at_, change);
        const double v = before_.empty() ? now : now - valueAt(before_, change);
        return measure_.absolute ? std::abs(v) : v;
    }

    /// Of a difference, what is taken off.
    [[nodiscard]] double valueBefore() const { return valueAt(before_, {}); }

    /// Standard deviation over the draws of the body.
    [[nodiscard]] double bodySd(double read) const {
        const std::size_t draws = c_.body->drawCount();
        double square = 0.0;
        for (std::size_t draw = 0; draw < draws; ++draw) {
            Change change;
            change.draw = draw;
            square += std::pow(missOf(value(change), read), 2);
        }
        return draws == 0 ? 0.0 : std::sqrt(square / static_cast<double>(draws));
    }

    /// What being off by so much to either side makes.
    [[nodiscard]] double spread(double read, const Change& one, const Change& other) const {
        return std::sqrt(0.5 * (std::pow(missOf(value(one), read), 2) +
                                std::pow(missOf(value(other), read), 2)));
    }

    [[nodiscard]] bool weighsTheBody() const {
        return std::any_of(at_.begin(), at_.end(),
                           [](const SpacePoint& p) { return p.isCentreOfMass; });
    }

  private:
    /// The difference of two values, the short way round where they are directions.
    [[nodiscard]] double missOf(double a, double b) const {
        constexpr double wholeTurn = 360.0;
        return measure_.unit == model::Unit::degrees ? std::remainder(a - b, wholeTurn) : a - b;
    }

    [[nodiscard]] double valueAt(const SpacePoints& points, const Change& change) const {
        const Eigen::Matrix3d toLine =
            Eigen::AngleAxisd(-(line_.azimuth + change.azimuth), Vector3d::UnitZ())
                .toRotationMatrix();
        std::vector<Vector3d> places;
        places.reserve(points.size());
        for (const SpacePoint& point : points) {
            Vector3d sum = Vector3d::Zero();
            for (auto [ref, weight] : point.terms) {
                ref.time.value += change.later;
                sum += weight *
                       (change.draw ? c_.body->drawn(*change.draw, ref) : c_.body->place(ref));
            }
            places.emplace_back(toLine * sum);
            if (point.isCentreOfMass) {
                places.back() += change.mass;
            }
        }
        constexpr double height = 1.0; // the body is told in standing heights
        return measure_.kind->space(
            {places, leading_, height, directionOf(measure_), dominantSide_});
    }

    const Circumstances& c_;
    const Measure& measure_;
    TargetLine line_;
    SpacePoints at_;
    SpacePoints before_; ///< empty: no difference is read
    int dominantSide_;
    int leading_;
};

/// Whether the body lies in depth as the coach says that it does at the position: which end of a
/// line is nearer, and how a limb is folded. Where it does not, it is wrong there.
bool liesAsTheCoachSays(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                        const Measure& measure, const std::string& position) {
    const model::Seconds time =
        c.time.fieldTimes()[static_cast<std::size_t>(*model::frameOf(rep, position))];
    const auto landmarkOf = [&](std::size_t i) {
        const auto& terms = measure.points[i].terms;
        return terms.size() == 1 ? landmarkForRole(pack, terms.front().first, c.hand)
                                 : std::nullopt;
    };
    const auto away = [&](model::Landmark landmark) { return c.body->place({landmark, time}).y(); };
    if (measure.kind->as<HeadingKind>() != nullptr) {
        for (std::size_t i = 0; i + 1 < measure.points.size(); i += 2) {
            const auto end = landmarkOf(i);
            const auto said = end ? nearerEnd(rep, position, lineThrough(*end)) : std::nullopt;
            if (said && said->byCoach &&
                (model::sideOf(*end) == said->side) != (away(*end) < away(model::mirrored(*end)))) {
                return false;
            }
        }
    }
    constexpr std::size_t joint = 3; // points, the middle one of which is the joint
    if (measure.points.size() == joint) {
        const auto from = landmarkOf(0);
        const auto middle = landmarkOf(1);
        const auto to = landmarkOf(2);
        const auto folds = rep.limbFolds.find(position);
        if (from && middle && to && folds != rep.limbFolds.end()) {
            const auto said = folds->second.find(*middle);
            const bool together = (away(*middle) - away(*from)) * (away(*middle) - away(*to)) > 0.0;
            if (said != folds->second.end() &&
                together != (said->second == model::LimbFold::together)) {
                return false;
            }
        }
    }
    return true;
}

/// Whether a reading that is off by so much is inside and outside all of its ranges at once.
bool tellsNothing(const Measure& measure, double sd) {
    double widest = 0.0;
    for (const MeasureRange& range : measure.ranges) {
        if (!range.good.low || !range.good.high) {
            return false; // one that is open to a side can be far enough from its end
        }
        widest = std::max(widest, *range.good.high - *range.good.low);
    }
    return !measure.ranges.empty() && model::coverage95 * sd > widest;
}

double massSd(const Circumstances& c) {
    constexpr int grown = 16; // years; above, the table's own spread
    return c.ageYears && *c.ageYears < grown ? motion::childCentreOfMassSdBh
                                             : motion::centreOfMassSdBh;
}

} // namespace

bool isOfBodyInSpace(const Measure& measure) {
    return measure.kind->space != nullptr &&
           !std::all_of(measure.views.begin(), measure.views.end(),
                        [](model::View view) { return view == model::View::overhead; });
}

bool readFromBody(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                  const Measure& measure, model::Reading& reading) {
    if (!circumstances.body || !isOfBodyInSpace(measure)) {
        return false;
    }
    bool followed = false;
    auto at = pointsAt(pack, rep, circumstances, measure, measure.at, followed);
    auto before = measure.minus.empty()
                      ? std::optional(SpacePoints())
                      : pointsAt(pack, rep, circumstances, measure, measure.minus, followed);
    if (!at || !before || !liesAsTheCoachSays(pack, rep, circumstances, measure, measure.at) ||
        (!measure.minus.empty() &&
         !liesAsTheCoachSays(pack, rep, circumstances, measure, measure.minus))) {
        return false;
    }
    const std::optional<TargetLine> line = targetLine(pack, circumstances);
    const BodyReading body(pack, circumstances, measure, line.value_or(TargetLine{}),
                           std::move(*at), std::move(*before));
    const double read = body.value({});
    const auto turned = [&](double by) {
        Change change;
        change.azimuth = by;
        return change;
    };
    if (!line) {
        constexpr double quarter = 1.5; // radians, or nearly so
        constexpr double nothing = 1e-9;
        if (body.spread(read, turned(quarter), turned(-quarter)) > nothing) {
            return false; // it hangs on where the target is
        }
    }
    const auto later = [&](double by) {
        Change change;
        change.later = by;
        return change;
    };
    const double bodySd = body.bodySd(read) * (followed ? followedWidening : 1.0);
    if (followed && tellsNothing(measure, bodySd)) {
        reading.missing = model::MissingReason{
            model::MissingReason::Kind::notLookedAt,
            model::message("reading.not_looked_at",
                           model::Measured{read, measure.unit, model::coverage95 * bodySd},
                           findPosition(pack, measure.at)->name)};
        return false;
    }
    reading.value = read;
    reading.from = model::ReadFrom::body;
    reading.uncertainty.body = bodySd;
    const double sd = line ? line->azimuthSd : 0.0;
    reading.uncertainty.ground = body.spread(read, turned(sd), turned(-sd));
    const double instant = instantSd(circumstances.time, rep, measure.at);
    reading.uncertainty.frames = body.spread(read, later(instant), later(-instant));
    if (body.weighsTheBody()) {
        double square = 0.0;
        for (Eigen::Index axis = 0; axis < 3; ++axis) {
            Change up;
            up.mass[axis] = massSd(circumstances);
            Change down;
            down.mass = -up.mass;
            square += std::pow(body.spread(read, up, down), 2);
        }
        reading.uncertainty.proportion = std::sqrt(square);
    }
    const auto show = [&](const std::string& position, double value) {
        if (auto construct = constructAt(pack, rep, circumstances.hand, measure, position)) {
            construct->label = model::valueOf(value, measure.unit);
            reading.constructs.push_back(std::move(*construct));
        }
    };
    if (!measure.minus.empty()) {
        show(measure.minus, body.valueBefore());
    }
    show(measure.at, read);
    return true;
}

} // namespace kestrel::technique
