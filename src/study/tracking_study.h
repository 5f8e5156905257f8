#pragma once

#include "pose/pose_files.h"

#include <filesystem>
#include <string>
#include <vector>

/// How right the machine's landmarks are on a film whose truth is known.
namespace kestrel::study {

/// A set of errors.
struct Spread {
    std::vector<double> sorted;

    [[nodiscard]] std::size_t count() const { return sorted.size(); }
    /// That share of them is at most so large; there must be some.
    [[nodiscard]] double at(double share) const {
        return sorted[static_cast<std::size_t>(share * static_cast<double>(sorted.size() - 1))];
    }
};

/// Key positions found against the true instants.
struct PositionResult {
    int asked = 0;    ///< positions that the pack has a way to find from this view
    int found = 0;    ///< those of them that were
    int right = 0;    ///< within one frame at 60 a second, or half a frame of the film if longer
    int lasting = 0;  ///< right, or off by less than the position lasts, so that a frame is as good
    int inside95 = 0; ///< inside their stated 95 % interval, the rounding to frames included
    int wrong = 0;    ///< not right
    int wrongUnasked = 0; ///< not right, by more than the position lasts, and not called doubtful
};

/// A thing that was followed from one frame, or two, where a coach had placed it.
struct EquipmentResult {
    int visible = 0;       ///< frames in which it is seen and was not placed
    Spread errors;         ///< where something was said of it in those, % of standing height
    double within95 = 0.0; ///< share of those errors (by axis) inside their 95 % interval
};

struct TrackingResult {
    std::string film;
    std::string technique;
    std::string view;
    int frames = 0;
    double bodyPx = 0.0;        ///< true standing height in the picture
    double found = 0.0;         ///< share of frames in which the player was found
    Spread visible;             ///< landmark errors, % of standing height
    Spread hidden;              ///< the same of landmarks that something covers
    double within95 = 0.0;      ///< share of errors (by axis) inside their stated 95 % interval
    double occludedRight = 0.0; ///< share of landmarks rightly called covered or not
    double legsSwapped = 0.0;   ///< share of frames with left and right leg exchanged
    Spread angles; ///< knees, elbows and trunk in the picture at the true key positions, degrees
    /// The same of what the pack reads there, which the queue can ask for.
    Spread readAngles;
    Spread anglesAfterQueue; ///< all angles after `actions` of a coach
    Spread readAnglesAfterQueue;
    int actions = 0;
    EquipmentResult implement; ///< its far end; none visible: there is no implement
    EquipmentResult ball;
    PositionResult positions; ///< without help
};

/// Follows the player of `film` without help, then with the help of a simulated coach, who answers
/// what technique::doubtsOf asks for: confirms a position that is right, moves one that is not
/// (two actions), places a landmark with 1.5 px of error, until nothing is asked for or
/// `mostActions` are done; the last of them follows what is placed through the film. Beside
/// FILM.mp4 lie FILM.landmarks.csv and FILM.truth.json, as `demo render` writes them. Throws
/// model::InputError when they cannot be read.
TrackingResult studyTracking(const std::filesystem::path& film, pose::PoseSize size);

inline constexpr int mostActions = 25;

} // namespace kestrel::study
