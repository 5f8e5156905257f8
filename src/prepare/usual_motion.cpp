#include "prepare/usual_motion.h"

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

/// An instant of the rep and of the motion.
struct Same {
    double inRep;
    double inMotion;
};

/// Before the first and after the last of them time runs as fast in both.
double inMotion(const std::vector<Same>& known, double time) {
    const auto after = std::find_if(known.begin(), known.end(),
                                    [&](const Same& same) { return same.inRep >= time; });
    if (after == known.begin()) {
        return known.front().inMotion + (time - known.front().inRep);
    }
    if (after == known.end()) {
        return known.back().inMotion + (time - known.back().inRep);
    }
    const Same& before = *std::prev(after);
    const double share = (time - before.inRep) / (after->inRep - before.inRep);
    return before.inMotion + share * (after->inMotion - before.inMotion);
}

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
    std::vector<Same> known;
    for (const auto& [id, time] : motion.positions) {
        if (const auto event = player.events().find(id); event != player.events().end()) {
            known.push_back({time.value, event->second});
        }
    }
    std::sort(known.begin(), known.end(),
              [](const Same& a, const Same& b) { return a.inRep < b.inRep; });
    // Of positions that a rep has at one instant or in another order the later ones go.
    std::vector<Same> inOrder;
    for (const Same& same : known) {
        if (inOrder.empty() ||
            (same.inRep > inOrder.back().inRep && same.inMotion >= inOrder.back().inMotion)) {
            inOrder.push_back(same);
        }
    }
    if (inOrder.size() < fewest) {
        return;
    }
    for (body::SeenInstant& instant : seen.instants) {
        const auto pose = usualPose(player, inMotion(inOrder, instant.time.value));
        instant.usual.assign(pose.begin(), pose.end());
    }
}

} // namespace kestrel::prepare
