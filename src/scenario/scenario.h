#pragma once

#include "model/record.h"
#include "synth/film_edit.h"

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

/// The demo library: made-up children of a made-up club, their films and the coach's marks.
namespace kestrel::scenario {

struct ScenarioFilm {
    std::string fileStem; ///< "mika-rep-1"
    std::string title;
    synth::FilmSpec spec;
    bool marked = false; ///< positions, landmarks and observations already set
    std::map<std::string, model::Seen> observations = {};
    model::Day filmed;
    std::vector<synth::FilmSpec> more = {}; ///< further reps in the same film
    double stillS = 0.0;                    ///< standing still before and after each of them

    [[nodiscard]] synth::Reel reel() const;
};

/// What was given to a player after an early visit.
struct ScenarioPlan {
    model::Day filmed;
    model::Day nextVisit;
    std::string focusFaultId;
    /// Of four drills how many were done: the homework comes back ticked accordingly.
    int doneOfFour = 3;
};

struct ScenarioPlayer {
    model::Player player;
    std::map<model::Day, model::Metres> heights; ///< by the day they were measured
    std::vector<ScenarioFilm> films;
    std::optional<ScenarioPlan> plan = std::nullopt;
};

/// Everything the demo library holds. `filmScale` makes the films' pictures smaller, such as 0.25
/// for tests that only need them to be there.
std::vector<ScenarioPlayer> scenario(double filmScale = 1.0);

/// Renders a film with its truth beside it; beside a film of several reps stands which frames
/// each of them takes. Returns false when cancelled.
bool makeFilm(const ScenarioFilm& film, const std::filesystem::path& folder,
              const synth::FrameProgress& progress = {});

/// Says what is being made, for the terminal.
using Report = std::function<void(const std::string& line)>;

/// Makes the demo library in `folder`, with the films and truth files in `folder`/film. Films that
/// are there already are not rendered again; a library that is there already is left as it is, with
/// all that was done in it. Throws model::InputError or std::runtime_error when it cannot be made.
void makeDemoLibrary(const std::filesystem::path& folder, const Report& report = {},
                     double filmScale = 1.0);

} // namespace kestrel::scenario
