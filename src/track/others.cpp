#include "track/others.h"

#include <algorithm>

namespace kestrel::track {
namespace {

constexpr double farthestMatch = 0.2; ///< of a sighting from where somebody is expected, in sides
constexpr double beside = 0.3;        ///< of the player, where other people are first noticed
constexpr int oftenEnough = 3;        ///< sightings; a single one may be a shadow
constexpr int longestUnseen = 50;     ///< pictures behind somebody else
constexpr double newWay = 0.3;        ///< share of the latest way and side in what is expected
constexpr double notSmaller = 0.9;    ///< of the covered one's side

} // namespace

void Others::advance() {
    for (Other& other : others_) {
        other.place = other.place + other.way;
        ++other.unseen;
    }
    std::erase_if(others_, [](const Other& other) { return other.unseen > longestUnseen; });
}

void Others::see(const std::vector<pose::Person>& people, model::Point2 player, double side) {
    for (const pose::Person& person : people) {
        const model::Point2 at = person.region.centre;
        const double fromPlayer = length(at - player);
        const auto nearest =
            std::min_element(others_.begin(), others_.end(), [&](const Other& a, const Other& b) {
                return length(a.place - at) < length(b.place - at);
            });
        if (nearest != others_.end() && nearest->unseen > 0 &&
            length(nearest->place - at) < std::min(fromPlayer, farthestMatch * side)) {
            const model::Point2 start = nearest->place - nearest->way * nearest->unseen;
            const model::Point2 way = (at - start) * (1.0 / nearest->unseen);
            nearest->way = nearest->seen == 1 ? way : nearest->way * (1.0 - newWay) + way * newWay;
            nearest->side = nearest->side * (1.0 - newWay) + person.region.side * newWay;
            nearest->place = at;
            nearest->unseen = 0;
            ++nearest->seen;
        } else if (fromPlayer > beside * side &&
                   (nearest == others_.end() ||
                    length(nearest->place - at) > farthestMatch * side)) {
            others_.push_back({at, {}, person.region.side, 1, 0});
        }
    }
}

std::optional<double> Others::distanceTo(model::Point2 place) const {
    std::optional<double> least;
    for (const Other& other : others_) {
        const double distance = length(other.place - place);
        if (other.seen >= oftenEnough && (!least || distance < *least)) {
            least = distance;
        }
    }
    return least;
}

bool Others::cover(model::Point2 place, double side) const {
    return std::any_of(others_.begin(), others_.end(), [&](const Other& other) {
        return other.seen >= oftenEnough && other.side > notSmaller * side &&
               length(other.place - place) < clearOfOthers * side;
    });
}

} // namespace kestrel::track
