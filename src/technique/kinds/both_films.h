#pragma once

#include "motion/camera_pair.h"
#include "technique/judge/evaluate.h"

#include <optional>
#include <string>
#include <vector>

/// Two films of one motion: what each shows at an instant. Only within this room.
namespace kestrel::technique {

/// A landmark as one of the two films shows it.
struct SeenLandmark {
    model::Point2 px;
    double sd = 0.0;
    /// Pixels a second, where it was read between two frames of the film; else the film shows it
    /// at its own frame only, to half of one.
    std::optional<model::Point2> velocity;
};

/// A film of the two: its rep, its ground and how its camera moved.
struct Film {
    const model::Rep& rep;
    const Ground& ground;
    const model::CameraMotion& camera;
    const model::ClipTime& time;
};

/// The landmark as a film shows it in a frame; nothing where it is missing or hidden.
std::optional<SeenLandmark> seenAt(const Film& film, model::Landmark landmark, int frame);

/// The two films of a motion and how their times go together. What it is made of must outlive it.
struct BothFilms {
    Film first;
    Film second;
    /// From the first film's time to the second's: as heard, or as the key positions say that both
    /// have, weighed by how surely each is known and, where they disagree by more, by how much they
    /// do. Nothing without either.
    std::optional<model::SyncOffset> step;

    /// `c` has a ground and a second view.
    BothFilms(const model::Rep& rep, const Circumstances& c);

    /// What the second film shows between two of its frames at the instant of a frame of the first.
    [[nodiscard]] std::optional<SeenLandmark> seenBetween(model::Landmark landmark,
                                                          int frame) const;
    /// The same at a position; where the second film has no frames on both sides of it, at its own
    /// frame of the position.
    [[nodiscard]] std::optional<SeenLandmark> seenInSecond(model::Landmark landmark,
                                                           const std::string& position) const;
};

/// What both films show of the body at the first one's key positions. What the second film shows at
/// its own frame only may be half a frame off, and is left out.
std::vector<motion::SeenByBoth> bodySeenByBoth(const BothFilms& films);

} // namespace kestrel::technique
