#include "track/evidence_file.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kestrel::track {
namespace {

using nlohmann::json;

constexpr int version = 1;
constexpr double steps = 100.0; ///< of a pixel

json whole(double value) {
    return std::llround(value * steps);
}

double real(const json& value) {
    return value.get<double>() / steps;
}

} // namespace

std::vector<std::uint8_t> toBytes(const Evidence& evidence) {
    json frames = json::array();
    for (const auto& [number, frame] : evidence.frames) {
        json proposals = json::array();
        for (const auto& [landmark, p] : frame.proposals) {
            proposals.push_back({model::name(landmark), whole(p.px.x), whole(p.px.y),
                                 whole(p.scatterPx), whole(p.lastingPx)});
        }
        json ways = json::array();
        for (const auto& [landmark, s] : frame.steps) {
            ways.push_back(
                {model::name(landmark), whole(s.shift.x), whole(s.shift.y), whole(s.sdPx)});
        }
        frames.push_back({number, std::move(proposals), std::move(ways)});
    }
    return json::to_cbor({{"version", version}, {"body_px", evidence.bodyPx}, {"frames", frames}});
}

std::optional<Evidence> evidenceFromBytes(std::span<const std::uint8_t> bytes) {
    const json read = json::from_cbor(bytes.begin(), bytes.end(), true, false);
    if (read.is_discarded()) {
        return std::nullopt;
    }
    try {
        if (read.at("version") != version) {
            return std::nullopt;
        }
        Evidence evidence;
        evidence.bodyPx = read.at("body_px");
        for (const json& frame : read.at("frames")) {
            FrameEvidence& into = evidence.frames[frame.at(0).get<int>()];
            for (const json& p : frame.at(1)) {
                const auto landmark = model::landmarkFromName(p.at(0).get<std::string>());
                if (!landmark) {
                    return std::nullopt;
                }
                into.proposals[*landmark] = {
                    {real(p.at(1)), real(p.at(2))}, real(p.at(3)), real(p.at(4))};
            }
            for (const json& s : frame.at(2)) {
                const auto landmark = model::landmarkFromName(s.at(0).get<std::string>());
                if (!landmark) {
                    return std::nullopt;
                }
                into.steps[*landmark] = {{real(s.at(1)), real(s.at(2))}, real(s.at(3))};
            }
        }
        return evidence;
    } catch (const json::exception&) {
        return std::nullopt;
    }
}

} // namespace kestrel::track
