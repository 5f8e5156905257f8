#pragma once

#include "body/fitted_body.h"
#include "film/picture.h"
#include "prepare/judged_rep.h"
#include "synth/film_render.h"

#include <memory>
#include <optional>

/// The pose model: a pack's technique as it is usually done, by somebody of a player's build, seen
/// from where the player was filmed.
namespace kestrel::prepare {

/// The synthetic player's own bones as a body in space at every frame of a film, told from where
/// its camera stands; times begin with the film. It is certain: it has no draws.
body::FittedParts trueBody(const synth::FilmScene& scene);

/// The id of every pose model's rep: no library has it.
inline constexpr model::RepId poseModelRep{-1};

struct PoseModel {
    /// Its clip and rep are in no library; the player is the one who is shown how it is done.
    JudgedRep judged;
    synth::FilmSpec film;
};

/// For a judged rep of a pack whose motion, or that of the one it was copied from, is known; the
/// rep's pictures are `width` by `height` pixels. Its camera looks at the player from the side that
/// the film's does, as far as that is known. Nothing for a rep that is not judged, or of which no
/// motion is known.
std::optional<PoseModel> poseModel(const JudgedRep& rep, int width, int height, model::Day today);

/// Draws pictures of a pose model, those of `judged.rep`'s frames. One for each thread.
class PoseModelPictures {
  public:
    explicit PoseModelPictures(const PoseModel& model);

    /// Throws std::out_of_range for a frame that it does not have.
    [[nodiscard]] film::Picture frame(int number) const;

  private:
    synth::FrameRenderer renderer_;
};

} // namespace kestrel::prepare
