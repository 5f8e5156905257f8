#include "body/ground_contact.h"

#include <array>

namespace kestrel::body {
namespace {

using model::Landmark;

constexpr std::array ends{Landmark::leftHeel, Landmark::rightHeel, Landmark::leftToe,
                          Landmark::rightToe};
/// A foot that stands is seen to move less than this, standing heights a second, and stays for as
/// long as this, seconds. Working figures.
constexpr double stillBhS = 0.25;
constexpr double shortest = 0.08;
/// Speeds are told over so long a time, seconds, so that placing does not look like moving.
constexpr double over = 0.05;

} // namespace

std::vector<Contact> contacts(const SeenRep& rep, double scalePx) {
    std::vector<Contact> found;
    const auto seenAt = [&](std::size_t i, Landmark end) -> const Seen* {
        const auto seen = rep.instants[i].points.find(end);
        return seen == rep.instants[i].points.end() ? nullptr : &seen->second;
    };
    const auto still = [&](std::size_t i, Landmark end) {
        std::size_t a = i;
        std::size_t b = i;
        const double time = rep.instants[i].time.value;
        while (a > 0 && time - rep.instants[a].time.value < over) {
            --a;
        }
        while (b + 1 < rep.instants.size() && rep.instants[b].time.value - time < over) {
            ++b;
        }
        const Seen* from = seenAt(a, end);
        const Seen* to = seenAt(b, end);
        if (from == nullptr || to == nullptr || a == b) {
            return false;
        }
        const double took = (rep.instants[b].time - rep.instants[a].time).value;
        return model::length(to->px - from->px) / scalePx < stillBhS * took;
    };
    for (const Landmark end : ends) {
        for (std::size_t i = 0; i < rep.instants.size(); ++i) {
            if (!still(i, end)) {
                continue;
            }
            std::size_t last = i;
            while (last + 1 < rep.instants.size() && still(last + 1, end)) {
                ++last;
            }
            if ((rep.instants[last].time - rep.instants[i].time).value >= shortest) {
                found.push_back({end, i, last});
            }
            i = last;
        }
    }
    return found;
}

} // namespace kestrel::body
