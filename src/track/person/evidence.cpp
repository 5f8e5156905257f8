#include "track/person/evidence.h"

#include "film/picture_reader.h"
#include "model/input_error.h"
#include "track/camera/flow.h"
#include "track/person/person_follower.h"

#include <algorithm>
#include <deque>
#include <future>
#include <mutex>
#include <set>
#include <thread>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

// A followed point slides along its limb and takes background along, often for several frames the
// same way; that is why these are four times what single steps miss the true landmarks by
// (docs/accuracy.md).
constexpr double stillStepSd = 1.6;      ///< pixels, of a point that does not move
constexpr double movingStepSd = 0.24;    ///< per pixel of way
constexpr double missedStepSd = 4.0;     ///< per pixel that the way back misses
constexpr double mostBackAndForth = 0.1; ///< of the way, beyond a pixel: more is a lost point
/// How much farther off than else a landmark may be that somebody nearer may hide, and one of a
/// pose that was seen for a moment while somebody else was near.
constexpr double behindDoubt = 3.0;
constexpr double unsureDoubt = 2.0;
constexpr double farthestStep = 0.12; ///< of the player's height from one frame to the next

/// Pictures from a frame backwards, read in blocks onwards.
class BackwardPictures {
  public:
    BackwardPictures(const film::FilmIndex& index, int first)
        : reader_(index),
          first_(first),
          pictureBytes_(static_cast<std::size_t>(index.width) *
                        static_cast<std::size_t>(index.height) * sizeof(std::uint32_t)) {}

    film::Picture read(int frame) {
        while (block_.empty() || frame < blockFirst_) {
            constexpr std::size_t bound = std::size_t{256} << 20;
            const int size = std::clamp(
                static_cast<int>(bound / std::max<std::size_t>(1, pictureBytes_)), 2, 64);
            blockFirst_ = std::max(first_, frame - size + 1);
            block_.clear();
            for (int f = blockFirst_; f <= frame; ++f) {
                try {
                    block_.emplace_back(reader_.read(f));
                } catch (const model::InputError&) {
                    block_.emplace_back(); // damaged: said when it is asked for
                }
            }
        }
        const film::Picture& picture = block_[static_cast<std::size_t>(frame - blockFirst_)];
        return picture.pixels.empty() ? reader_.read(frame) : picture;
    }

  private:
    film::PictureReader reader_;
    int first_;
    std::size_t pictureBytes_;
    std::deque<film::Picture> block_;
    int blockFirst_ = 0;
};

/// A pose with what makes it less sure.
struct Sighting {
    pose::SeenPose pose;
    bool unsure = false;            ///< the whole of it
    std::set<Landmark> maybeBehind; ///< that somebody nearer may hide
};

using SightingByFrame = std::map<int, Sighting>;

/// Of each network: half of the cores for the two ways together, so that others have some.
int networkThreads() {
    return static_cast<int>(std::max(1U, std::thread::hardware_concurrency() / 4));
}

double heightOf(const SightingByFrame& sightings) {
    std::vector<pose::SeenPose> all;
    for (const auto& [frame, sighting] : sightings) {
        all.push_back(sighting.pose);
    }
    return bodyHeightSeen(all);
}

Proposals proposalsOf(const Sighting& sighting, double bodyPx) {
    Proposals proposals = proposedLandmarks(sighting.pose, bodyPx);
    for (auto& [landmark, proposal] : proposals) {
        const double doubt = sighting.maybeBehind.count(landmark) > 0 ? behindDoubt
                             : sighting.unsure                        ? unsureDoubt
                                                                      : 1.0;
        proposal.scatterPx *= doubt;
        proposal.lastingPx *= doubt;
    }
    return proposals;
}

/// One way through the film from the frame where the person is found, with networks of its own.
class Pass {
  public:
    Pass(const std::filesystem::path& directory, pose::PoseSize size)
        : detector_(pose::detectorFile(directory), networkThreads()),
          network_(pose::poseFile(directory, size), networkThreads()),
          follower_(detector_, network_) {}

    /// Finds the person to follow; throws NobodyFound.
    void begin(const film::Picture& picture, const SubjectSeed& seed, int frame) {
        if (!follower_.begin(picture, seed)) {
            throw NobodyFound(model::message("person.none_found", frame),
                              model::message("safe.nothing_changed"),
                              model::message("todo.click_on_player"));
        }
        evidence_.bodyPx = follower_.heightAtBegin();
        flow_.emplace(farthestStep * evidence_.bodyPx);
    }

    /// Takes the next picture; `frame` is one more, or one less, than the last.
    void add(int frame, const film::Picture& picture) {
        const auto seen = follower_.look(picture);
        std::vector<model::Point2> points;
        std::vector<Landmark> landmarks;
        if (last_) {
            for (const auto& [landmark, proposal] : evidence_.frames[*last_].proposals) {
                // Of a point behind somebody the picture shows how that other one moves.
                if (!follower_.mayBeBehindSomebody(proposal.px)) {
                    landmarks.push_back(landmark);
                    points.push_back(proposal.px);
                }
            }
        }
        const auto flows = flow_->next(picture, points);
        for (std::size_t i = 0; i < flows.size(); ++i) {
            if (!flows[i]) {
                continue;
            }
            const double way = length(flows[i]->shift);
            if (flows[i]->backAndForthPx > 1.0 + mostBackAndForth * way) {
                continue;
            }
            const double sd =
                stillStepSd + movingStepSd * way + missedStepSd * flows[i]->backAndForthPx;
            const bool onwards = frame > *last_;
            const int from = onwards ? *last_ : frame;
            evidence_.frames[from].steps[landmarks[i]] = {
                onwards ? flows[i]->shift : flows[i]->shift * -1.0, sd};
        }
        FrameEvidence& here = evidence_.frames[frame];
        if (seen) {
            Sighting sighting{*seen, follower_.isUnsure(), {}};
            for (const auto& [landmark, proposal] : proposedLandmarks(*seen, evidence_.bodyPx)) {
                if (follower_.mayBeBehindSomebody(proposal.px)) {
                    sighting.maybeBehind.insert(landmark);
                }
            }
            here.proposals = proposalsOf(sighting, evidence_.bodyPx);
            sightings_.insert_or_assign(frame, std::move(sighting));
        }
        last_ = frame;
    }

    /// A picture is missing: nothing can be followed across the gap.
    void skip() { last_.reset(); }

    /// What was seen on the way; its proposals go by the height as first seen.
    [[nodiscard]] Evidence& evidence() { return evidence_; }
    [[nodiscard]] SightingByFrame& sightings() { return sightings_; }

  private:
    pose::PersonDetector detector_;
    pose::PoseNetwork network_;
    PersonFollower follower_;
    Evidence evidence_;
    SightingByFrame sightings_;
    std::optional<FlowTracker> flow_;
    std::optional<int> last_;
};

/// Counts the frames of both ways together.
class Progress {
  public:
    Progress(int all, const EvidenceProgress& tell) : all_(all), tell_(tell) {}

    /// One more frame is done; false when the rest is not wanted.
    bool goesOn() {
        const std::lock_guard lock(telling_);
        stopped_ = stopped_ || (tell_ && !tell_(++done_, all_));
        return !stopped_;
    }
    void stop() {
        const std::lock_guard lock(telling_);
        stopped_ = true;
    }
    [[nodiscard]] bool isStopped() const {
        const std::lock_guard lock(telling_);
        return stopped_;
    }

  private:
    int all_;
    const EvidenceProgress& tell_;
    int done_ = 0;
    bool stopped_ = false;
    mutable std::mutex telling_;
};

/// Goes from frame `start` to `end`, which may lie before it. A damaged frame has no evidence; the
/// player is looked for again in the next.
template <class Read>
void follow(Pass& pass, int start, int end, Progress& progress, const Read& read) {
    const int step = end < start ? -1 : 1;
    for (int frame = start; frame != end + step; frame += step) {
        std::optional<film::Picture> picture;
        try {
            picture.emplace(read(frame));
        } catch (const model::InputError&) {
            pass.skip();
        }
        if (picture) {
            pass.add(frame, *picture);
        }
        if (!progress.goesOn()) {
            return;
        }
    }
}

} // namespace

std::optional<Evidence> gatherEvidence(const film::FilmIndex& index, model::FrameSpan span,
                                       const SubjectSeed& seed,
                                       const std::filesystem::path& directory, pose::PoseSize size,
                                       const EvidenceProgress& progress) {
    if (const model::Message missing = pose::missingNetworks(directory, size); !missing.empty()) {
        throw model::InputError(missing, model::message("safe.nothing_changed"), {});
    }
    span.first = std::clamp(span.first, 0, index.frameCount() - 1);
    span.last = std::clamp(span.last, span.first, index.frameCount() - 1);
    const int start = std::clamp(seed.frame, span.first, span.last);
    film::PictureReader pictures(index);
    const film::Picture first = pictures.read(start);

    // Both ways at once, a core each: the threads of one network wait for one another by spinning,
    // which takes many times as long where other work holds one of their cores.
    Pass onwards(directory, size);
    Pass back(directory, size);
    // The frame to start from is looked at twice.
    Progress shared(span.last - span.first + 2, progress);
    auto backwards = std::async(std::launch::async, [&] {
        back.begin(first, seed, start);
        BackwardPictures before(index, span.first);
        follow(back, start, span.first, shared, [&](int frame) { return before.read(frame); });
    });
    try {
        onwards.begin(first, seed, start);
        follow(onwards, start, span.last, shared,
               [&](int frame) { return frame == start ? first : pictures.read(frame); });
    } catch (...) {
        shared.stop(); // the other way need not be gone to its end
        throw;
    }
    backwards.get();
    if (shared.isStopped()) {
        return std::nullopt;
    }
    SightingByFrame sightings = std::move(back.sightings());
    sightings.merge(onwards.sightings());
    Evidence evidence = std::move(onwards.evidence());
    for (auto& [frame, seen] : back.evidence().frames) {
        evidence.frames[frame].steps.merge(seen.steps);
    }
    // The height is known better now than it was at the first frame.
    evidence.bodyPx = heightOf(sightings);
    for (const auto& [frame, sighting] : sightings) {
        evidence.frames[frame].proposals = proposalsOf(sighting, evidence.bodyPx);
    }
    return evidence;
}

} // namespace kestrel::track
