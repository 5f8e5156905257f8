#include "track/files/evidence_file.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kestrel::track {
namespace {

using nlohmann::json;

constexpr int version = 2;
constexpr int withoutPlacedSteps = 1; ///< nor what is covered
constexpr double steps = 100.0;       ///< of a pixel

json whole(double value) {
    return std::llround(value * steps);
}

double real(const json& value) {
    return value.get<double>() / steps;
}

json fromSteps(const std::map<model::Landmark, Step>& steps) {
    json ways = json::array();
    for (const auto& [landmark, s] : steps) {
        ways.push_back({model::name(landmark), whole(s.shift.x), whole(s.shift.y), whole(s.sdPx)});
    }
    return ways;
}

/// False where a landmark is named that this program does not know.
bool toSteps(const json& ways, std::map<model::Landmark, Step>& steps) {
    for (const json& s : ways) {
        const auto landmark = model::landmarkFromName(s.at(0).get<std::string>());
        if (!landmark) {
            return false;
        }
        steps[*landmark] = {{real(s.at(1)), real(s.at(2))}, real(s.at(3))};
    }
    return true;
}

} // namespace

std::vector<std::uint8_t> toBytes(const Evidence& evidence) {
    json frames = json::array();
    for (const auto& [number, frame] : evidence.frames) {
        json proposals = json::array();
        for (const auto& [landmark, p] : frame.proposals) {
            proposals.push_back({model::name(landmark), whole(p.px.x), whole(p.px.y),
                                 whole(p.scatterPx), whole(p.lastingPx), p.occluded,
                                 whole(p.depthPx)});
        }
        frames.push_back(
            {number, std::move(proposals), fromSteps(frame.steps), fromSteps(frame.placedSteps)});
    }
    return json::to_cbor({{"version", version}, {"body_px", evidence.bodyPx}, {"frames", frames}});
}

std::optional<Evidence> evidenceFromBytes(std::span<const std::uint8_t> bytes) {
    const json read = json::from_cbor(bytes.begin(), bytes.end(), true, false);
    if (read.is_discarded()) {
        return std::nullopt;
    }
    try {
        const int written = read.at("version");
        if (written != version && written != withoutPlacedSteps) {
            return std::nullopt;
        }
        const bool older = written == withoutPlacedSteps;
        Evidence evidence;
        evidence.bodyPx = read.at("body_px");
        for (const json& frame : read.at("frames")) {
            FrameEvidence& into = evidence.frames[frame.at(0).get<int>()];
            for (const json& p : frame.at(1)) {
                const auto landmark = model::landmarkFromName(p.at(0).get<std::string>());
                if (!landmark) {
                    return std::nullopt;
                }
                into.proposals[*landmark] = {{real(p.at(1)), real(p.at(2))},
                                             real(p.at(3)),
                                             real(p.at(4)),
                                             older ? 0.0 : real(p.at(6)),
                                             !older && p.at(5).get<bool>()};
            }
            if (!toSteps(frame.at(2), into.steps) ||
                (!older && !toSteps(frame.at(3), into.placedSteps))) {
                return std::nullopt;
            }
        }
        return evidence;
    } catch (const json::exception&) {
        return std::nullopt;
    }
}

} // namespace kestrel::track
