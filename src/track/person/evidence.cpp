#include "track/person/evidence.h"

#include "film/picture_reader.h"
#include "model/input_error.h"
#include "track/camera/flow.h"
#include "track/person/person_follower.h"

#include <algorithm>
#include <deque>
#include <set>
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

using Sightings = std::map<int, Sighting>;

double heightOf(const Sightings& sightings) {
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

/// One way through the film from the frame where the person was found.
class Pass {
  public:
    Pass(Evidence& evidence, Sightings& sightings, PersonFollower& follower)
        : evidence_(evidence),
          sightings_(sightings),
          follower_(follower),
          flow_(farthestStep * evidence.bodyPx) {}

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
        const auto flows = flow_.next(picture, points);
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

  private:
    Evidence& evidence_;
    Sightings& sightings_;
    PersonFollower& follower_;
    FlowTracker flow_;
    std::optional<int> last_;
};

/// A damaged frame has no evidence; the player is looked for again in the next.
template <class Read> void addUnlessDamaged(Pass& pass, int frame, Read read) {
    std::optional<film::Picture> picture;
    try {
        picture.emplace(read());
    } catch (const model::InputError&) {
        pass.skip();
        return;
    }
    pass.add(frame, *picture);
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
    pose::PersonDetector detector(pose::detectorFile(directory));
    pose::PoseNetwork network(pose::poseFile(directory, size));
    PersonFollower follower(detector, network);
    film::PictureReader pictures(index);
    const film::Picture first = pictures.read(start);
    if (!follower.begin(first, seed)) {
        throw NobodyFound(model::message("person.none_found", start),
                          model::message("safe.nothing_changed"),
                          model::message("todo.click_on_player"));
    }
    Evidence evidence;
    evidence.bodyPx = follower.heightAtBegin();
    Sightings sightings;

    const int all = span.last - span.first + 2; // the frame to start from is looked at twice
    int done = 0;
    const auto goesOn = [&] { return !progress || progress(++done, all); };
    Pass onwards(evidence, sightings, follower);
    for (int frame = start; frame <= span.last; ++frame) {
        addUnlessDamaged(onwards, frame, [&]() -> film::Picture {
            return frame == start ? first : pictures.read(frame);
        });
        if (!goesOn()) {
            return std::nullopt;
        }
    }
    follower.returnToBegin();
    Pass back(evidence, sightings, follower);
    BackwardPictures before(index, span.first);
    for (int frame = start; frame >= span.first; --frame) {
        addUnlessDamaged(back, frame, [&]() -> film::Picture { return before.read(frame); });
        if (!goesOn()) {
            return std::nullopt;
        }
    }
    // The height is known better now than it was at the first frame.
    evidence.bodyPx = heightOf(sightings);
    for (const auto& [frame, sighting] : sightings) {
        evidence.frames[frame].proposals = proposalsOf(sighting, evidence.bodyPx);
    }
    return evidence;
}

} // namespace kestrel::track
