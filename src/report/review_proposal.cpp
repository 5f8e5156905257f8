#include "report/review_proposal.h"

#include <QCoreApplication>

#include <algorithm>
#include <map>

namespace kestrel::report {
namespace {

using model::ScriptStep;

/// What stands on it, for translators.
class ReviewProposalWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::ReviewProposalWords)
};

/// What a stop is there for; of several at one position the first in this order is said.
enum class Why { focus, watch, strength };

struct Stop {
    Why why = Why::strength;
    std::string measureId;
    std::string caption;
};

/// Seconds to read a caption: some fifteen letters a second for a child, and a moment to look.
double secondsFor(const std::string& caption) {
    constexpr double lettersASecond = 15.0;
    constexpr double moment = 1.5;
    return std::max(3.0, moment + static_cast<double>(caption.size()) / lettersASecond);
}

class Proposal {
  public:
    Proposal(const technique::Pack& pack, const model::Rep& rep,
             const std::vector<model::Reading>& readings, const coaching::VisitReview& visit,
             const model::PlanChoice& choice)
        : pack_(pack), rep_(rep), readings_(readings), visit_(visit), choice_(choice) {}

    /// By frame, so in the order in which they happen.
    std::map<int, std::pair<std::string, Stop>> stops() {
        const model::Plan& plan = visit_.plan;
        if (!plan.focusFaultId.empty()) {
            const coaching::FaultWords words = coaching::wordsOf(pack_, choice_, plan.focusFaultId);
            std::string caption =
                ReviewProposalWords::tr("Work on this: ").toStdString() + words.name + ".";
            if (!plan.cueTexts.empty()) {
                caption += ReviewProposalWords::tr(" Think: “").toStdString() +
                           plan.cueTexts.front() + "”";
            }
            add(plan.focusFaultId, {Why::focus, {}, caption});
        }
        for (const std::string& id : plan.watchFaultIds) {
            add(id, {Why::watch,
                     {},
                     ReviewProposalWords::tr("Keep an eye on: ").toStdString() +
                         coaching::wordsOf(pack_, choice_, id).name + "."});
        }
        constexpr std::size_t enoughPraise = 2;
        std::size_t praised = 0;
        for (const std::string& id : plan.strengthIds) {
            const technique::Measure& measure = *technique::findMeasure(pack_, id);
            if (praised < enoughPraise &&
                put(measure.at,
                    {Why::strength, id,
                     ReviewProposalWords::tr("Good: ").toStdString() + measure.plain + "."})) {
                ++praised;
            }
        }
        return std::move(stops_);
    }

  private:
    /// Stops where a fault's readings are taken, else where it starts.
    void add(const std::string& faultId, Stop stop) {
        const technique::FaultDefinition& fault = *technique::findFault(pack_, faultId);
        for (const model::Verdict verdict : {model::Verdict::outside, model::Verdict::edge}) {
            for (const technique::Sign& sign : fault.signs) {
                const auto reading =
                    std::find_if(readings_.begin(), readings_.end(), [&](const model::Reading& r) {
                        return r.measureId == sign.measure && r.verdict == verdict;
                    });
                if (reading != readings_.end()) {
                    stop.measureId = reading->measureId;
                    put(reading->positionId, stop);
                    return;
                }
            }
        }
        put(fault.at, stop);
    }

    bool put(const std::string& position, const Stop& stop) {
        const auto frame = model::frameOf(rep_, position);
        if (!frame) {
            return false;
        }
        const auto there = stops_.find(*frame);
        if (there != stops_.end() && there->second.second.why <= stop.why) {
            return false; // something that matters more is said there
        }
        stops_[*frame] = {position, stop};
        return true;
    }

    const technique::Pack& pack_;
    const model::Rep& rep_;
    const std::vector<model::Reading>& readings_;
    const coaching::VisitReview& visit_;
    const model::PlanChoice& choice_;
    std::map<int, std::pair<std::string, Stop>> stops_;
};

ScriptStep run(int first, int last, double speed, const std::string& caption) {
    ScriptStep step;
    step.kind = ScriptStep::Kind::run;
    step.first = first;
    step.last = last;
    step.speed = speed;
    step.caption = caption;
    return step;
}

} // namespace

model::ReviewScript proposedScript(const technique::Pack& pack, const model::Rep& rep,
                                   const model::ClipTime& time,
                                   const std::vector<model::Reading>& readings,
                                   const coaching::VisitReview& visit,
                                   const model::PlanChoice& choice, const EarlierRep& earlier) {
    const auto positions = model::allPositions(rep);
    if (positions.empty()) {
        return {};
    }
    const auto [first, last] =
        std::minmax_element(positions.begin(), positions.end(),
                            [](const auto& a, const auto& b) { return a.second < b.second; });
    // A moment before and after, so that the motion does not begin with a jerk.
    constexpr double momentS = 0.3;
    const auto& times = time.fieldTimes();
    const auto at = [&](int frame) { return times[static_cast<std::size_t>(frame)].value; };
    const int start = model::frameAtFieldTime(time, model::Seconds(at(first->second) - momentS));
    const int end = model::frameAtFieldTime(time, model::Seconds(at(last->second) + momentS));
    constexpr double slow = 0.25;

    model::ReviewScript script;
    script.push_back(
        run(start, end, 1.0, ReviewProposalWords::tr("Watch it once as it is.").toStdString()));
    int reached = start;
    for (const auto& [frame, entry] : Proposal(pack, rep, readings, visit, choice).stops()) {
        const auto& [position, stop] = entry;
        if (frame > reached) {
            script.push_back(run(reached, frame, slow, {}));
        }
        ScriptStep step;
        step.first = frame;
        step.positionId = position;
        step.measureId = stop.measureId;
        step.caption = stop.caption;
        step.seconds = secondsFor(stop.caption);
        script.push_back(step);
        if (stop.why == Why::focus && earlier.repId.stored()) {
            step.besideRep = earlier.repId;
            step.caption =
                ReviewProposalWords::tr("On the left then, on the right now.").toStdString();
            step.seconds = secondsFor(step.caption);
            script.push_back(step);
        }
        reached = frame;
    }
    const std::string cue =
        visit.plan.cueTexts.empty() ? std::string() : "“" + visit.plan.cueTexts.front() + "”";
    script.push_back(run(reached, end, slow, {}));
    if (!cue.empty()) {
        constexpr double half = 0.5;
        script.push_back(run(start, end, half,
                             ReviewProposalWords::tr("Once more. Think: ").toStdString() + cue));
    }
    return script;
}

} // namespace kestrel::report
