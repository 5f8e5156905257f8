#include "track/person/bystanders.h"

#include <algorithm>
#include <cmath>

namespace kestrel::track {
namespace {

constexpr double farthestMatch = 0.2; ///< of a sighting from where somebody is expected, in sides
constexpr double beside = 0.3;        ///< of the player, where other people are first noticed
constexpr int oftenEnough = 3;        ///< sightings; a single one may be a shadow
constexpr int longestUnseen = 50;     ///< pictures behind somebody else
/// Nearer to the player than this many sides, what the detector sees is drawn to the player, and
/// counts that much less.
constexpr double mixed = 0.5;
constexpr double mixedTrust = 0.3;
constexpr double newSide = 0.3;    ///< share of the latest side in what is expected
constexpr double alike = 1.3;      ///< sides of one person in two pictures, at most
constexpr double notSmaller = 0.9; ///< of the covered one's side
/// Once somebody was seen often: shares of what a sighting misses the expected place by that go
/// into place and way. The middle of the hips scatters by a thirtieth of the side from sighting to
/// sighting, far more than a walking person's way changes.
constexpr double placeShare = 0.25;
constexpr double wayShare = placeShare * placeShare / (2.0 - placeShare); // Benedict, Bordner 1962
/// Around the middle of the hips of somebody upright, arms included, in sides (which are 1.33
/// standing heights).
constexpr double halfBreadth = 0.16;
constexpr double overHips = 0.37;
constexpr double underHips = 0.41;

} // namespace

void Bystanders::advance() {
    for (Bystander& other : bystanders_) {
        other.place = other.place + other.way;
        ++other.unseen;
    }
    std::erase_if(bystanders_, [](const Bystander& other) { return other.unseen > longestUnseen; });
}

void Bystanders::see(const std::vector<pose::Person>& people, model::Point2 player, double side) {
    for (const pose::Person& person : people) {
        const model::Point2 at = person.region.centre;
        const double fromPlayer = length(at - player);
        const auto nearest = std::min_element(
            bystanders_.begin(), bystanders_.end(), [&](const Bystander& a, const Bystander& b) {
                return length(a.place - at) < length(b.place - at);
            });
        const double growth =
            nearest == bystanders_.end() ? 1.0 : person.region.side / nearest->side;
        if (nearest != bystanders_.end() && nearest->unseen > 0 &&
            length(nearest->place - at) < std::min(fromPlayer, farthestMatch * side)) {
            // Who is of another size is seen mixed with somebody, or is the player.
            if (growth < alike && growth > 1.0 / alike) {
                update(*nearest, person.region, fromPlayer < mixed * side);
            }
        } else if (fromPlayer > beside * side &&
                   (nearest == bystanders_.end() ||
                    length(nearest->place - at) > farthestMatch * side)) {
            bystanders_.push_back({at, {}, person.region.side, 1, 0});
        }
    }
}

bool Bystanders::isSure(const Bystander& other) {
    return other.seen >= oftenEnough;
}

void Bystanders::update(Bystander& other, const pose::PoseRegion& seen, bool besidePlayer) {
    ++other.seen;
    // At first the line through all sightings, as if they were evenly spaced.
    const double n = other.seen;
    const double trust = besidePlayer ? mixedTrust : 1.0;
    const double place = trust * std::max(placeShare, 2.0 * (2.0 * n - 1.0) / (n * (n + 1.0)));
    const double way = trust * std::max(wayShare, 6.0 / (n * (n + 1.0)));
    const model::Point2 miss = seen.centre - other.place;
    other.place = other.place + miss * place;
    other.way = other.way + miss * (way / other.unseen);
    other.side = other.side * (1.0 - newSide) + seen.side * newSide;
    other.unseen = 0;
}

std::optional<double> Bystanders::distanceTo(model::Point2 place) const {
    std::optional<double> least;
    for (const Bystander& other : bystanders_) {
        const double distance = length(other.place - place);
        if (isSure(other) && (!least || distance < *least)) {
            least = distance;
        }
    }
    return least;
}

bool Bystanders::cover(model::Point2 place, double side) const {
    return std::any_of(bystanders_.begin(), bystanders_.end(), [&](const Bystander& other) {
        return isSure(other) && other.side > notSmaller * side &&
               length(other.place - place) < clearOfBystanders * side;
    });
}

bool Bystanders::mayHide(model::Point2 point, double side) const {
    return std::any_of(bystanders_.begin(), bystanders_.end(), [&](const Bystander& other) {
        const model::Point2 from = point - other.place;
        return isSure(other) && other.side > notSmaller * side &&
               std::abs(from.x) < halfBreadth * other.side && from.y > -overHips * other.side &&
               from.y < underHips * other.side;
    });
}

} // namespace kestrel::track
