#include "technique/reading_json.h"

#include "technique/json_file.h"

namespace kestrel::technique {
namespace {

using nlohmann::json;

json orNull(const std::optional<double>& value) {
    return value ? json(*value) : json(nullptr);
}

json orNull(const std::string& text) {
    return text.empty() ? json(nullptr) : json(text);
}

} // namespace

json readingsToJson(const Pack& pack, const std::vector<model::Reading>& readings,
                    std::optional<model::Metres> height) {
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
            {"verdict", name(r.verdict)},
            {"range", r.range ? json{orNull(r.range->low), orNull(r.range->high)} : json(nullptr)},
            {"basis", orNull(r.rangeBasis)},
            {"school", orNull(r.rangeSchool)},
            {"missing_reason", r.missing ? json(r.missing->text) : json(nullptr)},
        });
    }
    return list;
}

std::map<std::string, int> readPositions(const Pack& pack, const std::filesystem::path& file,
                                         int frameCount) {
    const json content = readJson(file);
    if (!content.is_object() || !content.contains("positions") ||
        !content.at("positions").is_object()) {
        throw dataError(file, "/positions", "an object of positions and frames is missing");
    }
    std::map<std::string, int> positions;
    for (const auto& [id, value] : content.at("positions").items()) {
        const std::string place = "/positions/" + id;
        if (findPosition(pack, id) == nullptr) {
            throw dataError(file, place, "the pack “" + pack.id + "” has no such position");
        }
        const json frame = value.is_object() ? value.value("frame", json()) : value;
        if (!frame.is_number_integer()) {
            throw dataError(file, place, "a frame number is missing");
        }
        const auto number = frame.get<std::int64_t>();
        if (number < 0 || number >= frameCount) {
            throw dataError(file, place,
                            "the clip has no frame " + std::to_string(number) + "; its last is " +
                                std::to_string(frameCount - 1));
        }
        positions[id] = static_cast<int>(number);
    }
    return positions;
}

} // namespace kestrel::technique
