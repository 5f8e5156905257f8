#include "model/record.h"

#include <charconv>
#include <chrono>

namespace kestrel::model {
namespace {

std::optional<std::chrono::year_month_day> parseDay(const IsoDate& text) {
    int year = 0;
    unsigned month = 0;
    unsigned day = 0;
    if (text.size() != 10 || text[4] != '-' || text[7] != '-') {
        return std::nullopt;
    }
    const auto number = [&](std::size_t at, std::size_t n, auto& out) {
        const char* first = text.data() + at;
        const auto result = std::from_chars(first, first + n, out);
        return result.ec == std::errc() && result.ptr == first + n;
    };
    if (!number(0, 4, year) || !number(5, 2, month) || !number(8, 2, day)) {
        return std::nullopt;
    }
    const std::chrono::year_month_day date{std::chrono::year(year), std::chrono::month(month),
                                           std::chrono::day(day)};
    return date.ok() ? std::optional(date) : std::nullopt;
}

} // namespace

std::string_view name(Sex sex) {
    return sex == Sex::girl ? "girl" : "boy";
}

std::optional<Sex> sexFromName(std::string_view text) {
    for (const Sex sex : {Sex::girl, Sex::boy}) {
        if (name(sex) == text) {
            return sex;
        }
    }
    return std::nullopt;
}

std::string_view name(Seen seen) {
    switch (seen) {
    case Seen::yes:
        return "yes";
    case Seen::no:
        return "no";
    case Seen::notVisible:
        return "not_visible";
    }
    return {};
}

std::optional<Seen> seenFromName(std::string_view text) {
    for (const Seen seen : {Seen::yes, Seen::no, Seen::notVisible}) {
        if (name(seen) == text) {
            return seen;
        }
    }
    return std::nullopt;
}

std::optional<int> ageInYears(const IsoDate& born, const IsoDate& day) {
    const auto from = parseDay(born);
    const auto to = parseDay(day);
    if (!from || !to || *to < *from) {
        return std::nullopt;
    }
    int years = static_cast<int>(to->year()) - static_cast<int>(from->year());
    if (std::pair(to->month(), to->day()) < std::pair(from->month(), from->day())) {
        --years;
    }
    return years;
}

std::optional<int> daysBetween(const IsoDate& from, const IsoDate& to) {
    const auto first = parseDay(from);
    const auto last = parseDay(to);
    if (!first || !last) {
        return std::nullopt;
    }
    return static_cast<int>((std::chrono::sys_days(*last) - std::chrono::sys_days(*first)).count());
}

std::optional<int> frameOf(const Rep& rep, const std::string& positionId) {
    if (const auto set = rep.positions.find(positionId); set != rep.positions.end()) {
        return set->second;
    }
    const auto found = rep.found.find(positionId);
    return found == rep.found.end() ? std::nullopt : std::optional(found->second.frame);
}

const FoundInstant* onlyFound(const Rep& rep, const std::string& positionId) {
    const auto found = rep.found.find(positionId);
    return found == rep.found.end() || rep.positions.contains(positionId) ? nullptr
                                                                          : &found->second;
}

std::map<std::string, int> allPositions(const Rep& rep) {
    std::map<std::string, int> all = rep.positions;
    for (const auto& [id, instant] : rep.found) {
        all.try_emplace(id, instant.frame);
    }
    return all;
}

} // namespace kestrel::model
