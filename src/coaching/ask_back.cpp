#include "coaching/ask_back.h"

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

/// Share of the homework from which on it counts as done. Working figure.
constexpr double doneEnough = 0.6;

Moved movedOf(const OverReps& before, const OverReps& now, const model::Range& range) {
    const double uncertain = differenceU95(before, now);
    const double beyondBefore = std::abs(model::distanceBeyond(before.mean, range));
    const double beyondNow = std::abs(model::distanceBeyond(now.mean, range));
    // It is only worse where it is farther off than the reading itself may be wrong: passing a
    // limit by a hair, on whichever side, is not.
    const bool hardlyWorse = beyondNow > beyondBefore && beyondNow - beyondBefore <= now.u95;
    if (std::abs(now.mean - before.mean) <= uncertain || beyondNow == beyondBefore || hardlyWorse) {
        return uncertain > beyondBefore ? Moved::notTold : Moved::within;
    }
    if (beyondNow > beyondBefore) {
        return Moved::worse;
    }
    return beyondNow == 0.0 ? Moved::intoRange : Moved::better;
}

Advice adviceOf(const AskBack& askBack) {
    const auto any = [&](Moved moved) {
        return std::any_of(askBack.readings.begin(), askBack.readings.end(),
                           [&](const MovedReading& r) { return r.moved == moved; });
    };
    const bool told =
        std::any_of(askBack.readings.begin(), askBack.readings.end(), [](const MovedReading& r) {
            return r.moved != Moved::notTold && r.moved != Moved::notRead;
        });
    if (!told) {
        return Advice::askFirst;
    }
    if (any(Moved::intoRange) && !any(Moved::worse)) {
        return Advice::stepUp;
    }
    if (any(Moved::better) && !any(Moved::worse)) {
        return Advice::keep;
    }
    const bool done = askBack.planned > 0 && askBack.done >= doneEnough * askBack.planned;
    return done ? Advice::change : Advice::doIt;
}

std::string_view idOf(Moved moved) {
    switch (moved) {
    case Moved::notRead:
        return "moved.not_read";
    case Moved::notTold:
        return "moved.not_told";
    case Moved::within:
        return "moved.within";
    case Moved::better:
        return "moved.better";
    case Moved::intoRange:
        return "moved.into_range";
    case Moved::worse:
        return "moved.worse";
    }
    return {};
}

std::string_view idOf(Advice advice) {
    switch (advice) {
    case Advice::askFirst:
        return "advice.ask_first";
    case Advice::keep:
        return "advice.keep";
    case Advice::stepUp:
        return "advice.step_up";
    case Advice::doIt:
        return "advice.do_it";
    case Advice::change:
        return "advice.change";
    }
    return {};
}

model::Measured meanOf(const OverReps& over, model::Unit unit) {
    return {over.mean, unit, over.u95};
}

} // namespace

AskBack askBackOf(const technique::Pack& pack, const model::VisitKey& visit,
                  const VisitReview& then, const std::vector<RepOfVisit>& repsThen,
                  const model::Homework& homework, const VisitReview& now,
                  const std::vector<RepOfVisit>& repsNow, model::Day today) {
    AskBack askBack;
    askBack.visit = visit;
    askBack.focusFaultId = then.plan.focusFaultId;
    for (const model::HomeworkItem& item : homework) {
        if (item.day <= today) {
            ++askBack.planned;
        }
        askBack.done += item.doneOn.empty() ? 0 : 1;
    }
    if (const auto* focus = technique::findFault(pack, askBack.focusFaultId)) {
        for (const technique::Sign& sign : focus->signs) {
            const technique::Measure* measure = technique::findMeasure(pack, sign.measure);
            if (measure == nullptr) {
                continue; // an observation carries no number
            }
            MovedReading moved;
            moved.measureId = measure->id;
            moved.before = overReps(repsThen, measure->id);
            moved.now = overReps(repsNow, measure->id);
            for (const std::vector<RepOfVisit>* reps : {&repsThen, &repsNow}) {
                for (const RepOfVisit& rep : *reps) {
                    for (const model::Reading& r : rep.readings) {
                        if (r.measureId == measure->id && r.value) {
                            moved.unit = r.unit;
                            moved.range = r.range;
                        }
                    }
                }
            }
            if (moved.before && moved.now && moved.range) {
                moved.moved = movedOf(*moved.before, *moved.now, *moved.range);
            }
            askBack.readings.push_back(std::move(moved));
        }
    }
    for (const std::string& id : then.plan.watchFaultIds) {
        for (const model::Fault& fault : now.findings.faults) {
            if (fault.faultId == id) {
                askBack.stillThere.push_back(id);
            }
        }
    }
    askBack.advice = adviceOf(askBack);
    return askBack;
}

std::vector<model::Message> toldAskBack(const technique::Pack& pack, const AskBack& askBack) {
    std::vector<model::Message> lines;
    lines.push_back(askBack.planned == 0
                        ? model::message("ask.nothing_planned")
                        : model::message("ask.done", askBack.done, askBack.planned));
    for (const MovedReading& reading : askBack.readings) {
        const std::string& name = technique::findMeasure(pack, reading.measureId)->name;
        const model::Message moved = model::message(idOf(reading.moved));
        lines.push_back(reading.before && reading.now
                            ? model::message("ask.then_now", name,
                                             meanOf(*reading.before, reading.unit),
                                             meanOf(*reading.now, reading.unit), moved)
                            : model::message("ask.moved", name, moved));
    }
    for (const std::string& id : askBack.stillThere) {
        lines.push_back(model::message("ask.still_there", technique::findFault(pack, id)->name));
    }
    lines.push_back(model::message(idOf(askBack.advice)));
    return lines;
}

} // namespace kestrel::coaching
