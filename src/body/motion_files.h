#pragma once

#include "body/fitted_body.h"
#include "model/units.h"

#include <filesystem>
#include <iosfwd>
#include <optional>

/// A body in space in the open formats of motion laboratories and animation programs.
///
/// Axes: Y up from the ground; X level towards the target where it is known, else to the right of
/// the picture; Z so that they are right-handed. The origin is on the ground where the camera
/// looks.
namespace kestrel::body {

/// TRC, a tab-separated table of markers: each landmark of the body at each instant, metres.
void writeTrc(std::ostream& out, const FittedBody& body, model::Metres standingHeight);

/// BVH, a hierarchy of joints with their rotations (Meredith and Maddock 2001, Motion Capture File
/// Formats Explained): lengths and places in centimetres, as usual in that format, at an even rate.
/// Bones are as long as they are throughout; joint centres wander by one or two per cent of height,
/// so that much a place told by the rotations may be off. How limbs turn about their own length is
/// not known and is told as least turned.
void writeBvh(std::ostream& out, const FittedBody& body, model::Metres standingHeight);

/// Throws model::InputError when such files cannot be made: the standing height is not known, or
/// the body is told at single instants only.
void requireMotion(const FittedBody& body, std::optional<model::Metres> standingHeight);

/// Writes `file` as BVH where its name ends so, else as TRC. Throws as requireMotion(), and when
/// the file cannot be written.
void writeMotionFile(const std::filesystem::path& file, const FittedBody& body,
                     std::optional<model::Metres> standingHeight);

} // namespace kestrel::body
