#include "track/person/fuse.h"

#include "motion/kalman_smoother.h"
#include "track/person/bones.h"

#include <Eigen/Core>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

/// Position now, position a frame before (pixels), the fading and the constant part of the
/// network's lasting error (each in its standard deviations); a column each for x and y, which
/// share their uncertainty.
using Estimate = motion::StateEstimate<4, 2>;
using Covariance = Estimate::Covariance;

constexpr double freedom = 4.0; ///< of the Student weights
constexpr int rounds = 4;       ///< of weighing and smoothing
constexpr double unknown = 1e4; ///< standard deviation before anything is seen, pixels
constexpr double surest = 0.4;  ///< no machine point is surer, pixels
/// Points less sure than this share of the player's height are of no use and are left out.
constexpr double leastUseful = 0.15;
constexpr int occludedFrames = 2; ///< to each side; what covers a joint does so for a while

/// How suddenly a landmark changes its speed, heights per second squared, standard deviation.
double acceleration(Landmark landmark) {
    switch (landmark) {
    case Landmark::leftElbow:
    case Landmark::rightElbow:
    case Landmark::leftKnee:
    case Landmark::rightKnee:
        return 60.0;
    case Landmark::leftAnkle:
    case Landmark::rightAnkle:
    case Landmark::leftHeel:
    case Landmark::rightHeel:
    case Landmark::leftToe:
    case Landmark::rightToe:
        return 80.0; // the ground stops them
    case Landmark::leftWrist:
    case Landmark::rightWrist:
    case Landmark::leftHand:
    case Landmark::rightHand:
    case Landmark::glove:
        return 150.0;
    case Landmark::ball:
    case Landmark::implementButt:
    case Landmark::implementHead:
    case Landmark::implementTip:
    case Landmark::implementFaceEdge:
    case Landmark::implementFarEdge:
        return 400.0;
    default:
        return 25.0; // head, shoulders, hips
    }
}

/// How a lasting error lasts. Measured on the synthetic player (docs/accuracy.md).
struct Lasting {
    double constant = 0.0; ///< share of its variance that stays throughout a film: how the network
                           ///< takes this player's body, clothes and shoes
    double fadesS = 0.0;   ///< the rest forgets itself by a factor e in this time
};

Lasting lastingOf(Landmark landmark) {
    constexpr double bodyS = 0.5;
    constexpr double thingS = 0.2;
    switch (landmark) {
    case Landmark::head:
        return {0.6, bodyS};
    case Landmark::headTop:
        return {0.4, bodyS};
    case Landmark::leftKnee:
    case Landmark::rightKnee:
    case Landmark::leftAnkle:
    case Landmark::rightAnkle:
    case Landmark::leftToe:
    case Landmark::rightToe:
        return {0.45, bodyS};
    case Landmark::leftHip:
    case Landmark::rightHip:
        return {0.1, bodyS}; // it turns with the body
    case Landmark::glove:
    case Landmark::ball:
    case Landmark::implementButt:
    case Landmark::implementHead:
    case Landmark::implementTip:
    case Landmark::implementFaceEdge:
    case Landmark::implementFarEdge:
        return {0.0, thingS};
    default:
        return {0.3, bodyS};
    }
}

/// One linear statement about the state: row · state = value, give or take sd.
struct Statement {
    Estimate::Row row;
    Estimate::Value value;
    double sd = 1.0;
    bool robust = true; ///< the coach's word is not doubted
    double weight = 1.0;
};

struct Instant {
    std::vector<Statement> statements;
    Covariance carry = Covariance::Identity(); ///< from the instant before
    Covariance disturbance = Covariance::Zero();
    bool seen = false;
};

std::vector<Estimate> smoothed(const std::vector<Instant>& instants) {
    std::vector<Estimate> filtered;
    std::vector<Estimate> predicted;
    std::vector<Covariance> carries;
    Estimate now;
    now.covariance.diagonal() << unknown * unknown, unknown * unknown, 1.0, 1.0;
    for (const Instant& instant : instants) {
        now.moveOn(instant.carry, instant.disturbance); // the first stays where it is
        predicted.push_back(now);
        carries.push_back(instant.carry);
        for (const Statement& statement : instant.statements) {
            now.update(statement.row, statement.value,
                       statement.sd * statement.sd / std::max(statement.weight, 1e-6));
        }
        filtered.push_back(now);
    }
    return motion::smoothedBack(std::move(filtered), predicted, carries);
}

const Step* stepOf(const FrameEvidence& frame, Landmark landmark) {
    for (const auto* steps : {&frame.placedSteps, &frame.steps}) {
        if (const auto step = steps->find(landmark); step != steps->end()) {
            return &step->second;
        }
    }
    return nullptr;
}

/// Whether something is before a landmark: in more than half of this frame and those about it.
bool isOccluded(const Evidence& evidence, int frame, Landmark landmark) {
    int occluded = 0;
    int count = 0;
    for (int f = frame - occludedFrames; f <= frame + occludedFrames; ++f) {
        if (const auto here = evidence.frames.find(f); here != evidence.frames.end()) {
            const auto proposal = here->second.proposals.find(landmark);
            if (proposal != here->second.proposals.end()) {
                occluded += proposal->second.occluded ? 1 : 0;
                ++count;
            }
        }
    }
    return 2 * occluded > count;
}

/// Standard deviation of the network's constant error, by what its lasting error is where it sees
/// the landmark well.
double constantErrorPx(Landmark landmark, const Evidence& evidence) {
    std::vector<double> lasting;
    for (const auto& [number, frame] : evidence.frames) {
        const auto proposal = frame.proposals.find(landmark);
        if (proposal != frame.proposals.end()) {
            lasting.push_back(proposal->second.lastingPx);
        }
    }
    if (lasting.empty()) {
        return 0.0;
    }
    const auto quartile = lasting.begin() + static_cast<std::ptrdiff_t>(lasting.size() / 4);
    std::nth_element(lasting.begin(), quartile, lasting.end());
    return std::sqrt(lastingOf(landmark).constant) * *quartile;
}

/// The statements about one landmark at all frames from `first` on.
std::vector<Instant> instantsOf(Landmark landmark, const Evidence& evidence, int first, int last,
                                const model::LandmarkTrack& placed, const model::ClipTime& time) {
    std::vector<Instant> instants(static_cast<std::size_t>(last - first + 1));
    const double constantPx = constantErrorPx(landmark, evidence);
    const double sudden = acceleration(landmark) * evidence.bodyPx;
    for (int frame = first; frame <= last; ++frame) {
        Instant& instant = instants[static_cast<std::size_t>(frame - first)];
        if (frame > first) {
            const double dt = elapsed(time, frame - 1, frame).value;
            const double before =
                frame - 1 > first ? elapsed(time, frame - 2, frame - 1).value : dt;
            const double pace = before > 0.0 ? dt / before : 1.0;
            const double forgetting = std::exp(-dt / lastingOf(landmark).fadesS);
            instant.carry << 1.0 + pace, -pace, 0.0, 0.0, //
                1.0, 0.0, 0.0, 0.0,                       //
                0.0, 0.0, forgetting, 0.0,                //
                0.0, 0.0, 0.0, 1.0;
            const double kick = sudden * dt * 0.5 * (dt + before);
            instant.disturbance.diagonal() << kick * kick, 0.0, 1.0 - forgetting * forgetting, 0.0;
            const auto earlier = evidence.frames.find(frame - 1);
            if (earlier != evidence.frames.end()) {
                if (const Step* step = stepOf(earlier->second, landmark)) {
                    instant.statements.push_back(
                        {{1.0, -1.0, 0.0, 0.0}, {step->shift.x, step->shift.y}, step->sdPx});
                }
            }
        }
        if (const auto here = evidence.frames.find(frame); here != evidence.frames.end()) {
            const auto proposal = here->second.proposals.find(landmark);
            if (proposal != here->second.proposals.end()) {
                const double fadingPx = std::sqrt(std::max(
                    0.0, std::pow(proposal->second.lastingPx, 2) - constantPx * constantPx));
                instant.statements.push_back({{1.0, 0.0, fadingPx, constantPx},
                                              {proposal->second.px.x, proposal->second.px.y},
                                              proposal->second.scatterPx});
                instant.seen = true;
            }
        }
        const model::LandmarkPoint* point = model::find(placed, frame, landmark);
        if (point != nullptr && !point->hidden && point->source == model::Source::placed) {
            instant.statements.push_back({{1.0, 0.0, 0.0, 0.0},
                                          {point->px.x, point->px.y},
                                          std::max(point->sdPx, surest),
                                          false});
            instant.seen = true;
        }
    }
    return instants;
}

/// Gives every doubtful statement the weight of its misfit in a Student distribution (two axes).
void weigh(std::vector<Instant>& instants, const std::vector<Estimate>& estimates) {
    for (std::size_t i = 0; i < instants.size(); ++i) {
        for (Statement& statement : instants[i].statements) {
            if (statement.robust) {
                const Estimate::Value miss =
                    (statement.value - statement.row * estimates[i].mean) / statement.sd;
                statement.weight = (freedom + 2.0) / (freedom + miss.squaredNorm());
            }
        }
    }
}

std::set<Landmark> landmarksIn(const Evidence& evidence, const model::LandmarkTrack& placed) {
    std::set<Landmark> landmarks;
    for (const auto& [number, frame] : evidence.frames) {
        for (const auto& [landmark, proposal] : frame.proposals) {
            landmarks.insert(landmark);
        }
        for (const auto& [landmark, step] : frame.steps) {
            landmarks.insert(landmark);
        }
    }
    for (const auto& [number, points] : placed) {
        for (const auto& [landmark, point] : points) {
            landmarks.insert(landmark);
        }
    }
    return landmarks;
}

} // namespace

model::LandmarkTrack fuse(const Evidence& evidence, const model::LandmarkTrack& placed,
                          const model::ClipTime& time) {
    model::LandmarkTrack track;
    if (!evidence.frames.empty()) {
        const int first = evidence.frames.begin()->first;
        const int last = evidence.frames.rbegin()->first;
        for (const Landmark landmark : landmarksIn(evidence, placed)) {
            auto instants = instantsOf(landmark, evidence, first, last, placed, time);
            if (std::none_of(instants.begin(), instants.end(),
                             [](const Instant& i) { return i.seen; })) {
                continue;
            }
            std::vector<Estimate> estimates = smoothed(instants);
            for (int round = 0; round < rounds; ++round) {
                weigh(instants, estimates);
                estimates = smoothed(instants);
            }
            for (std::size_t i = 0; i < instants.size(); ++i) {
                const double sd = std::sqrt(std::max(0.0, estimates[i].covariance(0, 0)));
                if (sd > leastUseful * evidence.bodyPx) {
                    continue;
                }
                const auto source =
                    instants[i].seen ? model::Source::tracked : model::Source::interpolated;
                track[first + static_cast<int>(i)][landmark] = {
                    {estimates[i].mean(0, 0), estimates[i].mean(0, 1)},
                    std::max(sd, surest),
                    source,
                    false,
                    isOccluded(evidence, first + static_cast<int>(i), landmark)};
            }
        }
    }
    for (const auto& [frame, points] : placed) {
        for (const auto& [landmark, point] : points) {
            if (point.source == model::Source::placed) {
                track[frame][landmark] = point;
            }
        }
    }
    shortenBones(track, boneLengths(track, evidence.bodyPx));
    return track;
}

} // namespace kestrel::track
