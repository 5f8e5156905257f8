#include "synth/body.h"

#include <algorithm>
#include <array>
#include <random>
#include <utility>

namespace kestrel::synth {
namespace {

constexpr std::array bands{std::pair{AgeBand::under10, std::string_view("u10")},
                           std::pair{AgeBand::under13, std::string_view("u13")},
                           std::pair{AgeBand::under16, std::string_view("u16")},
                           std::pair{AgeBand::adult, std::string_view("adult")}};
constexpr std::array sexes{std::pair{Sex::female, std::string_view("female")},
                           std::pair{Sex::male, std::string_view("male")}};

template <class Table, class Value> std::string_view nameIn(const Table& table, Value value) {
    return std::find_if(table.begin(), table.end(),
                        [value](const auto& e) { return e.first == value; })
        ->second;
}

template <class Table>
auto fromName(const Table& table, std::string_view text)
    -> std::optional<typename Table::value_type::first_type> {
    const auto found = std::find_if(table.begin(), table.end(),
                                    [text](const auto& e) { return e.second == text; });
    return found == table.end() ? std::nullopt : std::optional(found->first);
}

/// How a band differs from the adult, in fractions of standing height.
struct Growth {
    double legs; ///< hip to ankle, shorter
    double head; ///< shoulder to top of head, more
};

Growth growthOf(AgeBand band) {
    switch (band) {
    case AgeBand::under10:
        return {-0.020, 0.022};
    case AgeBand::under13:
        return {-0.010, 0.013};
    case AgeBand::under16:
        return {-0.002, 0.005};
    case AgeBand::adult:
        break;
    }
    return {0.0, 0.0};
}

/// As one person's body differs from the table; standing height stays.
void makeIndividual(Proportions& p, std::uint32_t seed) {
    constexpr double relativeSd = 0.05;
    constexpr double most = 2.0; // standard deviations
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    const auto differ = [&](std::initializer_list<double*> parts) {
        const double times = 1.0 + relativeSd * std::clamp(normal(random), -most, most);
        for (double* part : parts) {
            *part *= times;
        }
    };
    differ({&p.shank});
    differ({&p.thigh});
    differ({&p.trunk});
    differ({&p.shoulderToHead});
    differ({&p.headToTop});
    differ({&p.ankleHeight, &p.heelBehindAnkle, &p.toeAheadOfAnkle});
    differ({&p.halfShoulders});
    differ({&p.halfHips});
    differ({&p.upperArm});
    differ({&p.forearm});
    differ({&p.hand});
    const double tall =
        p.ankleHeight + p.shank + p.thigh + p.trunk + p.shoulderToHead + p.headToTop;
    for (double* part :
         {&p.ankleHeight, &p.shank, &p.thigh, &p.trunk, &p.shoulderToHead, &p.headToTop}) {
        *part /= tall;
    }
}

} // namespace

std::string_view name(AgeBand band) {
    return nameIn(bands, band);
}
std::string_view name(Sex sex) {
    return nameIn(sexes, sex);
}
std::optional<AgeBand> ageBandFromName(std::string_view text) {
    return fromName(bands, text);
}
std::optional<Sex> sexFromName(std::string_view text) {
    return fromName(sexes, text);
}

Proportions proportionsOf(const Build& build) {
    Proportions p;
    const Growth growth = growthOf(build.band);
    p.thigh += 0.5 * growth.legs;
    p.shank += 0.5 * growth.legs;
    p.shoulderToHead += 0.5 * growth.head;
    p.headToTop += 0.5 * growth.head;
    p.trunk -= growth.legs + growth.head;
    const double broad = build.sex == Sex::male ? 1.0 : 0.97;
    p.halfShoulders *= broad;
    p.halfHips *= 2.0 - broad;
    if (build.individual != 0) {
        makeIndividual(p, build.individual);
    }
    return p;
}

} // namespace kestrel::synth
