#pragma once

#include "study/messy_film.h"

#include <filesystem>
#include <functional>
#include <string>

/// How well the first pass understands films as coaches really have them, on films whose truth is
/// known.
namespace kestrel::study {

/// Things there were, of them found, and found where there were none.
struct Tally {
    int there = 0;
    int found = 0;
    int wrong = 0;

    Tally& operator+=(const Tally& other);
};

struct MessyResult {
    Tally cuts;
    Tally dark;
    Tally held;
    Tally graphics;
    Tally bars;     ///< films with bars
    Tally repeated; ///< films that repeat their pictures
    /// A rep is found when one is proposed that overlaps it by more than half of both; those that
    /// overlap none are wrong.
    Tally reps;
    int repEndsRight = 0; ///< of two ends a found rep, within a quarter of a second
};

/// Renders the film into `folder`, unless it is there, and passes over it once. Throws as
/// synth::renderEdit and track::studyFilm.
MessyResult studyMessy(Mess mess, std::uint32_t seed, const std::filesystem::path& folder);

/// The page on all messes with seeds `first` to `last`; `tell` is called with films done and in
/// all.
std::string messyPage(std::uint32_t first, std::uint32_t last, const std::filesystem::path& folder,
                      const std::function<void(int done, int all)>& tell);

} // namespace kestrel::study
