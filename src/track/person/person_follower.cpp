#include "track/person/person_follower.h"

#include "track/person/body_points.h"

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
constexpr double jumpGrowth = 0.006;  ///< of that, a picture in which the player was not seen
constexpr double farthestLost = 0.5;  ///< in sides, after however long
constexpr double mostGrowth = 1.5;    ///< of the region's side from one frame to the next
constexpr double otherClothes = 48.0; ///< difference of mean colour that speaks for somebody else
constexpr double otherClothesNear = 40.0; ///< the same, while somebody else may be meant
constexpr double newColour = 0.05;        ///< share of the latest colour in the mean
constexpr std::array besides{-0.15, 0.15, -0.3, 0.3}; ///< in farthest jumps
constexpr double narrower = 0.87; ///< than the player's region, to show less of who stands beside
constexpr double near = 0.5;      ///< nearer than that many sides somebody else may be mixed up
/// Of the region's side while somebody else is near, against what it was before.
constexpr double mostGrowthNear = 1.25;
constexpr double newSureSide = 0.1;  ///< share of the latest side in the one that is held against
constexpr double smallJump = 0.06;   ///< below it nobody can have taken the place, in sides
constexpr double around = 2.4;       ///< the window in which other people are noticed, in sides
constexpr int longAway = 30;         ///< pictures without the player
constexpr int awayLookEvery = 3;     ///< pictures, from then on
constexpr int lookAroundEvery = 8;   ///< pictures, while nobody else is near
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

/// The mean colour along the middle three fifths of some lines.
std::array<double, 3>
meanColour(const film::Picture& picture,
           const std::vector<std::pair<model::Point2, model::Point2>>& lines) {
    std::array<double, 3> sum{};
    int count = 0;
    constexpr int samples = 24;
    for (const auto& [from, to] : lines) {
        for (int i = 0; i < samples; ++i) {
            const model::Point2 at = from + (to - from) * (0.2 + 0.6 * i / (samples - 1.0));
            const auto x = static_cast<int>(std::lround(at.x));
            const auto y = static_cast<int>(std::lround(at.y));
            if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) {
                continue;
            }
            const std::uint32_t pixel =
                picture
                    .pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(picture.width) +
                            static_cast<std::size_t>(x)];
            for (std::size_t channel = 0; channel < sum.size(); ++channel) {
                sum[channel] += static_cast<double>(pixel >> (16 - 8 * channel) & 0xFFU);
            }
            ++count;
        }
    }
    for (double& channel : sum) {
        channel /= std::max(1, count);
    }
    return sum;
}

void follow(std::array<double, 3>& mean, const std::array<double, 3>& now) {
    for (std::size_t channel = 0; channel < mean.size(); ++channel) {
        mean[channel] += newColour * (now[channel] - mean[channel]);
    }
}

double blended(double before, double now) {
    return steadiness * before + (1.0 - steadiness) * now;
}

} // namespace

PersonFollower::PersonFollower(pose::PersonDetector& detector, pose::PoseNetwork& network)
    : detector_(detector), network_(network) {}

bool PersonFollower::begin(const film::Picture& picture, const SubjectSeed& seed) {
    std::optional<PoseRegion> region;
    if (seed.box) {
        const model::Point2 corner{seed.box->left, seed.box->top};
        region = pose::regionAroundBox(corner,
                                       corner + model::Point2{seed.box->width, seed.box->height});
    } else {
        std::vector<Person> people = detector_.people(picture);
        std::optional<model::Point2> place = seed.point;
        std::vector<double> sides;
        const double longSide = std::max(picture.width, picture.height);
        if (place) {
            sides = {0.7 * longSide, 0.4 * longSide, 0.2 * longSide};
        } else if (seed.mover) {
            place = middleOf(*seed.mover);
            sides = {1.5 * std::max(seed.mover->width, seed.mover->height)};
        }
        // Nearer windows find smaller people.
        for (const double side : sides) {
            append(people, peopleIn(detector_, picture, *place, side));
        }
        if (place) {
            // A click lies on the body; where things move may be somewhat beside it.
            region = nearest(people, *place, seed.point ? 0.6 : 1.5);
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
    region_ = second.next;
    sureSide_ = region_.side;
    clothes_ = clothesOf(picture, second);
    beginHeight_ = bodyHeightSeen(std::span(&second, 1));
    lost_ = false;
    seenFor_ = surelyBack; // it was looked at twice
    sinceLost_ = 0;
    way_ = {};
    bystanders_ = {};
    crossing_ = false;
    sinceLookedAround_ = lookAroundEvery; // at once
    return true;
}

std::vector<PoseRegion> PersonFollower::candidates(const film::Picture& picture) const {
    std::vector<Person> people = peopleIn(detector_, picture, region_.centre, 1.6 * region_.side);
    std::vector<PoseRegion> regions{region_};
    if (crossing_) {
        // The detector sees the most striking person only, and the network whoever is in the
        // middle; a region beside the expected one, another in each picture, finds who is there.
        append(people, peopleIn(detector_, picture, region_.centre, region_.side));
        PoseRegion beside = region_;
        beside.side = narrower * sureSide_;
        beside.centre.x += besides[static_cast<std::size_t>(sinceLost_) % besides.size()] *
                           farthestJump() * region_.side;
        regions.push_back(beside);
    }
    for (const Person& person : people) {
        const double growth = person.region.side / region_.side;
        const bool known =
            std::any_of(regions.begin(), regions.end(), [&](const PoseRegion& region) {
                return length(region.centre - person.region.centre) < smallJump * region_.side;
            });
        if (!known && growth < mostGrowth && growth > 1.0 / mostGrowth &&
            !isSomebodyElse(person.region.centre) &&
            length(person.region.centre - region_.centre) < 2.0 * farthestJump() * region_.side) {
            regions.push_back(person.region);
        }
    }
    return regions;
}

double PersonFollower::farthestJump() const {
    return lost_ ? std::min(mostJump + jumpGrowth * sinceLost_, farthestLost) : mostJump;
}

PersonFollower::Clothes PersonFollower::clothesOf(const film::Picture& picture,
                                                  const pose::SeenPose& pose) {
    const auto middle = [&](PosePoint a, PosePoint b) {
        return (pose.at(a).px + pose.at(b).px) * 0.5;
    };
    const model::Point2 shoulders = middle(PosePoint::leftShoulder, PosePoint::rightShoulder);
    const model::Point2 hips = middle(PosePoint::leftHip, PosePoint::rightHip);
    Clothes clothes;
    clothes.trunk = meanColour(picture, {{shoulders, hips}});
    clothes.thighs =
        meanColour(picture, {{pose.at(PosePoint::leftHip).px, pose.at(PosePoint::leftKnee).px},
                             {pose.at(PosePoint::rightHip).px, pose.at(PosePoint::rightKnee).px}});
    return clothes;
}

double PersonFollower::unlike(const film::Picture& picture, const pose::SeenPose& pose) const {
    const Clothes now = clothesOf(picture, pose);
    double difference = 0.0;
    for (std::size_t channel = 0; channel < now.trunk.size(); ++channel) {
        difference = std::max({difference, std::abs(now.trunk[channel] - clothes_.trunk[channel]),
                               std::abs(now.thighs[channel] - clothes_.thighs[channel])});
    }
    return difference;
}

void PersonFollower::lookAround(const film::Picture& picture) {
    bystanders_.advance();
    ++sinceLookedAround_;
    if (bystanders_.isAnybody() || sinceLookedAround_ >= lookAroundEvery) {
        sinceLookedAround_ = 0;
        bystanders_.see(peopleIn(detector_, picture, region_.centre, around * region_.side),
                        region_.centre + way_, region_.side);
    }
    const auto fromOther = bystanders_.distanceTo(region_.centre + way_);
    if (fromOther && *fromOther < near * region_.side) {
        crossing_ = true;
    } else if (seenFor_ >= surelyBack) {
        crossing_ = false;
    }
}

bool PersonFollower::isSomebodyElse(model::Point2 centre) const {
    const auto fromOther = bystanders_.distanceTo(centre);
    const double fromPlayer = length(centre - region_.centre - way_);
    return fromOther && fromPlayer > smallJump * region_.side && 2.0 * *fromOther < fromPlayer;
}

bool PersonFollower::mayBeBehindSomebody(model::Point2 point) const {
    return bystanders_.mayHide(point, region_.side);
}

bool PersonFollower::isSame(const film::Picture& picture, const pose::SeenPose& pose) const {
    if (isSomebodyElse(pose.next.centre)) {
        return false;
    }
    // Who was lost behind somebody is seen again beside them, not in their place.
    const auto fromOther = bystanders_.distanceTo(pose.next.centre);
    if (lost_ && fromOther && *fromOther < clearOfBystanders * region_.side) {
        return false;
    }
    const double jump = length(pose.next.centre - region_.centre) / region_.side;
    const double growth = pose.next.side / region_.side;
    if (pose.personScore < leastScore || jump > farthestJump() || growth > mostGrowth ||
        growth < 1.0 / mostGrowth) {
        return false;
    }
    const double sureGrowth = pose.next.side / sureSide_;
    if (crossing_ && (sureGrowth > mostGrowthNear || sureGrowth < 1.0 / mostGrowthNear)) {
        return false;
    }
    if (jump < smallJump && !crossing_) {
        return true;
    }
    return unlike(picture, pose) < (crossing_ ? otherClothesNear : otherClothes);
}

std::optional<pose::SeenPose> PersonFollower::found(const film::Picture& picture) {
    std::optional<pose::SeenPose> best;
    double least = 0.0;
    const auto consider = [&](const pose::SeenPose& seen) {
        if (!isSame(picture, seen)) {
            return;
        }
        const double unlikely =
            unlike(picture, seen) / otherClothesNear +
            std::abs(std::log(seen.next.side / sureSide_)) / std::log(mostGrowthNear) +
            length(seen.next.centre - region_.centre) / (farthestJump() * region_.side);
        if (!best || unlikely < least) {
            best = seen;
            least = unlikely;
        }
    };
    for (const PoseRegion& region : candidates(picture)) {
        const pose::SeenPose first = network_.look(picture, region);
        consider(network_.look(picture, first.next));
        if (crossing_) {
            consider(first); // the second look may go to who stands beside
        }
    }
    return best;
}

std::optional<pose::SeenPose> PersonFollower::look(const film::Picture& picture) {
    lookAround(picture);
    const bool occluded = bystanders_.cover(region_.centre + way_, region_.side);
    // Who has been away for long is looked for now and then only: that takes many looks.
    const bool worthLooking = !lost_ || sinceLost_ < longAway || sinceLost_ % awayLookEvery == 0;
    std::optional<pose::SeenPose> seen;
    if (!lost_ && !occluded) {
        seen = network_.look(picture, region_);
    }
    if (seen && !isSame(picture, *seen)) {
        seen.reset();
        lost_ = true;
    }
    if (!seen && !occluded && worthLooking) {
        lost_ = true;
        seen = found(picture);
    }
    lost_ = !seen;
    ++sinceLost_;
    if (lost_) {
        if (seenFor_ >= surelyBack) {
            lastSure_ = region_;
            lastSureWay_ = way_;
            sinceLost_ = 0;
        }
        // Somebody seen for a moment only was hardly the player, who is looked for where last seen
        // for certain, and a little on.
        seenFor_ = 0;
        region_ = lastSure_;
        const double slowed = std::pow(lostSlowdown, sinceLost_ + 1);
        region_.centre.x += lastSureWay_.x * (1.0 - slowed) / (1.0 - lostSlowdown);
        way_ = {lastSureWay_.x * slowed, 0.0}; // people move along the ground
        return std::nullopt;
    }
    ++seenFor_;
    if (seenFor_ >= surelyBack && !crossing_) {
        const Clothes now = clothesOf(picture, *seen);
        follow(clothes_.trunk, now.trunk);
        follow(clothes_.thighs, now.thighs);
        sureSide_ += newSureSide * (seen->next.side - sureSide_);
    }
    way_ = way_ * (1.0 - newWay) + (seen->next.centre - region_.centre) * newWay;
    region_.centre = seen->next.centre;
    region_.side = blended(region_.side, seen->next.side);
    region_.turn +=
        (1.0 - steadiness) * std::remainder(seen->next.turn - region_.turn, 2.0 * std::numbers::pi);
    return seen;
}

} // namespace kestrel::track
