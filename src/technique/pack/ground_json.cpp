#include "technique/pack/ground_json.h"

#include "technique/pack/json_file.h"
#include "technique/pack/known_length.h"
#include "technique/pack/pack.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

using nlohmann::json;

double side(const json& content, const char* key, const std::filesystem::path& file) {
    const json value = content.value(key, json());
    if (!value.is_number() || value.get<double>() <= 0.0) {
        throw dataError(file, std::string("/") + key, model::message("data.side_missing"));
    }
    return value.get<double>();
}

} // namespace

model::GroundMarks readGroundMarks(const Pack& pack, const std::filesystem::path& file) {
    const json content = parseJson(readText(file), file);
    if (!content.is_object() || !content.value("place", json()).is_string()) {
        throw dataError(file, "/place", model::message("data.place_missing"));
    }
    model::GroundMarks marks;
    marks.placeId = content.at("place").get<std::string>();
    if (marks.placeId == ownRectangle) {
        marks.alongM = model::Metres(side(content, "along_m", file));
        marks.acrossM = model::Metres(side(content, "across_m", file));
    }
    const bool isLength = marks.placeId == knownLength;
    if (isLength) {
        marks.alongM = model::Metres(side(content, "along_m", file));
    }
    const auto place = isLength ? std::optional(lengthPlace()) : placeOf(pack, marks);
    if (!place) {
        throw dataError(file, "/place",
                        model::message("data.no_such_place", pack.id, marks.placeId));
    }
    const json frame = content.value("frame", json(0));
    if (!frame.is_number_integer() || frame.get<std::int64_t>() < 0) {
        throw dataError(file, "/frame", model::message("data.frame_missing"));
    }
    marks.frame = frame.get<int>();
    const json points = content.value("points", json());
    if (!points.is_object()) {
        throw dataError(file, "/points", model::message("data.points_missing"));
    }
    for (const auto& [id, px] : points.items()) {
        const bool known = std::any_of(place->points.begin(), place->points.end(),
                                       [id = id](const GroundPoint& p) { return p.id == id; });
        if (!known) {
            throw dataError(file, "/points/" + id,
                            model::message("data.no_such_point", place->name));
        }
        if (!px.is_array() || px.size() != 2 || !px[0].is_number() || !px[1].is_number()) {
            throw dataError(file, "/points/" + id, model::message("data.xy_missing"));
        }
        marks.points[id] = {px[0].get<double>(), px[1].get<double>()};
    }
    for (const auto& edge : content.value("straight_edges", json::array())) {
        marks.straightEdges.emplace_back();
        const std::string place =
            "/straight_edges/" + std::to_string(marks.straightEdges.size() - 1);
        if (!edge.is_array()) {
            throw dataError(file, place, model::message("data.edge_missing"));
        }
        for (const json& px : edge) {
            if (!px.is_array() || px.size() != 2 || !px[0].is_number() || !px[1].is_number()) {
                throw dataError(file, place, model::message("data.xy_missing"));
            }
            marks.straightEdges.back().push_back({px[0].get<double>(), px[1].get<double>()});
        }
    }
    return marks;
}

} // namespace kestrel::technique
