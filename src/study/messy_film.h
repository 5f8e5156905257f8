#pragma once

#include "model/film_study.h"
#include "synth/film_edit.h"

#include <array>
#include <cstdint>
#include <string_view>
#include <vector>

/// Films as coaches really have them: cut, faded, drawn on, recorded from screens; and what is true
/// of each.
namespace kestrel::study {

enum class Mess {
    oneTake,         ///< nothing was done to it
    handHeld,        ///< nothing, but the camera shakes, through a net, with somebody walking past
    cuts,            ///< three shots from different sides
    jumps,           ///< two reps from one place, with what lay between cut out
    fades,           ///< two shots, each faded in and out
    logo,            ///< fades, a held stretch, and a turning logo over the first seconds
    screenRecording, ///< every second or third picture new, coarse
    bars,            ///< black bars at both sides, as of an upright film
    scoreLine,       ///< a line of text that comes after a while and stays
    drawnOn,         ///< held in the middle of the motion, an arrow laid over, then played on
    replay,          ///< the motion, and the same slowly once more
};

inline constexpr std::array allMesses{
    Mess::oneTake,         Mess::handHeld, Mess::cuts,      Mess::jumps,   Mess::fades, Mess::logo,
    Mess::screenRecording, Mess::bars,     Mess::scoreLine, Mess::drawnOn, Mess::replay};

std::string_view name(Mess mess);

struct MessyFilm {
    synth::FilmEdit edit;
    std::vector<model::FrameSpan> reps; ///< the motions, without standing still
    std::vector<model::FilmBreak> breaks;
    std::vector<model::GraphicSeen> graphics;
    double repeated = 0.0; ///< share of frames, held stretches left out, that repeat the one before
};

/// A film of 640 × 360 and 30 frames a second; player, technique, side and lengths are drawn by
/// `seed`.
MessyFilm messyFilm(Mess mess, std::uint32_t seed);

} // namespace kestrel::study
