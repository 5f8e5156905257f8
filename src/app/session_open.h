#pragma once

#include "app/session.h"

namespace kestrel::app {

/// What a session knows of its open clip; for the session's own files.
struct Session::Open {
    model::Player player;
    model::Clip clip;
    std::vector<model::Rep> reps;
    model::Rep rep;
    std::optional<model::FilmStudy> study;
    const technique::Pack* pack = nullptr;
    film::FilmIndex index;
    technique::Circumstances circumstances;
    coaching::Review review;
    std::vector<coaching::Change> changes; ///< see Session::changes
    int frame = 0;
    std::unique_ptr<film::FrameServer> server;
};

} // namespace kestrel::app
