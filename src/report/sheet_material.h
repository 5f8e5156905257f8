#pragma once

#include "coaching/ask_back.h"
#include "coaching/drill_library.h"
#include "coaching/visit.h"
#include "model/record.h"
#include "model/visit.h"
#include "report/film_images.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/pack.h"

#include <QImage>

#include <functional>
#include <optional>
#include <vector>

namespace kestrel::report {

/// A rep with its film, to take pictures from.
struct FilmedRep {
    model::Clip clip;
    model::Rep rep;
    std::vector<model::Reading> readings;
    FrameImages images;
};

/// Everything the sheets of a visit are made from.
struct SheetMaterial {
    technique::Pack pack;
    coaching::DrillLibrary drills;
    model::Player player;
    FilmedRep shown; ///< the rep whose pictures the sheet has
    technique::Circumstances circumstances;
    std::optional<int> doseAge; ///< whose doses the player gets, see coaching::doseAge()
    coaching::VisitReview visit;
    std::vector<coaching::RepOfVisit> reps; ///< all of the visit
    model::PlanChoice choice;
    model::Homework homework;
    model::Day nextVisit;             ///< empty: none is agreed
    std::optional<FilmedRep> earlier; ///< a rep of an earlier visit, for before and after
    std::optional<coaching::AskBack> askBack;
    model::Day today;
    bool blurFaces = false;
    /// The position at which the focus begins as it looks when it is right; null: there is none.
    QImage pose = {};
};

} // namespace kestrel::report
