#pragma once

#include "model/side.h"

#include <map>
#include <optional>
#include <string_view>

/// Which end of the lines through hips and shoulders is farther from the camera.
namespace kestrel::model {

/// A machine's rough word for one frame: how much farther from the camera the left end is than the
/// right one, source pixels; nothing where it has none. Good for saying which end is nearer, not
/// for how much.
struct BodyTurn {
    std::optional<double> hipsPx;
    std::optional<double> shouldersPx;

    friend bool operator==(const BodyTurn&, const BodyTurn&) = default;
};

/// By frame.
using BodyTurns = std::map<int, BodyTurn>;

enum class BodyLine { hips, shoulders };

std::string_view name(BodyLine line);
std::optional<BodyLine> bodyLineFromName(std::string_view text);

/// The coach's word on which end of a line is nearer to the camera.
using NearerEnds = std::map<BodyLine, Side>;

} // namespace kestrel::model
