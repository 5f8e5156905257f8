#pragma once

#include "model/side.h"
#include "model/units.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>

/// Landmarks: named points of body and ball, and where they were seen.
namespace kestrel::model {

/// Every landmark the program knows, by body side. Packs name them by role ("lead_knee") instead.
enum class Landmark {
    headTop,
    head, ///< centre of the head, at the ear in a side view
    leftShoulder,
    rightShoulder,
    leftElbow,
    rightElbow,
    leftWrist,
    rightWrist,
    leftHand,
    rightHand,
    leftHip,
    rightHip,
    leftKnee,
    rightKnee,
    leftAnkle,
    rightAnkle,
    leftHeel,
    rightHeel,
    leftToe,
    rightToe,
    glove,             ///< middle of the pocket
    ball,              ///< or puck: its middle
    implementButt,     ///< knob of a bat, butt of a racket, top end of a stick
    implementHead,     ///< middle of a racket's face, sweet spot of a bat, middle of a blade
    implementTip,      ///< far end of the implement
    implementFaceEdge, ///< edge of a racket's face at its widest, on the side the face turns from
    implementFarEdge,  ///< the edge opposite
};

/// All landmarks in a fixed order (head to foot, left before right).
std::span<const Landmark> allLandmarks();

/// The name used in files: "left_knee", "ball".
std::string_view name(Landmark landmark);
std::optional<Landmark> landmarkFromName(std::string_view text);

/// The same landmark of the other body side; midline landmarks are their own mirror.
Landmark mirrored(Landmark landmark);

/// Whether it is a point of the player's own body: no glove, ball or implement.
bool isOfBody(Landmark landmark);

/// The side a landmark belongs to; nothing for midline landmarks and the ball.
std::optional<Side> sideOf(Landmark landmark);

/// Who said where a landmark is. A placed point is never changed by a machine.
enum class Source { placed, tracked, proposed, interpolated };

std::string_view name(Source source);
std::optional<Source> sourceFromName(std::string_view text);

/// Standard deviation, per axis in source pixels, of a point a coach places with the loupe.
/// Working figure for careful clicks on a sharp frame; the Monte Carlo tests use the same.
inline constexpr double placedPointSd = 1.5;

/// The same of a point that a machine set and a coach looked at and found right: an eye lets more
/// pass than a hand would place. Working figure.
inline constexpr double confirmedPointSd = 2.5;

struct LandmarkPoint {
    Point2 px;
    double sdPx = placedPointSd; ///< standard deviation per axis, pixels
    Source source = Source::placed;
    bool hidden = false;   ///< the coach says it cannot be seen; px is then meaningless
    bool occluded = false; ///< a machine takes it for covered; px is where it may be, within sdPx

    friend bool operator==(const LandmarkPoint&, const LandmarkPoint&) = default;
};

/// The landmarks of one frame, and of all frames by index in presentation order.
using FrameLandmarks = std::map<Landmark, LandmarkPoint>;
using LandmarkTrack = std::map<int, FrameLandmarks>;

/// The point of `landmark` at `frame`, or null when nothing was said about it there.
const LandmarkPoint* find(const LandmarkTrack& track, int frame, Landmark landmark);

} // namespace kestrel::model
