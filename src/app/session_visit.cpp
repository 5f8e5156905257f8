#include "app/session.h"
#include "app/session_open.h"
#include "coaching/growth.h"

/// What a session knows and decides about the visit of the open clip.

#include <QDate>

#include <algorithm>

namespace kestrel::app {
namespace {

model::IsoDate today() {
    return QDate::currentDate().toString(Qt::ISODate).toStdString();
}

} // namespace

model::VisitKey Session::visit() const {
    return {open_->player.id, open_->clip.filmed, open_->rep.techniqueId};
}

model::PlanChoice Session::planChoice() const {
    return library_.planChoice(visit());
}

std::vector<std::pair<model::Clip, model::Rep>>
Session::repsOf(const model::VisitKey& visit) const {
    std::vector<std::pair<model::Clip, model::Rep>> reps;
    std::vector<model::Clip> clips = library_.clips(visit.playerId);
    std::erase_if(clips, [&](const model::Clip& clip) { return clip.filmed != visit.filmed; });
    std::reverse(clips.begin(), clips.end()); // the library gives the newest first
    for (const model::Clip& clip : clips) {
        for (const model::Rep& rep : library_.reps(clip.id)) {
            if (rep.techniqueId == visit.techniqueId) {
                reps.emplace_back(clip, rep);
            }
        }
    }
    return reps;
}

std::vector<coaching::JudgedRep> Session::judgedReps(const model::VisitKey& visit) const {
    std::vector<coaching::JudgedRep> judgedReps;
    const auto player = library_.player(visit.playerId);
    for (const auto& [clip, rep] : repsOf(visit)) {
        if (model::allPositions(rep).empty() && rep.observations.empty()) {
            continue; // nothing to judge; its film need not even be there
        }
        if (open_ && rep.id == open_->rep.id) {
            judgedReps.push_back(
                {rep.id, open_->review.readings, rep.observations, open_->circumstances.schools});
            continue;
        }
        const technique::Circumstances circumstances = circumstancesOf(*player, clip, rep);
        judgedReps.push_back({rep.id, technique::evaluate(packOf(rep), rep, circumstances),
                              rep.observations, circumstances.schools});
    }
    return judgedReps;
}

const coaching::VisitReview& Session::visitReview() const {
    if (!visitReview_) {
        visitReview_ =
            coaching::visitReviewOf(*open_->pack, drills_, judgedReps(visit()), planChoice());
    }
    return *visitReview_;
}

std::optional<coaching::AskBack> Session::askBack() const {
    const model::VisitKey now = visit();
    const std::vector<model::VisitKey> planned = library_.plannedVisits(now.playerId);
    const auto before =
        std::find_if(planned.begin(), planned.end(), [&](const model::VisitKey& other) {
            return other.techniqueId == now.techniqueId && other.filmed < now.filmed &&
                   !library_.planChoice(other).focusFaultId.empty();
        });
    if (before == planned.end()) {
        return std::nullopt;
    }
    const std::vector<coaching::JudgedRep> repsThen = judgedReps(*before);
    const coaching::VisitReview then =
        coaching::visitReviewOf(*open_->pack, drills_, repsThen, library_.planChoice(*before));
    return coaching::askBackOf(*open_->pack, *before, then, repsThen, library_.homework(*before),
                               visitReview(), judgedReps(now), now.filmed);
}

std::optional<int> Session::doseAge() const {
    const model::Player& player = open_->player;
    return coaching::doseAge(
        open_->circumstances.ageYears,
        coaching::growthOf(player.born, player.sex, library_.heights(player.id), visit().filmed));
}

void Session::setPlanChoice(const model::PlanChoice& choice, const QString& what) {
    const model::VisitKey key = visit();
    const model::PlanChoice old = library_.planChoice(key);
    if (old == choice) {
        return;
    }
    edit(
        what, [=, this] { library_.save(key, choice); }, [=, this] { library_.save(key, old); });
}

std::vector<std::string> Session::planHomework(const model::PlanWish& wish, const QString& what) {
    const model::VisitKey key = visit();
    const model::PlanChoice oldChoice = library_.planChoice(key);
    const std::optional<model::PlanWish> oldWish = library_.planWish(key);
    const model::Homework old = library_.homework(key);
    const model::Plan& plan = visitReview().plan;
    model::PlanChoice choice = oldChoice;
    choice.focusFaultId = plan.focusFaultId;
    choice.drillIds = plan.drillIds;
    const coaching::Schedule schedule = coaching::scheduleOf(
        drills_, plan.drillIds, wish, loadRule_, doseAge(), std::max(today(), key.filmed), old);
    edit(
        what,
        [=, this] {
            library_.atomically([&] {
                library_.save(key, choice);
                library_.save(key, std::optional(wish));
                library_.save(key, schedule.homework);
            });
        },
        [=, this] {
            library_.atomically([&] {
                library_.save(key, oldChoice);
                library_.save(key, oldWish);
                library_.save(key, old);
            });
        });
    std::vector<std::string> remarks = schedule.remarks;
    if (doseAge() != open_->circumstances.ageYears) {
        remarks.push_back("Near the growth spurt: doses and rest are those of a younger player.");
    }
    return remarks;
}

void Session::setDone(const model::VisitKey& visit, const model::IsoDate& day,
                      const std::string& drillId, bool done) {
    const model::Homework old = library_.homework(visit);
    model::Homework ticked = old;
    for (model::HomeworkItem& item : ticked) {
        if (item.day == day && item.drillId == drillId) {
            item.doneOn = done ? today() : model::IsoDate();
        }
    }
    if (ticked == old) {
        return;
    }
    edit(
        done ? tr("Tick homework of %1").arg(QString::fromStdString(day))
             : tr("Take back a tick of %1").arg(QString::fromStdString(day)),
        [=, this] { library_.save(visit, ticked); }, [=, this] { library_.save(visit, old); });
}

void Session::setReviewScript(const model::ReviewScript& script, const QString& what) {
    const model::Id rep = open_->rep.id;
    const model::ReviewScript old = library_.reviewScript(rep);
    if (old == script) {
        return;
    }
    edit(
        what, [=, this] { library_.save(rep, script); }, [=, this] { library_.save(rep, old); });
}

} // namespace kestrel::app
