#include "technique/judge/reading_json.h"

#include "technique/pack/json_file.h"

namespace kestrel::technique {
namespace {

using nlohmann::json;

json orNull(const std::optional<double>& value) {
    return value ? json(*value) : json(nullptr);
}

json orNull(const std::string& text) {
    return text.empty() ? json(nullptr) : json(text);
}

json limbToJson(const std::optional<model::LimbChoice>& limb) {
    if (!limb) {
        return nullptr;
    }
    return {{"joint", name(limb->joint)},
            {"together", limb->together},
            {"through", limb->through},
            {"counted", limb->counted ? json(name(*limb->counted)) : json(nullptr)}};
}

} // namespace

json readingsToJson(const Pack& pack, const std::vector<model::Reading>& readings,
                    const model::Wording& words, std::optional<model::Metres> height) {
    json list = json::array();
    for (const model::Reading& r : readings) {
        list.push_back({
            {"id", r.measureId},
            {"name", findMeasure(pack, r.measureId)->name},
            {"position", r.positionId},
            {"value", orNull(r.value)},
            {"unit", name(r.unit)},
            {"value_m", r.value && height && r.unit == model::Unit::bodyHeights
                            ? json(*r.value * height->value)
                            : json(nullptr)},
            {"u95", r.value ? json(r.u95) : json(nullptr)},
            {"read_from", name(r.from)},
            {"limb_in_depth", limbToJson(r.limb)},
            {"verdict", name(r.verdict)},
            {"range", r.range ? json{orNull(r.range->low), orNull(r.range->high)} : json(nullptr)},
            {"basis", orNull(r.rangeBasis)},
            {"school", orNull(r.rangeSchool)},
            {"missing_reason", r.missing ? json(words(r.missing->why)) : json(nullptr)},
        });
    }
    return list;
}

json sequenceToJson(const SequenceReading& sequence, const model::Wording& words) {
    if (sequence.missing) {
        return {{"missing_reason", words(sequence.missing->why)}};
    }
    json links = json::array();
    for (const LinkCurve& link : sequence.links) {
        json one = {{"id", link.linkId},
                    {"name", link.name},
                    {"unit", name(link.unit)},
                    {"peak", nullptr},
                    {"refusal", nullptr},
                    {"curve", json::array()},
                    {"acceleration", json::array()}};
        if (link.peak) {
            one["peak"] = {{"time_s", link.peak->time},
                           {"time_sd_s", link.peak->timeSd},
                           {"value", link.peak->value},
                           {"sd", link.peak->sd}};
        } else {
            one["refusal"] = words(link.refusal);
        }
        for (const CurvePoint& p : link.points) {
            one["curve"].push_back({p.time, p.value, p.sd});
        }
        for (const CurvePoint& p : link.growth) {
            one["acceleration"].push_back({p.time, p.value, p.sd});
        }
        links.push_back(std::move(one));
    }
    json steps = json::array();
    for (const LinkStep& step : sequence.steps) {
        using Order = LinkStep::Order;
        steps.push_back({{"earlier", step.earlier},
                         {"later", step.later},
                         {"gap_ms", step.gapMs},
                         {"u95_ms", step.u95Ms},
                         {"order", step.order == Order::follows ? "follows"
                                   : step.order == Order::leads ? "leads"
                                                                : "cannot_tell"},
                         {"gain", step.gain ? json(*step.gain) : json(nullptr)}});
    }
    return {{"from_s", sequence.from},
            {"to_s", sequence.to},
            {"frame_rate", sequence.frameRate},
            {"links", std::move(links)},
            {"steps", std::move(steps)}};
}

std::map<std::string, int> readPositions(const Pack& pack, const std::filesystem::path& file,
                                         int frameCount) {
    const json content = parseJson(readText(file), file);
    if (!content.is_object() || !content.contains("positions") ||
        !content.at("positions").is_object()) {
        throw dataError(file, "/positions", model::message("data.positions_missing"));
    }
    std::map<std::string, int> positions;
    for (const auto& [id, value] : content.at("positions").items()) {
        const std::string place = "/positions/" + id;
        if (findPosition(pack, id) == nullptr) {
            throw dataError(file, place, model::message("data.no_such_position", pack.id));
        }
        const json frame = value.is_object() ? value.value("frame", json()) : value;
        if (!frame.is_number_integer()) {
            throw dataError(file, place, model::message("data.frame_missing"));
        }
        const auto number = frame.get<std::int64_t>();
        if (number < 0 || number >= frameCount) {
            throw dataError(file, place,
                            model::message("data.no_such_frame", number, frameCount - 1));
        }
        positions[id] = static_cast<int>(number);
    }
    return positions;
}

} // namespace kestrel::technique
