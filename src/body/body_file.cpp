#include "body/body_file.h"

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
        return FittedBody(std::move(parts));
    } catch (const json::exception&) {
        return std::nullopt;
    } catch (const std::invalid_argument&) {
        return std::nullopt;
    }
}

} // namespace kestrel::body
