#include "prepare/usual_motion.h"

#include "model/time_warp.h"

#include <algorithm>
#include <filesystem>
#include <vector>

namespace kestrel::prepare {
namespace {

/// Bands of the synthetic player: the first age that is no longer of it.
synth::AgeBand bandOf(std::optional<int> years) {
    constexpr int firstOfUnder13 = 10;
    constexpr int firstOfUnder16 = 13;
    constexpr int firstOfAdults = 16;
    if (!years || *years >= firstOfAdults) {
        return synth::AgeBand::adult;
    }
    return *years < firstOfUnder13   ? synth::AgeBand::under10
           : *years < firstOfUnder16 ? synth::AgeBand::under13
                                     : synth::AgeBand::under16;
}

/// So many positions tell how fast a rep goes.
constexpr std::size_t fewest = 2;

} // namespace

std::optional<synth::PlayerSpec> usualPlayer(const technique::Pack& pack,
                                             const model::Player& player,
                                             const technique::Circumstances& circumstances) {
    const auto hasMotion = [](const std::string& id) {
        return !id.empty() && std::filesystem::exists(synth::motionSheetFile(id));
    };
    synth::PlayerSpec usual;
    usual.technique = hasMotion(pack.id) ? pack.id : pack.basedOn;
    if (!hasMotion(usual.technique)) {
        return std::nullopt;
    }
    if (synth::loadMotionSheet(usual.technique).variants.contains(circumstances.variant)) {
        usual.variant = circumstances.variant; // some of the pack's variants are done alike
    }
    usual.hand = circumstances.hand;
    usual.build.band = bandOf(circumstances.ageYears);
    usual.build.sex = player.sex == model::Sex::girl ? synth::Sex::female : synth::Sex::male;
    if (player.height) {
        usual.build.heightM = player.height->value;
    }
    return usual;
}

UsualPose usualPose(const synth::PlayerMotion& motion, double time) {
    const synth::Pose pose = motion.pose(time);
    const Eigen::Vector3d hips =
        0.5 * (pose.at(model::Landmark::leftHip) + pose.at(model::Landmark::rightHip));
    UsualPose usual;
    for (std::size_t l = 0; l < usual.size(); ++l) {
        usual[l] = (pose.at(static_cast<model::Landmark>(l)) - hips) / motion.heightM();
    }
    return usual;
}

std::optional<UsualMotion> usualMotion(const technique::Pack& pack, const model::Player& player,
                                       const model::Rep& rep,
                                       const technique::Circumstances& circumstances) {
    const auto usual = usualPlayer(pack, player, circumstances);
    if (!usual) {
        return std::nullopt;
    }
    UsualMotion motion{*usual, {}};
    const auto& times = circumstances.time.fieldTimes();
    for (const auto& [id, frame] : model::allPositions(rep)) {
        if (frame >= 0 && frame < circumstances.time.frameCount()) {
            motion.positions[id] = times[static_cast<std::size_t>(frame)];
        }
    }
    return motion.positions.size() >= fewest ? std::optional(std::move(motion)) : std::nullopt;
}

void addUsualPoses(body::SeenRep& seen, const UsualMotion& motion) {
    const synth::PlayerMotion player(motion.player);
    std::vector<model::TimeWarp::Same> known;
    for (const auto& [id, time] : motion.positions) {
        if (const auto event = player.events().find(id); event != player.events().end()) {
            known.push_back({time, model::Seconds(event->second)});
        }
    }
    if (known.empty()) {
        return;
    }
    const model::TimeWarp warp(std::move(known));
    if (warp.instants().size() < fewest) {
        return;
    }
    for (body::SeenInstant& instant : seen.instants) {
        const auto pose = usualPose(player, warp.there(instant.time).value);
        instant.usual.assign(pose.begin(), pose.end());
    }
}

} // namespace kestrel::prepare
