#pragma once

#include "model/record.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"
#include "track/person/evidence.h"

#include <optional>

/// Whether a film shows a technique, and from where, told by the film itself.
namespace kestrel::prepare {

/// How unlike what was seen in a rep is to the technique as it is usually done (usual_motion.h),
/// from where it is least so: mean of robust squares, about 0.4 where it is that technique, 1 and
/// more where it is not. Motion and film are brought in step by dynamic time warping for each
/// direction around the player (Sakoe and Chiba 1978, doi:10.1109/TASSP.1978.1163055), so that no
/// key position need be known. Nothing where the technique has no motion, the capture rate is not
/// known or too little was seen. Some tenths of a second of work.
struct Likeness {
    double unlikeness = 0.0;
    model::FoundView view; ///< from where it is least
    bool clear = false;    ///< from no other direction is it nearly as little
};
std::optional<Likeness> likeness(const technique::Pack& pack, const model::Player& player,
                                 const track::Evidence& evidence,
                                 const technique::Circumstances& circumstances);

/// What is less unlike than this is that technique: players of all levels, manners and faults are
/// at 0.2 to 0.7, a player who walks off at 1.1 (rendered films with seeds for setting).
inline constexpr double mostUnlike = 0.9;

/// From where a film was taken: where the likeness is clear and it is that technique.
std::optional<model::FoundView> foundView(const technique::Pack& pack, const model::Player& player,
                                          const track::Evidence& evidence,
                                          const technique::Circumstances& circumstances);

} // namespace kestrel::prepare
