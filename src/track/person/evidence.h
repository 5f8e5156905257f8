#pragma once

#include "film/film_index.h"
#include "model/film_study.h"
#include "model/input_error.h"
#include "pose/pose_files.h"
#include "track/person/body_points.h"

#include <filesystem>
#include <functional>
#include <map>
#include <optional>

/// What the machine saw of one player in a stretch of film, before it is weighed against what the
/// coach placed.
namespace kestrel::track {

/// How a landmark moves from a frame to the one after.
struct Step {
    model::Point2 shift;
    double sdPx = 0.0;

    friend bool operator==(const Step&, const Step&) = default;
};

struct FrameEvidence {
    Proposals proposals;                   ///< empty when the player was lost
    std::map<model::Landmark, Step> steps; ///< to the frame after
    /// The same from where a coach placed the landmark on (placed_points.h); these count instead.
    std::map<model::Landmark, Step> placedSteps;

    friend bool operator==(const FrameEvidence&, const FrameEvidence&) = default;
};

struct Evidence {
    double bodyPx = 0.0; ///< the player's standing height, source pixels
    std::map<int, FrameEvidence> frames;

    friend bool operator==(const Evidence&, const Evidence&) = default;
};

/// The player to follow: where the coach clicked, or drew a box, at a frame. Without either, the
/// person who is nearest to where things move.
struct SubjectSeed {
    int frame = 0;
    std::optional<model::Point2> point;
    std::optional<model::PixelBox> box;
    std::optional<model::PixelBox> mover; ///< of the film's study
};

/// The frame to begin with shows nobody.
class NobodyFound : public model::InputError {
  public:
    using model::InputError::InputError;
};

/// Called with frames done and in all, from two threads but never from both at once; returning
/// false cancels.
using EvidenceProgress = std::function<bool(int done, int all)>;

/// Follows one person through `span` both ways from whom.frame (brought into the span), with the
/// networks in `directory`. Nothing when cancelled; frames where the person is lost are there
/// without proposals. Throws model::InputError when the film or a network cannot be read,
/// NobodyFound when no person is found to begin with.
std::optional<Evidence> gatherEvidence(const film::FilmIndex& index, model::FrameSpan span,
                                       const SubjectSeed& seed,
                                       const std::filesystem::path& directory, pose::PoseSize size,
                                       const EvidenceProgress& progress = {});

} // namespace kestrel::track
