#pragma once

#include "model/units.h"

#include <algorithm>
#include <cstdint>
#include <optional>
#include <vector>

/// What a first pass over a film's pictures finds, before anybody has marked anything.
namespace kestrel::model {

struct PixelBox {
    double left = 0.0;
    double top = 0.0;
    double width = 0.0;
    double height = 0.0;

    friend bool operator==(const PixelBox&, const PixelBox&) = default;
};

/// Frames of a clip from one to another, both included.
struct FrameSpan {
    int first = 0;
    int last = 0;

    [[nodiscard]] constexpr bool contains(int frame) const {
        return frame >= first && frame <= last;
    }
    friend constexpr bool operator==(const FrameSpan&, const FrameSpan&) = default;
};

/// How the camera stood at a frame: a turn, a zoom and a shift that carry a point of that frame's
/// picture to where it would be in the first frame's: x' = a·x − b·y + dx, y' = b·x + a·y + dy.
struct CameraPose {
    double a = 1.0;
    double b = 0.0;
    double dx = 0.0;
    double dy = 0.0;
    double sdPx = 0.0; ///< standard deviation of the carried point, per axis, pixels

    friend bool operator==(const CameraPose&, const CameraPose&) = default;
};

/// One pose a frame; empty when the background shows too little to tell.
using CameraMotion = std::vector<CameraPose>;

/// The point of the first frame's picture that shows the same spot of the background.
constexpr Point2 carriedToFirst(const CameraPose& pose, Point2 p) {
    return {pose.a * p.x - pose.b * p.y + pose.dx, pose.b * p.x + pose.a * p.y + pose.dy};
}

/// The inverse of carriedToFirst.
constexpr Point2 carriedFromFirst(const CameraPose& pose, Point2 p) {
    const double square = pose.a * pose.a + pose.b * pose.b;
    const double x = p.x - pose.dx;
    const double y = p.y - pose.dy;
    return {(pose.a * x + pose.b * y) / square, (pose.a * y - pose.b * x) / square};
}

/// Where a film is not one take of the field: the reps of a film lie between these.
struct FilmBreak {
    enum class Kind {
        cut,  ///< from one frame to the next: the last before it and the first after it
        dark, ///< black or of one colour, with the frames that fade into and out of it
        still ///< one picture held
    };
    Kind kind = Kind::cut;
    FrameSpan span;

    friend bool operator==(const FilmBreak&, const FilmBreak&) = default;
};

/// A graphic that somebody laid over a film.
struct GraphicSeen {
    PixelBox box; ///< source pixels
    FrameSpan span;

    friend bool operator==(const GraphicSeen&, const GraphicSeen&) = default;
};

/// From this share on repeated pictures are a film's way, not a hiccup or a player who begins to
/// move: on films of the synthetic player 3 to 25 % of the frames of a take seem repeated.
inline constexpr double clearlyRepeated = 0.35;

struct FilmStudy {
    /// How much moves at each frame against the one before, brighter or darker by so many of 255
    /// steps in the busiest twelfth of the picture; 0 at the first frame.
    std::vector<float> energy;
    double brightness = 0.0;       ///< mean luma, 0 black to 1 white
    double tooBright = 0.0;        ///< share of the picture that is white without detail
    double tooDark = 0.0;          ///< share that is black without detail
    std::optional<PixelBox> mover; ///< where things move, source pixels; unset: nothing does
    CameraMotion camera;
    std::vector<FilmBreak> breaks; ///< in order, without overlap
    std::vector<GraphicSeen> graphics;
    std::optional<PixelBox> insideBars; ///< the picture without its black bars; unset: it has none
    double repeated = 0.0; ///< share of frames, where things move, that show the one before again

    friend bool operator==(const FilmStudy&, const FilmStudy&) = default;
};

/// Whether a film is one take: neither cut nor dark in between.
inline bool isOneTake(const FilmStudy& study) {
    return std::none_of(study.breaks.begin(), study.breaks.end(),
                        [](const FilmBreak& b) { return b.kind != FilmBreak::Kind::still; });
}

} // namespace kestrel::model
