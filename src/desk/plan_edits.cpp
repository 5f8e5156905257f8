#include "desk/plan_edits.h"

#include "coaching/schedule.h"

#include <algorithm>

namespace kestrel::desk {

void PlanEdits::setPlanChoice(const model::PlanChoice& choice, const QString& what) {
    const model::VisitKey key = visit_.key();
    const model::PlanChoice old = library_.planChoice(key);
    if (old == choice) {
        return;
    }
    edits_.apply(
        what, [=, this] { library_.save(key, choice); }, [=, this] { library_.save(key, old); });
}

std::vector<model::Message> PlanEdits::planHomework(const model::PlanWish& wish,
                                                    const QString& what) {
    const model::VisitKey key = visit_.key();
    const model::PlanChoice oldChoice = library_.planChoice(key);
    const std::optional<model::PlanWish> oldWish = library_.planWish(key);
    const model::Homework old = library_.homework(key);
    const model::Plan& plan = visit_.review().plan;
    model::PlanChoice choice = oldChoice;
    choice.focusFaultId = plan.focusFaultId;
    choice.drillIds = plan.drillIds;
    const coaching::Schedule schedule =
        coaching::scheduleOf(shelf_.drills(), plan.drillIds, wish, shelf_.loadRule(),
                             visit_.doseAge(), std::max(clock_(), key.filmed), old);
    edits_.apply(
        what,
        [=, this] {
            library_.save(key, choice);
            library_.save(key, std::optional(wish));
            library_.save(key, schedule.homework);
        },
        [=, this] {
            library_.save(key, oldChoice);
            library_.save(key, oldWish);
            library_.save(key, old);
        });
    std::vector<model::Message> remarks = schedule.remarks;
    if (visit_.doseAge() != open_.circumstances().ageYears) {
        remarks.push_back(model::message("plan.near_spurt"));
    }
    return remarks;
}

void PlanEdits::setDone(const model::VisitKey& visit, model::Day day, const std::string& drillId,
                        bool done) {
    const model::Homework old = library_.homework(visit);
    model::Homework ticked = old;
    for (model::HomeworkItem& item : ticked) {
        if (item.day == day && item.drillId == drillId) {
            item.doneOn = done ? clock_() : model::Day();
        }
    }
    if (ticked == old) {
        return;
    }
    edits_.apply(
        done ? tr("Tick homework of %1").arg(QString::fromStdString(day.iso()))
             : tr("Take back a tick of %1").arg(QString::fromStdString(day.iso())),
        [=, this] { library_.save(visit, ticked); }, [=, this] { library_.save(visit, old); });
}

} // namespace kestrel::desk
