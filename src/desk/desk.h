#pragma once

#include "desk/body_fitting.h"
#include "desk/clip_edits.h"
#include "desk/clip_preparer.h"
#include "desk/comparison.h"
#include "desk/edit_stack.h"
#include "desk/film_indices.h"
#include "desk/judging.h"
#include "desk/landmark_search.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/pack_edits.h"
#include "desk/plan_edits.h"
#include "desk/problems.h"
#include "desk/rep_edits.h"
#include "desk/second_view.h"
#include "desk/settings.h"
#include "desk/shelf.h"
#include "desk/squad_edits.h"
#include "model/clock.h"
#include "records/library.h"

#include <QThreadPool>

#include <filesystem>

namespace kestrel::desk {

/// All parts of the desk, put together. It does nothing itself: whoever needs a part takes that
/// part. Parts below use parts above, never the other way round.
struct Desk {
    /// The library must outlive the desk. Throws model::InputError when a pack that ships cannot be
    /// used.
    Desk(records::Library& openLibrary, const std::filesystem::path& packFolder, model::Clock today)
        : clock(std::move(today)),
          library(openLibrary),
          settings(openLibrary, problems),
          shelf(openLibrary, packFolder, problems),
          films(openLibrary),
          judging(openLibrary, shelf, films, clock),
          edits(openLibrary, problems),
          open(openLibrary, shelf, films, judging, edits, settings, problems),
          visit(openLibrary, shelf, open, judging, films),
          comparison(openLibrary, open, visit, judging, films, problems, clock),
          repEdits(openLibrary, open, judging, edits),
          clipEdits(openLibrary, open, shelf, judging, edits),
          squadEdits(openLibrary, open, shelf, judging, edits, clock),
          planEdits(openLibrary, open, visit, shelf, edits, clock),
          packEdits(shelf, edits),
          secondView(openLibrary, open, films, clipEdits, problems),
          bodyFitting(openLibrary, open, judging, problems),
          search(openLibrary, open, judging, edits, problems),
          preparer(openLibrary, shelf, open, judging, search, edits, problems, clock) {}
    Desk(const Desk&) = delete;
    Desk& operator=(const Desk&) = delete;

    /// Jobs under way, such as a sheet being drawn, need what stands here and the application: they
    /// end before it does.
    struct JobsEnd {
        ~JobsEnd() { QThreadPool::globalInstance()->waitForDone(); }
    };

    model::Clock clock;
    const records::Library& library; ///< to read; only edits write what the coach says
    JobsEnd jobsEnd;
    Problems problems;
    Settings settings;
    Shelf shelf;
    FilmIndices films;
    Judging judging;
    EditStack edits;
    OpenClip open;
    OpenVisit visit;
    Comparison comparison;
    RepEdits repEdits;
    ClipEdits clipEdits;
    SquadEdits squadEdits;
    PlanEdits planEdits;
    PackEdits packEdits;
    SecondView secondView;
    BodyFitting bodyFitting;
    LandmarkSearch search;
    ClipPreparer preparer;
};

} // namespace kestrel::desk
