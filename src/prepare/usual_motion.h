#pragma once

#include "body/seen_rep.h"
#include "model/record.h"
#include "synth/player_motion.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <array>
#include <map>
#include <optional>
#include <string>

/// How a pack's technique is usually done: the skilled motion of the synthetic player.
namespace kestrel::prepare {

struct UsualMotion {
    synth::PlayerSpec player;                        ///< of the player's build, hand and variant
    std::map<std::string, model::Seconds> positions; ///< when the rep has its key positions
};

/// Somebody of the player's build and hand who does the pack's technique, or that of the one it was
/// copied from, as it is usually done. Nothing where there is no motion of it.
std::optional<synth::PlayerSpec> usualPlayer(const technique::Pack& pack,
                                             const model::Player& player,
                                             const technique::Circumstances& circumstances);

/// Places of the body's landmarks, in their order, from the middle of the hips, standing heights;
/// x towards the target, z up, right-handed.
using UsualPose =
    std::array<Eigen::Vector3d, static_cast<std::size_t>(model::Landmark::rightToe) + 1>;

/// Their pose at an instant of the motion.
UsualPose usualPose(const synth::PlayerMotion& motion, double time);

/// For a rep with two key positions or more whose pack, or the one that it was copied from, has a
/// motion.
std::optional<UsualMotion> usualMotion(const technique::Pack& pack, const model::Player& player,
                                       const model::Rep& rep,
                                       const technique::Circumstances& circumstances);

/// Tells each instant how the technique is usually done then. The motion is stretched in time so
/// that its key positions are where the rep has them.
void addUsualPoses(body::SeenRep& seen, const UsualMotion& motion);

} // namespace kestrel::prepare
