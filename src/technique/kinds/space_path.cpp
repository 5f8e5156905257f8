#include "technique/kinds/space_path.h"

#include "motion/propagation.h"
#include "technique/kinds/courses.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/space_inputs.h"
#include "technique/kinds/two_views.h"
#include "technique/pack/roles.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <limits>

namespace kestrel::technique {
namespace {

using Eigen::Vector3d;
using model::MissingReason;

/// The point of a measure in the frames of its stretch that both films show.
struct SeenPath {
    std::vector<SeenPoint> points;
    std::vector<int> frames;
    int asked = 0; ///< frames of the stretch
};

SeenPath seenPath(const Pack& pack, const Courses& courses, const Measure& measure,
                  SpaceInputs& inputs) {
    const motion::TimeSpan within =
        courses.stretch(measure.from, measure.fromAfter, measure.at, measure.atAfter);
    SeenPath path;
    const model::ClipTime& time = courses.circumstances().time;
    for (int frame = 0; frame < time.frameCount(); ++frame) {
        if (courses.timeOf(frame) < within.from || courses.timeOf(frame) > within.to) {
            continue;
        }
        ++path.asked;
        SeenPoint point;
        bool whole = true;
        for (const auto& [role, weight] : measure.points.front().terms) {
            const auto landmark = landmarkForRole(pack, role, courses.circumstances().hand);
            whole = whole && landmark && inputs.addIn(*landmark, frame, weight, point);
        }
        if (whole) {
            path.points.push_back(std::move(point));
            path.frames.push_back(frame);
        }
    }
    return path;
}

model::Construct drawn(const Pack& pack, const model::Rep& rep, const Circumstances& c,
                       const Measure& measure, const std::vector<int>& frames) {
    model::Construct construct;
    construct.frame = *model::frameOf(rep, measure.at);
    std::vector<model::Point2> way;
    for (const int frame : frames) {
        model::Point2 px;
        for (const auto& [role, weight] : measure.points.front().terms) {
            const auto landmark = landmarkForRole(pack, role, c.hand);
            px = px + model::find(rep.landmarks, frame, *landmark)->px * weight;
        }
        way.push_back(px);
    }
    for (std::size_t i = 1; i < way.size(); ++i) {
        construct.shapes.emplace_back(model::Segment{way[i - 1], way[i]});
    }
    construct.labelAt = way.back();
    return construct;
}

} // namespace

std::optional<double> planeTilt(std::span<const Vector3d> path) {
    constexpr std::size_t fewest = 5;
    if (path.size() < fewest) {
        return std::nullopt;
    }
    Vector3d middle = Vector3d::Zero();
    for (const Vector3d& place : path) {
        middle += place / static_cast<double>(path.size());
    }
    Eigen::Matrix3d scatter = Eigen::Matrix3d::Zero();
    for (const Vector3d& place : path) {
        scatter += (place - middle) * (place - middle).transpose();
    }
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(scatter);
    constexpr double flat = 3.0;
    if (axes.eigenvalues()[1] < flat * flat * std::max(0.0, axes.eigenvalues()[0]) ||
        axes.eigenvalues()[1] <= 0.0) {
        return std::nullopt;
    }
    const double upright = std::abs(axes.eigenvectors().col(0).z());
    return model::degreesFromRadians(std::acos(std::min(1.0, upright))).value;
}

void readSpacePath(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                   const motion::CameraPair* cameras, const Measure& measure,
                   model::Reading& reading) {
    reading.missing = timeHindrance(pack, rep, circumstances, {measure.from, measure.at});
    if (reading.missing) {
        return;
    }
    if (cameras == nullptr) {
        std::vector<model::Message> why{model::message("second.needed")};
        if (const auto hindrance = secondViewHindrance(pack, rep, circumstances);
            !hindrance.empty()) {
            why.push_back(hindrance);
        }
        reading.missing =
            MissingReason{MissingReason::Kind::oneFilm, model::listOf("list.sentences", why)};
        return;
    }
    const BothFilms films(rep, circumstances);
    SpaceInputs inputs(films, *cameras);
    const Courses courses(pack, rep, circumstances);
    const SeenPath path = seenPath(pack, courses, measure, inputs);
    const auto value = [&](const Eigen::VectorXd& x) {
        std::vector<Vector3d> places;
        for (const SeenPoint& point : path.points) {
            if (const auto place = inputs.place(point, x)) {
                places.push_back(*place);
            }
        }
        return measure.kind->as<SpacePathKind>()->value(places).value_or(
            std::numeric_limits<double>::quiet_NaN());
    };
    const Eigen::VectorXd x = inputs.values();
    const double read = value(x);
    constexpr double mayLack = 0.25; // of the frames
    if (static_cast<double>(path.frames.size()) < (1.0 - mayLack) * path.asked ||
        !std::isfinite(read)) {
        reading.missing = MissingReason{
            MissingReason::Kind::tooFewFrames,
            model::message(std::isfinite(read) ? "second.too_few_frames" : "second.no_plane",
                           path.frames.size(), path.asked)};
        return;
    }
    reading.value = read;
    reading.from = model::ReadFrom::twoFilms;
    reading.uncertainty.placement = motion::standardUncertainty(value, x, inputs.placingSds());
    reading.uncertainty.ground =
        motion::standardUncertainty(value, x, inputs.cameraSds(), motion::nearby);
    reading.uncertainty.frames =
        std::hypot(motion::standardUncertainty(value, x, inputs.stepSds()),
                   measure.typicalRate * instantSd(circumstances.time, rep, measure.at));
    model::Construct construct = drawn(pack, rep, circumstances, measure, path.frames);
    construct.label = model::valueOf(read, measure.unit);
    reading.constructs.push_back(std::move(construct));
}

} // namespace kestrel::technique
