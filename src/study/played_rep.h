#pragma once

#include "model/record.h"
#include "study/body_population.h"
#include "technique/judge/evaluate.h"

#include <array>
#include <cstdint>
#include <map>
#include <string>
#include <string_view>

/// A rep as players really do it: in their own tempo, with something before and after, in a film
/// that may begin late or end early. Landmarks as a machine would set them, without pictures.
namespace kestrel::study {

/// What stands around the rep.
enum class Habit {
    clean,          ///< nothing but standing still, in the sheet's tempo
    ownTempo,       ///< the whole and each phase slower or quicker
    waggles,        ///< rocks to and fro before it
    practises,      ///< most of the motion once before it, slowly
    walks,          ///< walks in before it and off after it
    givesUp,        ///< begins at full speed, stops, goes back and begins anew
    bringsBack,     ///< goes back to the start quickly
    secondMovement, ///< goes back as fast as the rep was, and half through it again
    beginsLate,     ///< the film begins in the middle of it
    endsEarly,      ///< and ends in the middle of it
};

inline constexpr std::array allHabits{
    Habit::clean,   Habit::ownTempo,   Habit::waggles,        Habit::practises,  Habit::walks,
    Habit::givesUp, Habit::bringsBack, Habit::secondMovement, Habit::beginsLate, Habit::endsEarly};

std::string_view name(Habit habit);

struct PlayedRep {
    model::Rep rep; ///< landmarks of all frames with what a machine says of their errors
    technique::Circumstances circumstances;
    /// True instants, seconds since the first frame. One that the motion does not really have, as
    /// a lowest point of hips that only rise, is in neither list.
    std::map<std::string, double> positions;
    std::map<std::string, double> outside; ///< those before the first frame or after the last
};

/// Frames a second; of quicker films every second frame is looked at, or fewer.
inline constexpr double mostRateLookedAt = 120.0;

/// The film that `seed` draws from `around` (drawnFilm), at 30, 60 or 120 frames a second.
synth::FilmSpec filmOfRep(std::uint32_t seed, Around around);

/// The player of that film, with a habit drawn by `seed`. The camera stands still.
PlayedRep playedRep(const synth::FilmScene& scene, std::uint32_t seed, Habit habit);

} // namespace kestrel::study
