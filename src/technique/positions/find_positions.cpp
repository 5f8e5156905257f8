#include "technique/positions/find_positions.h"

#include "motion/instants.h"
#include "motion/propagation.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"
#include "technique/positions/pose_sequence.h"
#include "technique/positions/position_chain.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <set>

namespace kestrel::technique {
namespace {

using Is = SignalInstant::Is;

/// Standard normal distribution function.
double probability(double z) {
    return 0.5 * std::erfc(-z / std::numbers::sqrt2);
}

/// A point of a signal at a frame: its place and deviation a landmark.
struct SeenPoint {
    std::vector<std::pair<const model::LandmarkPoint*, double>> terms; ///< landmark, weight
    int frame = 0;
};

class Finder {
  public:
    Finder(const Pack& pack, const model::Rep& rep, const Circumstances& c)
        : pack_(pack), rep_(rep), c_(c), bodyPx_(heightSeen(pack, rep, c)) {}

    std::map<std::string, model::FoundInstant> all() {
        lookAtTheWhole();
        for (const Position& position : pack_.positions) {
            find(position.id);
        }
        for (const auto& [id, frame] : rep_.positions) {
            found_.erase(id);
        }
        return std::move(found_);
    }

  private:
    /// An instant on the clip's field time with its doubt.
    struct When {
        double time = 0.0;
        double sd = 0.0;
        double confidence = 1.0;
    };

    /// What the network says of the positions that it has learned.
    void lookAtTheWhole() {
        const LearnedTechnique* learned = learnedTechnique(pack_);
        const PoseSequence sequence =
            learned == nullptr ? PoseSequence{} : poseSequence(pack_, rep_, c_);
        if (sequence.instants() == 0) {
            return;
        }
        std::map<std::string, double> known;
        for (const auto& [id, frame] : rep_.positions) {
            known[id] = (timeOf(frame) - sequence.begin) / PoseSequence::step;
        }
        const auto beliefs = positionBeliefs(
            positionProbabilities(*pack_.network, *learned, sequence), *learned, known);
        for (std::size_t i = 0; i < beliefs.size(); ++i) {
            const Position* position = findPosition(pack_, learned->positions[i]);
            if (position != nullptr && position->learned &&
                !rep_.positions.contains(position->id)) {
                take(*position, beliefs[i], sequence);
            }
        }
    }

    void take(const Position& position, const PositionBelief& belief,
              const PoseSequence& sequence) {
        constexpr double hardly = 0.3; // working figure: what is doubtful is asked for
        std::optional<When>& when = whens_[position.id];
        if (belief.inside < hardly) {
            return;
        }
        const double time = sequence.timeAt(belief.instant);
        const double interval = model::frameInterval(c_.time, nearestFrame(time)).value;
        constexpr double perSecond = 1000.0;
        const double asGood =
            std::max({position.lastsMs / perSecond, interval, PoseSequence::step});
        when = When{time, belief.sd * PoseSequence::step,
                    belief.inside * belief.within(asGood / PoseSequence::step)};
        found_[position.id] = {nearestFrame(when->time), model::Seconds(when->sd),
                               when->confidence};
    }

    [[nodiscard]] double timeOf(int frame) const {
        return c_.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
    }

    /// The position as set by the coach or found so far, found now if need be.
    std::optional<When> find(const std::string& id) {
        if (const auto set = rep_.positions.find(id); set != rep_.positions.end()) {
            return When{timeOf(set->second)};
        }
        if (const auto known = whens_.find(id); known != whens_.end()) {
            return known->second;
        }
        const Position& position = *findPosition(pack_, id);
        const Detector* detector = detectorFor(position, viewToFindBy(c_));
        std::optional<When> when;
        if (detector != nullptr) {
            when = std::visit([&](const auto& finds) { return instantOf(finds); }, detector->finds);
        }
        if (when) {
            when->time += detector->after.value;
            when->sd = std::hypot(when->sd, detector->sd.value);
            found_[id] = {nearestFrame(when->time), model::Seconds(when->sd), when->confidence};
        }
        whens_[id] = when;
        return when;
    }

    std::optional<When> instantOf(const ShareOfWay& way) {
        const auto from = find(way.from);
        const auto to = find(way.to);
        if (!from || !to || to->time < from->time) {
            return std::nullopt;
        }
        return When{from->time + way.share * (to->time - from->time),
                    std::hypot((1.0 - way.share) * from->sd, way.share * to->sd),
                    std::min(from->confidence, to->confidence)};
    }

    std::optional<When> instantOf(const SignalInstant& wanted) {
        motion::TimeSpan within{timeOf(firstFrame()), timeOf(lastFrame())};
        double confidence = 1.0;
        const auto limit = [&](const std::optional<SearchEdge>& edge, double& end) {
            if (!edge) {
                return true;
            }
            const auto at = find(edge->position);
            if (at) {
                end = at->time + edge->after.value;
                confidence = std::min(confidence, at->confidence);
            }
            return at.has_value();
        };
        if (!limit(wanted.from, within.from) || !limit(wanted.to, within.to) ||
            within.to <= within.from) {
            return std::nullopt;
        }
        const bool turned = wanted.is == Is::lowest || wanted.is == Is::falls;
        std::vector<motion::Sample> samples = samplesOf(wanted.signal);
        double halfWidth = wanted.signal.halfWidth.value;
        if (!samples.empty()) {
            // At low rates a parabola needs more time to have points enough.
            const int middle = frameNear(samples, (within.from + within.to) / 2);
            halfWidth =
                std::max(halfWidth, leastIntervals * model::frameInterval(c_.time, middle).value);
        }
        double level = wanted.level;
        if (wanted.levelIsShare) {
            const auto range = motion::extent(samples, within, halfWidth);
            if (!range) {
                return std::nullopt;
            }
            level = range->low + level * (range->high - range->low);
        }
        if (turned) {
            samples = motion::upsideDown(samples);
            level = -level;
        }
        const auto when = wanted.is == Is::highest || wanted.is == Is::lowest
                              ? peak(samples, within, halfWidth)
                              : pass(samples, within, halfWidth, level, wanted.last);
        if (!when) {
            return std::nullopt;
        }
        return When{when->time, when->sd, confidence * when->confidence};
    }

    static std::optional<When> peak(std::span<const motion::Sample> samples,
                                    motion::TimeSpan within, double halfWidth) {
        const auto tops = motion::peaks(samples, within, halfWidth);
        if (tops.empty()) {
            return std::nullopt;
        }
        double confidence = 1.0;
        const auto rival =
            std::find_if(tops.begin() + 1, tops.end(), [&](const motion::Instant& other) {
                return std::abs(other.time - tops.front().time) > halfWidth;
            });
        if (rival != tops.end()) {
            confidence = probability((tops.front().value - rival->value) /
                                     std::hypot(tops.front().statedSd, rival->statedSd));
        }
        return When{tops.front().time, tops.front().sd, confidence};
    }

    static std::optional<When> pass(std::span<const motion::Sample> samples,
                                    motion::TimeSpan within, double halfWidth, double level,
                                    bool last) {
        const auto passes = motion::rises(samples, within, halfWidth, level);
        if (passes.empty()) {
            return std::nullopt;
        }
        const std::size_t at = last ? passes.size() - 1 : 0;
        // How far the signal keeps to each side of the level up to its neighbours.
        const double start = at == 0 ? within.from : passes[at - 1].time;
        const double end = at + 1 == passes.size() ? within.to : passes[at + 1].time;
        const auto before = motion::extent(samples, {start, passes[at].time}, halfWidth);
        const auto after = motion::extent(samples, {passes[at].time, end}, halfWidth);
        const motion::Instant& found = passes[at];
        const auto margin = [&](double distance, double sd) {
            return sd > 0.0 ? std::max(0.0, distance) / sd : std::numeric_limits<double>::max();
        };
        // Before it, neighbours share their errors and only scatter could have passed the level;
        // after it, that the signal got beyond the level at all is said with the stated error.
        const double least = std::min(margin(before ? level - before->low : 0.0, found.scatterSd),
                                      margin(after ? after->high - level : 0.0, found.statedSd));
        return When{found.time, found.sd, probability(least)};
    }

    [[nodiscard]] int firstFrame() const {
        return rep_.span ? rep_.span->first : rep_.landmarks.begin()->first;
    }
    [[nodiscard]] int lastFrame() const {
        return rep_.span ? std::min(rep_.span->last, c_.time.frameCount() - 1)
                         : rep_.landmarks.rbegin()->first;
    }

    [[nodiscard]] int nearestFrame(double time) const {
        const int frame = model::frameAtFieldTime(c_.time, model::Seconds(time));
        const bool next =
            frame + 1 < c_.time.frameCount() && timeOf(frame + 1) - time < time - timeOf(frame);
        return next ? frame + 1 : frame;
    }

    [[nodiscard]] int frameNear(const std::vector<motion::Sample>& samples, double time) const {
        return nearestFrame(std::clamp(time, samples.front().time, samples.back().time));
    }

    /// The points of a signal at a frame, nothing when one is not known there.
    std::optional<std::vector<SeenPoint>> pointsAt(const std::vector<PointExpression>& points,
                                                   int frame) {
        std::vector<SeenPoint> seen;
        for (const PointExpression& expression : points) {
            SeenPoint point{{}, frame};
            if (!expression.position.empty()) {
                const auto when = find(expression.position);
                if (!when) {
                    return std::nullopt;
                }
                point.frame = nearestFrame(when->time);
            }
            for (const auto& [role, weight] : expression.terms) {
                const auto landmark = landmarkForRole(pack_, role, c_.hand);
                const model::LandmarkPoint* at =
                    landmark ? model::find(rep_.landmarks, point.frame, *landmark) : nullptr;
                if (at == nullptr || at->hidden) {
                    return std::nullopt;
                }
                point.terms.emplace_back(at, weight);
            }
            seen.push_back(std::move(point));
        }
        return seen;
    }

    /// Where a point is, in the first frame's picture when the camera moved.
    [[nodiscard]] model::Point2 place(const SeenPoint& point) const {
        model::Point2 sum;
        for (const auto& [at, weight] : point.terms) {
            sum = sum + at->px * weight;
        }
        const auto frame = static_cast<std::size_t>(point.frame);
        return frame < c_.camera.size() ? carriedToFirst(c_.camera[frame], sum) : sum;
    }

    /// Standard deviation of that place per axis.
    [[nodiscard]] static double placeSd(const SeenPoint& point) {
        double variance = 0.0;
        for (const auto& [at, weight] : point.terms) {
            variance += at->sdPx * at->sdPx * weight * weight;
        }
        return std::sqrt(variance);
    }

    std::vector<motion::Sample> samplesOf(const Signal& signal) {
        return signal.kind == nullptr ? speedOf(signal) : kindOf(signal);
    }

    std::vector<motion::Sample> kindOf(const Signal& signal) {
        std::vector<motion::Sample> samples;
        const auto view = viewToFindBy(c_);
        const auto sign = view ? positiveSign(pack_, c_.hand, *view) : 1;
        for (int frame = firstFrame(); frame <= lastFrame(); ++frame) {
            const auto seen = pointsAt(signal.points, frame);
            if (!seen || bodyPx_ <= 0.0) {
                continue;
            }
            Eigen::VectorXd x(2 * static_cast<Eigen::Index>(seen->size()));
            Eigen::VectorXd sds(x.size());
            for (std::size_t i = 0; i < seen->size(); ++i) {
                const auto at = static_cast<Eigen::Index>(2 * i);
                const model::Point2 p = place((*seen)[i]);
                x[at] = p.x;
                x[at + 1] = p.y;
                sds[at] = sds[at + 1] = placeSd((*seen)[i]);
            }
            const auto value = [&](const Eigen::VectorXd& moved) {
                std::vector<model::Point2> p;
                for (Eigen::Index i = 0; i < moved.size(); i += 2) {
                    p.push_back({moved[i], moved[i + 1]});
                }
                return signal.kind->as<InstantKind>()->value(KindInput{p, bodyPx_, sign, 0.0});
            };
            motion::Sample sample{timeOf(frame), value(x),
                                  motion::standardUncertainty(value, x, sds)};
            if (!std::isfinite(sample.value) || !(sample.sd > 0.0)) {
                continue;
            }
            if (signal.kind->unit == model::Unit::degrees && !samples.empty()) {
                // Past a full turn the angle goes on instead of jumping back.
                constexpr double turn = 360.0;
                sample.value = samples.back().value +
                               std::remainder(sample.value - samples.back().value, turn);
            }
            samples.push_back(sample);
        }
        return samples;
    }

    std::vector<motion::Sample> speedOf(const Signal& signal) {
        std::vector<motion::Sample> x;
        std::vector<motion::Sample> y;
        for (int frame = firstFrame(); frame <= lastFrame(); ++frame) {
            if (const auto seen = pointsAt(signal.points, frame); seen && bodyPx_ > 0.0) {
                const model::Point2 p = place(seen->front());
                const double sd = placeSd(seen->front()) / bodyPx_;
                x.push_back({timeOf(frame), p.x / bodyPx_, sd});
                y.push_back({timeOf(frame), p.y / bodyPx_, sd});
            }
        }
        std::vector<motion::Sample> speed;
        for (const motion::Sample& s : x) {
            const double interval = model::frameInterval(c_.time, nearestFrame(s.time)).value;
            const double halfWidth = std::max(signal.halfWidth.value, leastIntervals * interval);
            const auto alongX = motion::fitLocally(x, s.time, halfWidth);
            const auto alongY = motion::fitLocally(y, s.time, halfWidth);
            if (alongX && alongY) {
                // Errors that neighbours share do not change a speed; half the stretch apart they
                // are taken as their own.
                const double sd = std::hypot(s.sd / halfWidth / std::numbers::sqrt2,
                                             std::hypot(alongX->rateSd, alongY->rateSd));
                speed.push_back({s.time, std::hypot(alongX->rate, alongY->rate), sd});
            }
        }
        return speed;
    }

    /// A parabola with scatter takes four points; two intervals to each side give five.
    static constexpr double leastIntervals = 2.0;

    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
    double bodyPx_ = 0.0;
    std::map<std::string, std::optional<When>> whens_; ///< those looked for so far
    std::map<std::string, model::FoundInstant> found_;
};

} // namespace

const Detector* detectorFor(const Position& position, std::optional<model::View> view) {
    const auto detector =
        std::find_if(position.foundBy.begin(), position.foundBy.end(), [&](const Detector& d) {
            return d.views.empty() ||
                   (view && std::find(d.views.begin(), d.views.end(), *view) != d.views.end());
        });
    return detector == position.foundBy.end() ? nullptr : &*detector;
}

const LearnedTechnique* learnedTechnique(const Pack& pack) {
    if (!pack.network) {
        return nullptr;
    }
    const auto known = pack.network->techniques.find(pack.id);
    return known == pack.network->techniques.end() ? nullptr : &known->second;
}

bool canBeFound(const Pack& pack, const Position& position, std::optional<model::View> view) {
    return (position.learned && pack.network) || detectorFor(position, view) != nullptr;
}

std::set<std::string> positionsUsedBy(const Detector& detector) {
    std::set<std::string> starts;
    if (const auto* way = std::get_if<ShareOfWay>(&detector.finds)) {
        starts = {way->from, way->to};
    } else {
        const auto& signal = std::get<SignalInstant>(detector.finds);
        for (const auto& edge : {signal.from, signal.to}) {
            if (edge) {
                starts.insert(edge->position);
            }
        }
        for (const PointExpression& point : signal.signal.points) {
            if (!point.position.empty()) {
                starts.insert(point.position);
            }
        }
    }
    return starts;
}

std::map<std::string, model::FoundInstant> findPositions(const Pack& pack, const model::Rep& rep,
                                                         const Circumstances& circumstances) {
    if (rep.landmarks.empty() || !circumstances.captureRateKnown) {
        return {};
    }
    return Finder(pack, rep, circumstances).all();
}

} // namespace kestrel::technique
