#include "body/body_problem.h"

#include "body/depth_start.h"
#include "body/ground_contact.h"
#include "body/process_noise.h"
#include "body/residuals.h"
#include "body/usual_pose.h"

#include <ceres/ceres.h>

#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

namespace kestrel::body {
namespace {

using model::Landmark;

// Working figures, where no source is named.
constexpr double trunkWander = 0.012; ///< spine bent and stretched, shoulders lifted
constexpr double neckWander = 0.012;
constexpr double hipsTiltSd = 0.25;
constexpr double shouldersTiltSd = 0.35;
constexpr double twistSd = 0.6;
constexpr double kneeBehindSd = 0.015;
constexpr double kneeBesideSd = 0.03;
constexpr double footTurnUsual = 0.2;
constexpr double footTurnSd = 0.8;
/// A posture lasts: how unusual it is counts once in so many seconds.
constexpr double postureLasts = 2.0;
constexpr double standingHeightSd = 0.015;
constexpr double slideBhS = 0.2;   ///< what a standing foot may move, standing heights a second
constexpr double groundSd = 0.015; ///< ends of feet above the ground they stand on
constexpr double errorLasts = 0.5; ///< seconds that errors of tracked landmarks stay alike
constexpr double errorStep = 0.2;  ///< seconds between the nodes at which they are told
constexpr double wildPointSds = 3.0;
/// How a player differs from how the technique is usually done stays alike for so long, seconds; so
/// many standard deviations are no longer a manner of doing it. Beside landmarks without lasting
/// errors it counts for less: players differ with several landmarks at once, which would then be
/// taken for how the camera looks. Where only the key positions are known it is nearly all that
/// tells depth, and what is done otherwise at one of them says little of the next.
constexpr double mannerLasts = 0.4;
constexpr double mannerLastsBesideExact = 2.0;
constexpr double mannerLastsAtPositions = 0.2;
constexpr double wildPlaceSds = 2.5;
/// Some lean otherwise all the time, radians; were that not told apart, it would be taken for how
/// the camera looks down.
constexpr double trunkLeanSd = 0.15;
constexpr double legsLeanSd = 0.1;
constexpr double nearestBh = 1.6; ///< 3 m from a tall player, who then hardly fits the picture
constexpr double nearestLogSd = 0.05;
constexpr double usualPitchSd = 0.13;
/// A player is rarely seen quite upright and square: taller than it looks, logarithms.
constexpr double tallerThanSeen = 0.03;
constexpr double heightLogSd = 0.08;  // many crouch all the time
constexpr double distortionSd = 0.03; ///< of phones' lenses
constexpr double centreShare = 0.03;  ///< of the picture's width that its middle may be off by

/// Errors that stay alike for a while are spread over the instants of that while.
double thinned(double sd, double lasts, double step) {
    return sd * std::sqrt(std::max(1.0, lasts / std::max(step, 1e-6)));
}

} // namespace

BodyProblem::BodyProblem(const SeenRep& rep, State start, model::Seconds depthZero)
    : rep_(rep), state_(std::move(start)) {
    // One more than there are nodes, for those that stay. A state of other instants keeps them.
    state_.landmarkErrors.resize(2 * pointCount * (errorNodes() + 1), 0.0);
    for (std::size_t i = 0; i < count(); ++i) {
        for (std::size_t p = 0; p < pointCount; ++p) {
            problem_.AddParameterBlock(point(i, p), 3);
        }
    }
    termsOfPoint_.resize(count() * pointCount);
    addPicture();
    addUsualPlaces();
    addBones();
    addShape();
    if (rep_.showsMotion()) {
        addMotion(); // what happens between single instants is not seen
    }
    addGround();
    addUsual(depthZero);
}

double BodyProblem::step(std::size_t i) const {
    const std::size_t a = i == 0 ? 0 : i - 1;
    const std::size_t b = std::min(i + 1, count() - 1);
    return (rep_.instants[b].time - rep_.instants[a].time).value / static_cast<double>(b - a);
}

template <int Residuals, int... Sizes, class Cost, class... Blocks>
void BodyProblem::add(ceres::LossFunction* loss, const Cost& cost, Blocks... blocks) {
    auto* function = new ceres::AutoDiffCostFunction<Cost, Residuals, Sizes...>(new Cost(cost));
    problem_.AddResidualBlock(function, loss, blocks...);
    terms_.push_back({function, loss, {blocks...}});
    for (const double* block : terms_.back().blocks) {
        const auto place = block - state_.points.data();
        if (place >= 0 && place < static_cast<std::ptrdiff_t>(state_.points.size())) {
            termsOfPoint_[static_cast<std::size_t>(place) / 3].push_back(terms_.size() - 1);
        }
    }
}

void BodyProblem::addPicture() {
    bool errs = false;
    for (std::size_t i = 0; i < count(); ++i) {
        for (const auto& [landmark, seen] : rep_.instants[i].points) {
            if (indexOf(landmark) >= pointCount) {
                continue;
            }
            const std::size_t p = indexOf(landmark);
            ceres::LossFunction* loss =
                seen.trusted ? nullptr : new ceres::CauchyLoss(wildPointSds);
            if (seen.fadingPx <= 0.0 && seen.stayingPx <= 0.0) {
                add<2, 3, cameraSize>(loss,
                                      PicturePoint{state_.unitPx, seen.px.x, seen.px.y, seen.sdPx},
                                      point(i, p), state_.camera.data());
                continue;
            }
            const double at =
                (rep_.instants[i].time - rep_.instants.front().time).value / errorStep;
            const auto node = static_cast<std::size_t>(at);
            add<2, 3, cameraSize, 2, 2, 2>(
                loss,
                PicturePointOff{state_.unitPx, seen.px.x, seen.px.y, seen.sdPx, seen.fadingPx,
                                seen.stayingPx, at - static_cast<double>(node)},
                point(i, p), state_.camera.data(), state_.landmarkError(node, p),
                state_.landmarkError(node + 1, p), state_.landmarkError(errorNodes(), p));
            errs = true;
        }
        addNearer(i);
    }
    if (!errs) {
        state_.landmarkErrors.clear();
        return;
    }
    for (std::size_t p = 0; p < pointCount; ++p) {
        for (std::size_t node = 0; node < errorNodes(); ++node) {
            if (node == 0) {
                add<2, 2>(nullptr, ErrorAsUsual{}, state_.landmarkError(0, p));
            } else {
                add<2, 2, 2>(nullptr, ErrorGoesOn{std::exp(-errorStep / errorLasts)},
                             state_.landmarkError(node - 1, p), state_.landmarkError(node, p));
            }
        }
        add<2, 2>(nullptr, ErrorAsUsual{}, state_.landmarkError(errorNodes(), p));
    }
}

std::size_t BodyProblem::errorNodes() const {
    const double filmed = (rep_.instants.back().time - rep_.instants.front().time).value;
    return static_cast<std::size_t>(filmed / errorStep) + 2;
}

/// What a machine says of depth.
void BodyProblem::addNearer(std::size_t i) {
    const auto& points = rep_.instants[i].points;
    // Errors that fade by e in a time are worth one independent error in twice that time.
    const double few = thinned(1.0, 2.0 * rep_.nearerErrorLasts.value, step(i));
    for (const auto& [landmark, seen] : points) {
        const std::size_t p = indexOf(landmark);
        if (p < pointCount && p != hipPair.left && p != hipPair.right && seen.nearer) {
            add<1, 3, 3, 3>(nullptr, Nearer{seen.nearer->bh, few * seen.nearer->sdBh}, point(i, p),
                            point(i, hipPair.left), point(i, hipPair.right));
        }
    }
    const auto left = points.find(Landmark::leftHip);
    const auto right = points.find(Landmark::rightHip);
    if (left != points.end() && right != points.end() && left->second.nearer &&
        right->second.nearer) {
        const double sd = std::hypot(left->second.nearer->sdBh, right->second.nearer->sdBh);
        add<1, 3, 3>(nullptr,
                     NearerThan{left->second.nearer->bh - right->second.nearer->bh, few * sd},
                     point(i, hipPair.left), point(i, hipPair.right));
    }
}

/// How the technique is usually done.
void BodyProblem::addUsualPlaces() {
    constexpr double anyDirection = 10.0; // radians
    add<1, 1>(nullptr, Usual{state_.azimuth, anyDirection}, &state_.azimuth);
    const double lasts = !rep_.showsMotion()             ? mannerLastsAtPositions
                         : state_.landmarkErrors.empty() ? mannerLastsBesideExact
                                                         : mannerLasts;
    add<leanSize, leanSize>(nullptr, UsualLean{trunkLeanSd, legsLeanSd}, state_.lean.data());
    for (std::size_t i = 0; i < count(); ++i) {
        const auto& usual = rep_.instants[i].usual;
        const double few = thinned(1.0, 2.0 * lasts, step(i));
        if (usual.empty()) {
            continue;
        }
        for (std::size_t p = 0; p < pointCount; ++p) {
            if (p == hipPair.left || p == hipPair.right) {
                continue;
            }
            const UsualSpread spread = usualSpread(landmarkAt(p));
            add<3, 3, 3, 3, gravitySize, 1, 1, leanSize>(
                new ceres::CauchyLoss(wildPlaceSds / few),
                UsualPlace{usual[p], few * spread.level, few * spread.up}, point(i, p),
                point(i, hipPair.left), point(i, hipPair.right), state_.gravity.data(),
                &state_.logHeight, &state_.azimuth, state_.lean.data());
        }
        // Each hip is as far off as the other.
        const UsualSpread hip = usualSpread(Landmark::leftHip);
        add<3, 3, 3, gravitySize, 1, 1>(new ceres::CauchyLoss(wildPlaceSds / few),
                                        UsualHips{{usual[hipPair.left] - usual[hipPair.right],
                                                   2.0 * few * hip.level, 2.0 * few * hip.up}},
                                        point(i, hipPair.left), point(i, hipPair.right),
                                        state_.gravity.data(), &state_.logHeight, &state_.azimuth);
    }
}

void BodyProblem::addBones() {
    for (std::size_t i = 0; i < count(); ++i) {
        for (const Bone& bone : bones()) {
            add<1, 3, 3, 1, 1>(nullptr, BoneLength{bone.wander}, point(i, indexOf(bone.from)),
                               point(i, indexOf(bone.to)), length(bone.part), &state_.logHeight);
        }
        add<1, 3, 3, 3, 3, 1, 1>(nullptr, TrunkLength{trunkWander}, point(i, hipPair.left),
                                 point(i, hipPair.right), point(i, shoulderPair.left),
                                 point(i, shoulderPair.right), length(Part::trunk),
                                 &state_.logHeight);
        add<1, 3, 3, 3, 1, 1>(nullptr, NeckLength{neckWander}, point(i, shoulderPair.left),
                              point(i, shoulderPair.right), point(i, indexOf(Landmark::head)),
                              length(Part::neck), &state_.logHeight);
    }
}

void BodyProblem::addShape() {
    for (std::size_t i = 0; i < count(); ++i) {
        const double few = thinned(1.0, postureLasts, step(i));
        double* hips[] = {point(i, hipPair.left), point(i, hipPair.right)};
        double* shoulders[] = {point(i, shoulderPair.left), point(i, shoulderPair.right)};
        add<3, 3, 3, 3, 3>(nullptr,
                           TrunkShape{few * hipsTiltSd, few * shouldersTiltSd, few * twistSd},
                           hips[0], hips[1], shoulders[0], shoulders[1]);
        for (const bool left : {true, false}) {
            const auto of = [&](Pair pair) { return point(i, left ? pair.left : pair.right); };
            add<2, 3, 3, 3, 3, 3>(nullptr, KneeHinge{kneeBehindSd, few * kneeBesideSd}, of(hipPair),
                                  of(kneePair), of(anklePair), of(heelPair), of(toePair));
            add<1, 3, 3, 3, 3, 3, 3>(
                nullptr, FootTurn{left ? 1.0 : -1.0, footTurnUsual, few * footTurnSd}, hips[0],
                hips[1], shoulders[0], shoulders[1], of(heelPair), of(toePair));
        }
    }
}

void BodyProblem::addMotion() {
    const auto sds = accelerations(rep_, state_.unitPx);
    for (std::size_t i = 1; i + 1 < count(); ++i) {
        const double before = (rep_.instants[i].time - rep_.instants[i - 1].time).value;
        const double after = (rep_.instants[i + 1].time - rep_.instants[i].time).value;
        for (std::size_t p = 0; p < pointCount; ++p) {
            const double lasts = std::sqrt(accelerationLasts * (before + after));
            add<3, 3, 3, 3, cameraSize>(
                nullptr,
                Smoothness{before, after, sds[i][p].across * lasts, sds[i][p].along * lasts},
                point(i - 1, p), point(i, p), point(i + 1, p), state_.camera.data());
        }
    }
}

void BodyProblem::addGround() {
    for (const Contact& contact : contacts(rep_, state_.unitPx)) {
        const std::size_t p = indexOf(contact.end);
        // How far an end is off the ground stays as it is while it stands.
        const double stands =
            (rep_.instants[contact.last].time - rep_.instants[contact.first].time).value;
        const double few = thinned(1.0, stands, step(contact.first));
        for (std::size_t i = contact.first; i <= contact.last; ++i) {
            const bool toe = p == toePair.left || p == toePair.right; // heels are often held up
            if (toe) {
                add<1, 3, gravitySize, 1>(new ceres::CauchyLoss(1.0), OnGround{few * groundSd},
                                          point(i, p), state_.gravity.data(), &state_.ground);
            }
            if (i > contact.first && !rep_.feetGlide) {
                add<3, 3, 3>(
                    new ceres::CauchyLoss(1.0),
                    Standing{slideBhS * (rep_.instants[i].time - rep_.instants[i - 1].time).value},
                    point(i - 1, p), point(i, p));
            }
        }
    }
}

void BodyProblem::addUsual(model::Seconds depthZero) {
    for (std::size_t k = 0; k < usualSizes_.size(); ++k) {
        const bool part = k < partCount;
        usualSizes_[k] = part ? std::log(rep_.lengths[k].mean) : tallerThanSeen;
        sizeSds_[k] = part ? rep_.lengths[k].relativeSd : heightLogSd;
        add<1, 1>(nullptr, Near{&sizeMeans_[k], sizeSds_[k]}, size(k));
    }
    setSlopes({});
    add<1, 1, 1, 1, 1, 1>(nullptr, StandingHeight{ankleHeight, standingHeightSd},
                          length(Part::shank), length(Part::thigh), length(Part::trunk),
                          length(Part::neck), length(Part::head));
    const KnownCamera& known = rep_.camera;
    const double centreSd = centreShare * rep_.width;
    add<cameraSize, cameraSize, 1>(
        nullptr,
        UsualCamera{std::log(known.distanceBh.value_or(usualDistanceBh)),
                    known.distanceBh ? known.distanceRelativeSd : usualDistanceLogSd,
                    {(rep_.width - 1) / 2.0, (rep_.height - 1) / 2.0, 0.0},
                    {centreSd, centreSd, distortionSd}},
        state_.camera.data(), &state_.logHeight);
    add<1, cameraSize, 1>(nullptr, NotNearer{std::log(nearestBh), nearestLogSd},
                          state_.camera.data(), &state_.logHeight);
    add<gravitySize, gravitySize>(
        nullptr,
        UsualGravity{{model::toRadians(known.roll),
                      known.pitch ? model::toRadians(*known.pitch) : usualPitch},
                     {model::toRadians(known.rollSd),
                      known.pitch ? model::toRadians(known.pitchSd) : usualPitchSd}},
        state_.gravity.data());
    constexpr double anywhere = 10.0;
    add<1, 1>(nullptr, Usual{0.0, anywhere}, &state_.ground);
    const auto nearest = std::min_element(
        rep_.instants.begin(), rep_.instants.end(), [&](const auto& a, const auto& b) {
            return std::abs((a.time - depthZero).value) < std::abs((b.time - depthZero).value);
        });
    const auto zero = static_cast<std::size_t>(nearest - rep_.instants.begin());
    constexpr double exactly = 0.001;
    add<1, 3, 3>(nullptr, AtDepthZero{exactly}, point(zero, hipPair.left),
                 point(zero, hipPair.right));
}

} // namespace kestrel::body
