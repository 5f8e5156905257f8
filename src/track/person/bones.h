#pragma once

#include "model/landmark.h"

#include <utility>
#include <vector>

/// What the lengths of a player's bones say about where joints are.
namespace kestrel::track {

/// A bone and how long it may look, source pixels.
struct BoneLength {
    model::Landmark from;
    model::Landmark to;
    double px = 0.0;
};

/// How long the player's bones can look: what is usual at a standing height of `bodyPx` pixels and
/// twice its spread between people (motion::segmentFraction), or what the coach's own points of one
/// frame say when that is more.
std::vector<BoneLength> boneLengths(const model::LandmarkTrack& track, double bodyPx);

/// A bone never looks longer than it is. Where one does, its ends are drawn together along it, the
/// less sure the more, and say by how much less sure they are; placed points stay as they are.
void shortenBones(model::LandmarkTrack& track, const std::vector<BoneLength>& lengths);

} // namespace kestrel::track
