#pragma once

#include "body/seen_rep.h"
#include "film/film_index.h"
#include "model/film_study.h"
#include "study/body_population.h"
#include "synth/film_render.h"
#include "track/person/evidence.h"

#include <cstdint>
#include <filesystem>
#include <optional>

/// Films of the population as the program meets them: rendered, looked at by the pose network,
/// and prepared for the body in space in the way that ships.
namespace kestrel::study {

struct FollowedFilm {
    Around around = Around::side;
    synth::FilmSpec spec;
    film::FilmIndex index;
    model::FilmStudy study;
    track::Evidence evidence;
};

/// Renders drawnFilm(seed, around) at 960 × 540 and no more than 60 frames a second, with clothes
/// drawn by `seed`, and follows its player from one click. Film and evidence are kept in `folder`
/// and read from there when they are there already. Throws model::InputError when the networks or
/// the film cannot be read, std::runtime_error when the folder cannot be written.
FollowedFilm followedFilm(std::uint32_t seed, Around around, const std::filesystem::path& folder);

/// What the body is worked out from when the key positions are known and landmarks are
/// `Landmarks::followed`, or `Landmarks::confirmed` with errors of the coach's hand drawn by
/// `seed`. Nothing when the network found too little.
std::optional<body::SeenRep> seenRep(const FollowedFilm& film, Landmarks landmarks,
                                     std::uint32_t seed);

} // namespace kestrel::study
