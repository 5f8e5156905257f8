#include "desk/open_visit.h"

#include "coaching/growth.h"

#include <algorithm>

namespace kestrel::desk {
namespace {

bool anyBeingRead(const std::optional<OpenVisit::Reps>& reps) {
    return reps && std::any_of(reps->begin(), reps->end(), [](const auto& rep) {
               return rep->notJudged == prepare::NotJudged::filmBeingRead;
           });
}

} // namespace

OpenVisit::OpenVisit(const records::Library& library, const Shelf& shelf, const OpenClip& open,
                     const Judging& judging, FilmIndices& films)
    : library_(library), shelf_(shelf), open_(open), judging_(judging) {
    // Before anyone who shows it: connections are served in the order they were made.
    for (const auto signal :
         {&OpenClip::opened, &OpenClip::repOpened, &OpenClip::closed, &OpenClip::marksChanged}) {
        connect(&open_, signal, this, [this] { forget(); });
    }
    connect(&films, &FilmIndices::more, this, [this] {
        if (open_.hasClip() && (anyBeingRead(reps_) || anyBeingRead(repsBefore_))) {
            forget();
            emit moreJudged();
        }
    });
}

void OpenVisit::forget() {
    reps_.reset();
    review_.reset();
    repsBefore_.reset();
}

model::VisitKey OpenVisit::key() const {
    return {open_.player().id, open_.clip().filmed, open_.rep().techniqueId};
}

const OpenVisit::Reps& OpenVisit::reps() const {
    if (!reps_) {
        reps_ = judging_.visit(key());
    }
    return *reps_;
}

const coaching::VisitReview& OpenVisit::review() const {
    if (!review_) {
        review_ =
            coaching::visitReviewOf(open_.pack(), shelf_.drills(), judgedOf(reps()), choice());
    }
    return *review_;
}

model::PlanChoice OpenVisit::choice() const {
    return library_.planChoice(key());
}

std::optional<model::VisitKey> OpenVisit::visitBefore() const {
    const model::VisitKey now = key();
    const std::vector<model::VisitKey> planned = library_.plannedVisits(now.playerId);
    const auto before =
        std::find_if(planned.begin(), planned.end(), [&](const model::VisitKey& other) {
            return other.techniqueId == now.techniqueId && other.filmed < now.filmed &&
                   !library_.planChoice(other).focusFaultId.empty();
        });
    return before == planned.end() ? std::nullopt : std::optional(*before);
}

OpenVisit::Reps OpenVisit::repsBefore() const {
    if (!repsBefore_) {
        const auto before = visitBefore();
        repsBefore_ = before ? judging_.visit(*before) : Reps();
    }
    return *repsBefore_;
}

std::optional<coaching::AskBack> OpenVisit::askBack() const {
    const auto before = visitBefore();
    if (!before) {
        return std::nullopt;
    }
    const std::vector<coaching::RepOfVisit> repsThen = judgedOf(repsBefore());
    const model::PlanChoice given = library_.planChoice(*before);
    coaching::VisitReview then =
        coaching::visitReviewOf(open_.pack(), shelf_.drills(), repsThen, given);
    if (technique::findFault(open_.pack(), given.focusFaultId) != nullptr) {
        // What was given out is asked about, also when its film is gone or says otherwise by now.
        then.plan.focusFaultId = given.focusFaultId;
    }
    return coaching::askBackOf(open_.pack(), *before, then, repsThen, library_.homework(*before),
                               review(), judgedOf(reps()), key().filmed);
}

std::optional<int> OpenVisit::doseAge() const {
    const model::Player& player = open_.player();
    return coaching::doseAge(
        open_.circumstances().ageYears,
        coaching::growthOf(player.born, player.sex, library_.heights(player.id), key().filmed));
}

} // namespace kestrel::desk
