#pragma once

#include "coaching/review.h"
#include "film/film_index.h"
#include "model/record.h"
#include "technique/judge/evaluate.h"

#include <CLI/CLI.hpp>

#include <optional>
#include <string>
#include <vector>

/// A rep as it is given on the command line, and its judgement.
namespace kestrel::cli {

/// What a rep needs to be judged, as given on the command line.
struct RepOptions {
    std::string film;
    std::string landmarks;
    std::string positions;
    std::string pack = "overhand_pitch";
    std::string hand;
    std::string view;
    std::string variant;
    std::string shot;
    std::string ground;     ///< file of marks on the ground
    std::string secondFilm; ///< the same motion from another place, with what is known of it
    std::string secondLandmarks;
    std::string secondPositions;
    std::string secondGround;
    std::optional<double> secondCaptureRate;
    bool secondBySound = false; ///< their microphones say which pictures go together
    std::vector<std::string> schools;
    std::vector<std::string> observations; ///< "id=yes|no|not_visible"
    std::optional<double> heightM;
    std::optional<int> age;
    std::optional<double> captureRate;
    std::string outFolder;
    std::string paper = "a4";
    bool blurFaces = false;
    bool reviewFilm = false;
    model::Day today; ///< stands on the sheets
    std::string playerName = "Player";
    bool json = false;
};

/// The options of every command that judges a rep.
void addRepOptions(CLI::App& command, RepOptions& o);

struct Judged {
    film::FilmIndex index;
    technique::Pack pack;
    model::Player player;
    model::Clip clip;
    model::Rep rep;
    technique::Circumstances circumstances;
    coaching::Review review;
};

/// Reads the files and judges the rep. Throws model::InputError for a file that cannot be read and
/// WrongUse for options that do not go together.
Judged judge(const RepOptions& o);

} // namespace kestrel::cli
