#include "technique/kinds/space_inputs.h"

#include "motion/two_views.h"

#include <algorithm>

namespace kestrel::technique {

using model::Point2;

bool SpaceInputs::addAt(model::Landmark landmark, const std::string& position, double weight,
                        SeenPoint& point) {
    const auto frame = model::frameOf(films_.first.rep, position);
    return frame && add(seenAt(films_.first, landmark, *frame),
                        films_.seenInSecond(landmark, position), weight, point);
}

bool SpaceInputs::addIn(model::Landmark landmark, int frame, double weight, SeenPoint& point) {
    return add(seenAt(films_.first, landmark, frame), films_.seenBetween(landmark, frame), weight,
               point);
}

bool SpaceInputs::add(const std::optional<SeenLandmark>& one,
                      const std::optional<SeenLandmark>& other, double weight, SeenPoint& point) {
    if (!one || !other) {
        return false;
    }
    ownFrames_ = ownFrames_ || !other->velocity;
    point.push_back({weight, values_.size(), other->velocity.value_or(Point2{})});
    for (const SeenLandmark& seen : {*one, *other}) {
        values_.insert(values_.end(), {seen.px.x, seen.px.y});
        sds_.insert(sds_.end(), {seen.sd, seen.sd});
    }
    return true;
}

Eigen::VectorXd SpaceInputs::values() const {
    Eigen::VectorXd x = Eigen::VectorXd::Zero(size());
    std::copy(values_.begin(), values_.end(), x.data());
    return x;
}

Eigen::VectorXd SpaceInputs::placingSds() const {
    Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
    std::copy(sds_.begin(), sds_.end(), sds.data());
    return sds;
}

Eigen::VectorXd SpaceInputs::cameraSds() const {
    Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
    sds.segment(size() - 1 - cameraErrors, cameraErrors).setOnes();
    return sds;
}

Eigen::VectorXd SpaceInputs::stepSds() const {
    Eigen::VectorXd sds = Eigen::VectorXd::Zero(size());
    sds[size() - 1] = films_.step ? films_.step->sd : 0.0;
    return sds;
}

std::optional<Eigen::Vector3d> SpaceInputs::place(const SeenPoint& point,
                                                  const Eigen::VectorXd& x) const {
    const auto [first, other] =
        motion::changed(cameras_, x.segment<cameraErrors>(size() - 1 - cameraErrors));
    Eigen::Vector3d sum = Eigen::Vector3d::Zero();
    const double outOfStep = x[size() - 1];
    for (const SeenTerm& term : point) {
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

} // namespace kestrel::technique
