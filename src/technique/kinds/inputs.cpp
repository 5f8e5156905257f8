#include "technique/kinds/inputs.h"

#include "technique/pack/roles.h"

#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;
using model::Point2;

Eigen::VectorXd toVector(const std::vector<double>& numbers) {
    return Eigen::Map<const Eigen::VectorXd>(numbers.data(),
                                             static_cast<Eigen::Index>(numbers.size()));
}

/// Nothing when the camera stood still.
std::optional<Carrying> carryingOf(const model::CameraMotion& camera, int frame, Inputs& inputs) {
    if (frame >= static_cast<int>(camera.size())) {
        return std::nullopt;
    }
    const model::CameraPose& pose = camera[static_cast<std::size_t>(frame)];
    return Carrying{pose, inputs.carryingError(frame, pose.sdPx)};
}

} // namespace

std::size_t Inputs::carryingError(int frame, double sd) {
    const auto [entry, fresh] = errors_.try_emplace(frame, values_.size());
    if (fresh) {
        values_.insert(values_.end(), 2, 0.0);
        sds_.insert(sds_.end(), 2, sd);
    }
    return entry->second;
}

std::size_t Inputs::massError(double sd) {
    if (!massError_) {
        massError_ = values_.size();
        values_.insert(values_.end(), 2, 0.0);
        sds_.insert(sds_.end(), 2, 0.0);
        massSd_ = sd;
    }
    return *massError_;
}

std::optional<std::size_t> Inputs::index(const std::string& roleName, const std::string& position,
                                         std::optional<MissingReason>& missing) {
    const Position* where = findPosition(pack_, position);
    const auto frame = model::frameOf(rep_, position);
    if (!frame) {
        missing = {MissingReason::Kind::positionNotSet,
                   model::message("position.not_set", where->name)};
        return std::nullopt;
    }
    const auto landmark = landmarkForRole(pack_, roleName, hand_);
    const model::LandmarkPoint* point =
        landmark ? model::find(rep_.landmarks, *frame, *landmark) : nullptr;
    if (point == nullptr) {
        missing = {MissingReason::Kind::landmarkNotPlaced,
                   model::message("landmark.not_placed", nameOfRole(roleName), where->name)};
        return std::nullopt;
    }
    if (point->hidden) {
        missing = {MissingReason::Kind::landmarkHidden,
                   model::message("landmark.hidden", nameOfRole(roleName), where->name)};
        return std::nullopt;
    }
    const auto key = std::pair(*frame, *landmark);
    const auto [entry, fresh] = indices_.try_emplace(key, values_.size());
    if (fresh) {
        values_.push_back(point->px.x);
        values_.push_back(point->px.y);
        sds_.push_back(point->sdPx);
        sds_.push_back(point->sdPx);
    }
    return entry->second;
}

std::optional<model::Landmark> Inputs::landmark(const std::string& roleName) const {
    return landmarkForRole(pack_, roleName, hand_);
}

Eigen::VectorXd Inputs::values() const {
    return toVector(values_);
}

Eigen::VectorXd Inputs::sds() const {
    return toVector(sds_);
}

Eigen::VectorXd Inputs::tableSds() const {
    Eigen::VectorXd sds = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(values_.size()));
    if (massError_) {
        sds.segment(static_cast<Eigen::Index>(*massError_), 2).setConstant(massSd_);
    }
    return sds;
}

Point2 ResolvedPoint::at(const Eigen::VectorXd& x) const {
    Point2 sum;
    for (const auto& [index, weight] : terms) {
        const auto i = static_cast<Eigen::Index>(index);
        sum = sum + Point2{x[i], x[i + 1]} * weight;
    }
    if (carrying) {
        const auto e = static_cast<Eigen::Index>(carrying->error);
        sum = carriedToFirst(carrying->pose, sum) + Point2{x[e], x[e + 1]};
    }
    if (massError) {
        const auto e = static_cast<Eigen::Index>(*massError);
        sum = sum + Point2{x[e], x[e + 1]};
    }
    return sum;
}

std::optional<ResolvedPoints> resolve(const std::vector<PointExpression>& expressions,
                                      const std::string& position, const model::Rep& rep,
                                      const model::CameraMotion& camera, double massSdPx,
                                      Inputs& inputs, std::optional<MissingReason>& missing) {
    ResolvedPoints points;
    for (const PointExpression& expression : expressions) {
        const std::string& where = expression.position.empty() ? position : expression.position;
        ResolvedPoint point;
        for (const auto& [roleName, weight] : expression.terms) {
            const auto index = inputs.index(roleName, where, missing);
            if (!index) {
                return std::nullopt;
            }
            point.terms.emplace_back(*index, weight);
        }
        point.frame = *model::frameOf(rep, where);
        point.carrying = carryingOf(camera, point.frame, inputs);
        if (expression.isCentreOfMass) {
            point.massError = inputs.massError(massSdPx);
        }
        if (expression.terms.size() == 1) {
            const std::string& roleName = expression.terms.front().first;
            point.landmark = inputs.landmark(roleName);
            point.name = nameOfRole(roleName);
        }
        points.push_back(std::move(point));
    }
    return points;
}

std::optional<MissingReason> timeHindrance(const Pack& pack, const model::Rep& rep,
                                           const Circumstances& circumstances,
                                           const std::vector<std::string>& positions) {
    for (const std::string& position : positions) {
        if (!model::frameOf(rep, position)) {
            return MissingReason{
                MissingReason::Kind::positionNotSet,
                model::message("position.not_set_for_time", findPosition(pack, position)->name)};
        }
    }
    if (!circumstances.captureRateKnown) {
        return MissingReason{MissingReason::Kind::captureRateUnknown,
                             model::message("film.capture_rate_unknown")};
    }
    return std::nullopt;
}

Point2 drawnIn(const Circumstances& circumstances, int frame, Point2 point) {
    const auto at = static_cast<std::size_t>(frame);
    return at < circumstances.camera.size() ? carriedFromFirst(circumstances.camera[at], point)
                                            : point;
}

double zoomAt(const model::CameraMotion& camera, int frame) {
    if (camera.empty()) {
        return 1.0;
    }
    const model::CameraPose& pose = camera.at(static_cast<std::size_t>(frame));
    return std::hypot(pose.a, pose.b);
}

double pathLength(const ResolvedPoints& path, const Eigen::VectorXd& x) {
    double sum = 0.0;
    for (std::size_t i = 1; i < path.size(); ++i) {
        sum += model::length(path[i].at(x) - path[i - 1].at(x));
    }
    return sum;
}

std::vector<Point2> pointsAt(const ResolvedPoints& points, const Eigen::VectorXd& x) {
    std::vector<Point2> at;
    at.reserve(points.size());
    for (const ResolvedPoint& point : points) {
        at.push_back(point.at(x));
    }
    return at;
}

double instantSd(const model::ClipTime& time, const model::Rep& rep, const std::string& position) {
    const double rounding =
        model::frameInterval(time, *model::frameOf(rep, position)).value / std::sqrt(12.0);
    const model::FoundInstant* found = model::onlyFound(rep, position);
    return found == nullptr ? rounding : std::hypot(rounding, found->sd.value);
}

} // namespace kestrel::technique
