#pragma once

#include <map>
#include <optional>

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

} // namespace kestrel::model
