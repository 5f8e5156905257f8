#include "coaching/ask_back.h"

#include <boost/math/distributions/students_t.hpp>

#include <algorithm>
#include <cmath>

namespace kestrel::coaching {
namespace {

/// Share of the homework from which on it counts as done. Working figure.
constexpr double doneEnough = 0.6;

/// Weight of the usual scatter, in reps.
constexpr int priorFreedom = 4;

/// How much a child's reps usually scatter, one standard deviation. Angles as children's pitches do
/// (Fleisig et al. 2009, Sports Biomechanics 8:10: some 3 to 6° for youth); the rest working
/// figures of like size.
double usualScatter(model::Unit unit, double mean) {
    switch (unit) {
    case model::Unit::degrees:
        return 5.0;
    case model::Unit::bodyHeights:
        return 0.02;
    case model::Unit::headDiameters:
        return 0.2;
    case model::Unit::milliseconds:
        return 20.0;
    case model::Unit::seconds:
        return 0.05;
    case model::Unit::percent:
        return 5.0;
    case model::Unit::footLengths:
        return 0.2;
    default:
        constexpr double tenth = 0.1;
        return tenth * std::abs(mean);
    }
}

double factor95(int freedom) {
    constexpr double upper = 0.975;
    return boost::math::quantile(boost::math::students_t(freedom), upper);
}

Moved movedOf(const OverReps& before, const OverReps& now, const model::Range& range) {
    const double uncertain = std::hypot(before.u95, now.u95);
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

std::optional<OverReps> overReps(const std::vector<RepOfVisit>& reps,
                                 const std::string& measureId) {
    double sum = 0.0;
    double squares = 0.0;
    double ownVariance = 0.0;
    int n = 0;
    model::Unit unit = model::Unit::degrees;
    for (const RepOfVisit& rep : reps) {
        for (const model::Reading& reading : rep.readings) {
            if (reading.measureId == measureId && reading.value) {
                sum += *reading.value;
                squares += *reading.value * *reading.value;
                ownVariance += reading.u95 * reading.u95;
                unit = reading.unit;
                ++n;
            }
        }
    }
    if (n == 0) {
        return std::nullopt;
    }
    OverReps over{sum / n, 0.0, n};
    const double fromMean = std::max(0.0, squares - n * over.mean * over.mean);
    const double usual = usualScatter(unit, over.mean);
    const int freedom = priorFreedom + n - 1;
    const double scatter = std::sqrt((priorFreedom * usual * usual + fromMean) / freedom);
    over.u95 = std::hypot(std::sqrt(ownVariance) / n, factor95(freedom) * scatter / std::sqrt(n));
    return over;
}

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
