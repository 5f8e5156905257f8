#pragma once

#include "body/seen_rep.h"
#include "synth/film_render.h"

#include <cstdint>
#include <optional>
#include <random>

/// Films of many players from many places, for the body in space to be set and measured on.
namespace kestrel::study {

/// From where the player is filmed.
enum class Around {
    side,    ///< within 5° of square, open or closed side
    front,   ///< within 5°
    rear,    ///< within 5°
    between, ///< anywhere else
};

std::string_view name(Around around);

/// Who says where the landmarks are.
enum class Landmarks {
    placed,      ///< by a careful hand: 1.5 px, normal, in all instants
    tracked,     ///< by the network: its errors from frame to frame and those that last
    atPositions, ///< by that hand at the key positions only; no machine has a word on depth
    followed,    ///< by the network that ships, in rendered film (study/followed_film.h)
    confirmed,   ///< the same, and by that hand at the key positions
};

std::string_view name(Landmarks landmarks);

/// Whether films with such landmarks are rendered and looked at by the network.
bool isOfRenderedFilm(Landmarks landmarks);

/// A player of their own build, technique, manner, level, hand and dials, and a camera: 3 to 15 m
/// away, 0.5 to 3 m high, a little rolled, 30 to 240 frames a second. What `seed` draws is the same
/// each time. Throws nothing: a dial that cannot be turned so far is left alone.
synth::FilmSpec drawnFilm(std::uint32_t seed, Around around);

/// The player of such films as first drawn: without and with a dial turned, if there is one. That
/// the motion comes about is not said.
struct DrawnPlayer {
    synth::PlayerSpec plain;
    std::optional<synth::PlayerSpec> turned;
};
DrawnPlayer drawPlayer(std::mt19937& random);

/// Draws where the camera of such a film stands, and its rate.
void drawCamera(synth::FilmSpec& film, Around around, std::mt19937& random);

/// A usual age of that band.
int yearsOf(synth::AgeBand band);

/// The errors of the machine's word on depth: in standing heights, alike for about so long.
inline constexpr double depthErrorBh = 0.08;
inline constexpr double depthErrorLastsS = 0.1;

/// What such a film shows of the player at no more than 60 instants a second, with errors drawn by
/// `seed`; the frames of the true key positions are among them. It comes with how the technique is
/// usually done. `landmarks` are none of rendered film.
body::SeenRep seenRep(const synth::FilmScene& scene, Landmarks landmarks, std::uint32_t seed);

} // namespace kestrel::study
