#include "track/person_follower.h"

#include "track/body_points.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <numbers>
#include <span>
#include <vector>

namespace kestrel::track {
namespace {

using pose::Person;
using pose::PosePoint;
using pose::PoseRegion;

constexpr double leastScore = 0.5; ///< of the network's word that a person is there
constexpr double mostJump = 0.25;  ///< of the region's middle from one frame to the next, in sides
constexpr double jumpGrowth = 0.006; ///< of that, a picture in which the player was not seen
constexpr int surelyBack = 8;        ///< pictures in a row in which somebody is seen again
constexpr double farthestLost = 0.5; ///< in sides, after however long
constexpr double mostGrowth = 1.5;   ///< of the region's side from one frame to the next
constexpr double otherTrunk = 48.0;  ///< difference of mean colour that speaks for somebody else
constexpr double smallJump = 0.06;   ///< below it nobody can have taken the place, in sides
constexpr double around = 2.4;       ///< the window in which other people are noticed, in sides
constexpr int lookAroundEvery = 4;   ///< pictures, while nobody else is near
constexpr double newWay = 0.4;       ///< share of the latest way in the next one expected
constexpr double lostSlowdown = 0.9; ///< of the way, a picture, while the player is not seen
constexpr double steadiness = 0.7;   ///< share of the old side and turn in the next region

std::vector<Person> peopleIn(pose::PersonDetector& detector, const film::Picture& picture,
                             model::Point2 middle, double side) {
    return detector.people(picture, {middle, side, 0.0});
}

void append(std::vector<Person>& to, std::vector<Person> more) {
    to.insert(to.end(), more.begin(), more.end());
}

/// The person whose middle is nearest to `place`, counted in the person's own size; nothing when
/// none covers it.
std::optional<PoseRegion> nearest(const std::vector<Person>& people, model::Point2 place,
                                  double farthest) {
    std::optional<PoseRegion> best;
    double least = farthest;
    for (const Person& person : people) {
        const double far = length(person.region.centre - place) / person.region.side;
        if (far < least) {
            least = far;
            best = person.region;
        }
    }
    return best;
}

model::Point2 middleOf(const model::PixelBox& box) {
    return {box.left + box.width / 2.0, box.top + box.height / 2.0};
}

double blended(double before, double now) {
    return steadiness * before + (1.0 - steadiness) * now;
}

} // namespace

PersonFollower::PersonFollower(pose::PersonDetector& detector, pose::PoseNetwork& network)
    : detector_(detector), network_(network) {}

bool PersonFollower::begin(const film::Picture& picture, const Whom& whom) {
    std::optional<PoseRegion> region;
    if (whom.box) {
        const model::Point2 corner{whom.box->left, whom.box->top};
        region = pose::regionAroundBox(corner,
                                       corner + model::Point2{whom.box->width, whom.box->height});
    } else {
        std::vector<Person> people = detector_.people(picture);
        std::optional<model::Point2> place = whom.point;
        std::vector<double> sides;
        const double longSide = std::max(picture.width, picture.height);
        if (place) {
            sides = {0.7 * longSide, 0.4 * longSide, 0.2 * longSide};
        } else if (whom.mover) {
            place = middleOf(*whom.mover);
            sides = {1.5 * std::max(whom.mover->width, whom.mover->height)};
        }
        // Nearer windows find smaller people.
        for (const double side : sides) {
            append(people, peopleIn(detector_, picture, *place, side));
        }
        if (place) {
            // A click lies on the body; where things move may be somewhat beside it.
            region = nearest(people, *place, whom.point ? 0.6 : 1.5);
        } else if (!people.empty()) {
            region = people.front().region;
        }
    }
    if (!region) {
        return false;
    }
    // On a first picture the second look sees the person better centred.
    const pose::SeenPose first = network_.look(picture, *region);
    const pose::SeenPose second = network_.look(picture, first.next);
    if (second.personScore < leastScore) {
        return false;
    }
    begin_ = second.next;
    beginTrunk_ = trunkColour(picture, second);
    beginHeight_ = bodyHeightSeen(std::span(&second, 1));
    returnToBegin();
    return true;
}

void PersonFollower::returnToBegin() {
    region_ = begin_;
    trunk_ = beginTrunk_;
    lost_ = false;
    seenFor_ = surelyBack; // begin() has looked twice
    sinceLost_ = 0;
    way_ = {};
    others_ = {};
    sinceLookedAround_ = lookAroundEvery; // at once
}

std::vector<PoseRegion> PersonFollower::candidates(const film::Picture& picture) const {
    std::vector<PoseRegion> regions;
    for (const Person& person : peopleIn(detector_, picture, region_.centre, 1.6 * region_.side)) {
        const double growth = person.region.side / region_.side;
        if (growth < mostGrowth && growth > 1.0 / mostGrowth &&
            !isSomebodyElse(person.region.centre) &&
            length(person.region.centre - region_.centre) < 2.0 * farthestJump() * region_.side) {
            regions.push_back(person.region);
        }
    }
    std::sort(regions.begin(), regions.end(), [&](const PoseRegion& a, const PoseRegion& b) {
        return length(a.centre - region_.centre) < length(b.centre - region_.centre);
    });
    regions.push_back(region_);
    return regions;
}

double PersonFollower::farthestJump() const {
    return lost_ ? std::min(mostJump + jumpGrowth * sinceLost_, farthestLost) : mostJump;
}

PersonFollower::Colour PersonFollower::trunkColour(const film::Picture& picture,
                                                   const pose::SeenPose& pose) {
    const model::Point2 top =
        (pose.at(PosePoint::leftShoulder).px + pose.at(PosePoint::rightShoulder).px) * 0.5;
    const model::Point2 bottom =
        (pose.at(PosePoint::leftHip).px + pose.at(PosePoint::rightHip).px) * 0.5;
    Colour sum{};
    int count = 0;
    constexpr int samples = 24;
    for (int i = 0; i < samples; ++i) {
        const model::Point2 at = top + (bottom - top) * (0.2 + 0.6 * i / (samples - 1.0));
        const auto x = static_cast<int>(std::lround(at.x));
        const auto y = static_cast<int>(std::lround(at.y));
        if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) {
            continue;
        }
        const std::uint32_t pixel =
            picture.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) +
                           static_cast<std::size_t>(x)];
        for (std::size_t channel = 0; channel < sum.size(); ++channel) {
            sum[channel] += static_cast<double>(pixel >> (16 - 8 * channel) & 0xFFU);
        }
        ++count;
    }
    for (double& channel : sum) {
        channel /= std::max(1, count);
    }
    return sum;
}

void PersonFollower::lookAround(const film::Picture& picture) {
    others_.advance();
    ++sinceLookedAround_;
    if (others_.isAnybody() || sinceLookedAround_ >= lookAroundEvery) {
        sinceLookedAround_ = 0;
        others_.see(peopleIn(detector_, picture, region_.centre, around * region_.side),
                    region_.centre + way_, region_.side);
    }
}

bool PersonFollower::isSomebodyElse(model::Point2 centre) const {
    const auto fromOther = others_.distanceTo(centre);
    const double fromPlayer = length(centre - region_.centre - way_);
    return fromOther && fromPlayer > smallJump * region_.side && 2.0 * *fromOther < fromPlayer;
}

bool PersonFollower::isSame(const film::Picture& picture, const pose::SeenPose& pose) const {
    if (isSomebodyElse(pose.next.centre)) {
        return false;
    }
    // Who was lost behind somebody is seen again beside them, not in their place.
    const auto fromOther = others_.distanceTo(pose.next.centre);
    if (lost_ && fromOther && *fromOther < clearOfOthers * region_.side) {
        return false;
    }
    const double jump = length(pose.next.centre - region_.centre) / region_.side;
    const double growth = pose.next.side / region_.side;
    if (pose.personScore < leastScore || jump > farthestJump() || growth > mostGrowth ||
        growth < 1.0 / mostGrowth) {
        return false;
    }
    if (jump < smallJump) {
        return true;
    }
    const Colour now = trunkColour(picture, pose);
    double difference = 0.0;
    for (std::size_t channel = 0; channel < now.size(); ++channel) {
        difference = std::max(difference, std::abs(now[channel] - trunk_[channel]));
    }
    return difference < otherTrunk;
}

std::optional<pose::SeenPose> PersonFollower::look(const film::Picture& picture) {
    lookAround(picture);
    const bool covered = others_.cover(region_.centre + way_, region_.side);
    std::optional<pose::SeenPose> seen;
    if (!lost_ && !covered) {
        seen = network_.look(picture, region_);
    }
    if (!covered && (!seen || !isSame(picture, *seen))) {
        seen.reset();
        lost_ = true;
        // The detector sees the most striking person only; the player may be there all the same.
        for (const PoseRegion& region : candidates(picture)) {
            const pose::SeenPose first = network_.look(picture, region);
            const pose::SeenPose second = network_.look(picture, first.next);
            if (isSame(picture, second)) {
                seen = second;
                break;
            }
        }
    }
    lost_ = !seen;
    ++sinceLost_;
    if (lost_) {
        if (seenFor_ >= surelyBack) {
            lastSure_ = region_;
            sinceLost_ = 0;
        } else if (seenFor_ > 0) {
            // Seen for a moment only: that was hardly the player, who is looked for where last
            // seen for certain.
            region_ = lastSure_;
            way_ = {};
        }
        seenFor_ = 0;
        region_.centre = region_.centre + way_;
        way_ = way_ * lostSlowdown;
        return std::nullopt;
    }
    ++seenFor_;
    const Colour now = trunkColour(picture, *seen);
    for (std::size_t channel = 0; channel < now.size() && seenFor_ >= surelyBack; ++channel) {
        trunk_[channel] = 0.95 * trunk_[channel] + 0.05 * now[channel];
    }
    way_ = way_ * (1.0 - newWay) + (seen->next.centre - region_.centre) * newWay;
    region_.centre = seen->next.centre;
    region_.side = blended(region_.side, seen->next.side);
    region_.turn +=
        (1.0 - steadiness) * std::remainder(seen->next.turn - region_.turn, 2.0 * std::numbers::pi);
    return seen;
}

} // namespace kestrel::track
