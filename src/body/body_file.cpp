#include "body/body_file.h"

#include "body/body_points.h"

#include <nlohmann/json.hpp>

#include <bit>
#include <cstring>
#include <stdexcept>

namespace kestrel::body {
namespace {

using nlohmann::json;

/// To be raised when the estimate changes, so that bodies kept are fitted anew.
constexpr int version = 2;

static_assert(std::endian::native == std::endian::little, "numbers are kept as they lie in memory");

template <class Number> json packed(const std::vector<Number>& numbers) {
    json::binary_t::container_type bytes(numbers.size() * sizeof(Number));
    std::memcpy(bytes.data(), numbers.data(), bytes.size());
    return json::binary(std::move(bytes));
}

template <class Number> std::vector<Number> unpacked(const json& kept) {
    const auto& bytes = kept.get_binary();
    if (bytes.size() % sizeof(Number) != 0) {
        throw std::invalid_argument("half a number");
    }
    std::vector<Number> numbers(bytes.size() / sizeof(Number));
    std::memcpy(numbers.data(), bytes.data(), bytes.size());
    return numbers;
}

json keptEnd(const SearchEnd& end) {
    json answers = json::array();
    for (const SearchEnd::Answer& answer : end.answers) {
        answers.push_back({{"limb", answer.limb},
                           {"odds", answer.odds},
                           {"first", answer.first},
                           {"last", answer.last},
                           {"points", answer.points},
                           {"places", packed(answer.places)}});
    }
    json others = json::array();
    for (const SearchEnd::Other& other : end.others) {
        others.push_back({{"odds", other.odds}, {"beside", packed(other.beside)}});
    }
    return {{"sum", end.sum},
            {"distance_information", end.distanceInformation},
            {"unit_px", end.unitPx},
            {"log_height", end.logHeight},
            {"azimuth", end.azimuth},
            {"camera", end.camera},
            {"gravity", end.gravity},
            {"lean", end.lean},
            {"landmark_errors", packed(end.landmarkErrors)},
            {"answers", std::move(answers)},
            {"others", std::move(others)}};
}

/// Of a body with so many instants; std::invalid_argument when its parts do not go together.
SearchEnd endFrom(const json& kept, std::size_t instants) {
    const auto insist = [](bool right) {
        if (!right) {
            throw std::invalid_argument("the end of a search does not go with its body");
        }
    };
    SearchEnd end;
    end.sum = kept.at("sum");
    end.distanceInformation = kept.at("distance_information");
    end.unitPx = kept.at("unit_px");
    end.logHeight = kept.at("log_height");
    end.azimuth = kept.at("azimuth");
    end.camera = kept.at("camera");
    end.gravity = kept.at("gravity");
    end.lean = kept.at("lean");
    end.landmarkErrors = unpacked<double>(kept.at("landmark_errors"));
    for (const json& one : kept.at("answers")) {
        SearchEnd::Answer& answer = end.answers.emplace_back();
        answer.limb = one.at("limb");
        answer.odds = one.at("odds");
        answer.first = one.at("first");
        answer.last = one.at("last");
        answer.points = one.at("points").get<std::vector<std::size_t>>();
        answer.places = unpacked<float>(one.at("places"));
        insist(answer.first <= answer.last && answer.last < instants &&
               answer.places.size() == 3 * (answer.last - answer.first + 1) * answer.points.size());
        for (const std::size_t point : answer.points) {
            insist(point < pointCount);
        }
    }
    for (const json& one : kept.at("others")) {
        end.others.push_back({one.at("odds"), unpacked<float>(one.at("beside"))});
        insist(end.others.back().beside.size() == 3 * pointCount * instants);
    }
    return end;
}

} // namespace

std::vector<std::uint8_t> toBytes(const FittedBody& body) {
    const FittedParts& parts = body.parts();
    std::vector<double> times;
    for (const model::Seconds time : parts.times) {
        times.push_back(time.value);
    }
    json draws = json::array();
    for (const auto& draw : parts.draws) {
        draws.push_back(packed(draw));
    }
    json kept({{"version", version},
               {"times", packed(times)},
               {"places", packed(parts.places)},
               {"draws", std::move(draws)},
               {"lengths", parts.lengths},
               {"distance_bh", parts.distanceBh},
               {"ground_bh", parts.groundBh}});
    if (parts.target) {
        kept["target"] = {parts.target->radians, parts.target->sd};
    }
    if (parts.end) {
        kept["end"] = keptEnd(*parts.end);
    }
    return json::to_cbor(kept);
}

std::optional<FittedBody> bodyFromBytes(std::span<const std::uint8_t> bytes) {
    const json kept = json::from_cbor(bytes.begin(), bytes.end(), true, false);
    if (kept.is_discarded()) {
        return std::nullopt;
    }
    try {
        if (kept.at("version").get<int>() != version) {
            return std::nullopt;
        }
        FittedParts parts;
        for (const double time : unpacked<double>(kept.at("times"))) {
            parts.times.emplace_back(time);
        }
        parts.places = unpacked<float>(kept.at("places"));
        for (const json& draw : kept.at("draws")) {
            parts.draws.push_back(unpacked<std::int16_t>(draw));
        }
        parts.lengths = kept.at("lengths");
        parts.distanceBh = kept.at("distance_bh");
        parts.groundBh = kept.at("ground_bh");
        if (const auto target = kept.find("target"); target != kept.end()) {
            parts.target = {target->at(0).get<double>(), target->at(1).get<double>()};
        }
        if (const auto end = kept.find("end"); end != kept.end()) {
            parts.end = endFrom(*end, parts.times.size());
        }
        return FittedBody(std::move(parts));
    } catch (const json::exception&) {
        return std::nullopt;
    } catch (const std::invalid_argument&) {
        return std::nullopt;
    }
}

} // namespace kestrel::body
