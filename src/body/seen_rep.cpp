#include "body/seen_rep.h"

#include <algorithm>
#include <iterator>

namespace kestrel::body {

bool SeenRep::showsMotion() const {
    constexpr std::size_t fewest = 8;
    constexpr double leastRate = 12.0; // a second
    return instants.size() >= fewest &&
           static_cast<double>(instants.size()) >=
               leastRate * (instants.back().time - instants.front().time).value;
}

bool SeenRep::errs() const {
    return std::any_of(instants.begin(), instants.end(), [](const SeenInstant& instant) {
        return std::any_of(instant.points.begin(), instant.points.end(), [](const auto& p) {
            return p.second.fadingPx > 0.0 || p.second.stayingPx > 0.0;
        });
    });
}

std::vector<model::Seconds> SeenRep::times() const {
    std::vector<model::Seconds> all;
    std::transform(instants.begin(), instants.end(), std::back_inserter(all),
                   [](const SeenInstant& instant) { return instant.time; });
    return all;
}

SeenRep SeenRep::thinned(model::Seconds step) const {
    SeenRep coarse = *this;
    coarse.instants.clear();
    for (const SeenInstant& instant : instants) {
        constexpr double nearly = 0.99;
        if (coarse.instants.empty() || instant.wanted ||
            (instant.time - coarse.instants.back().time).value >= nearly * step.value) {
            coarse.instants.push_back(instant);
        }
    }
    if (coarse.instants.back().time < instants.back().time) {
        coarse.instants.push_back(instants.back());
    }
    return coarse;
}

} // namespace kestrel::body
