#pragma once

#include "coaching/drill_library.h"
#include "film/film_index.h"
#include "synth/truth.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <filesystem>
#include <string>
#include <vector>

/// Small films of the synthetic player that all tests share, and what is true of them.
namespace kestrel::support {

struct TestFilm {
    std::string stem;
    synth::FilmSpec spec;
};

/// The same motion thrown by a right-hander and a left-hander, and a pitch with all dials turned.
const TestFilm& rightHander();
const TestFilm& leftHander();
const TestFilm& faulty();
std::vector<TestFilm> allFilms();

/// Where make_test_films puts them.
std::filesystem::path filmFile(const TestFilm& film);

technique::Pack pitchPack();
/// All packs that ship.
std::vector<technique::Pack> shippedPacks();
coaching::DrillLibrary drills();

/// A rep with the true positions and the true landmarks of all frames.
model::Rep trueRep(const synth::FilmSpec& spec);

/// Filmed from the open side, capture rate known, age 12, schools as shipped.
technique::Circumstances openSide(const synth::FilmSpec& spec);

/// The reading of that measure; fails loudly when the pack has none.
const model::Reading& reading(const std::vector<model::Reading>& readings, const std::string& id);

} // namespace kestrel::support
