#include "study/tracking_page.h"

#include <algorithm>
#include <iomanip>
#include <sstream>

namespace kestrel::study {
namespace {

constexpr double percent = 100.0;

/// The errors of all results together.
template <class Which> Spread merged(const std::vector<TrackingResult>& results, Which which) {
    Spread all;
    for (const TrackingResult& result : results) {
        const Spread& one = which(result);
        all.sorted.insert(all.sorted.end(), one.sorted.begin(), one.sorted.end());
    }
    std::sort(all.sorted.begin(), all.sorted.end());
    return all;
}

/// The mean of a share, each result with its weight.
template <class Share, class Weight>
double mean(const std::vector<TrackingResult>& results, Share share, Weight weight) {
    double sum = 0.0;
    double weights = 0.0;
    for (const TrackingResult& result : results) {
        const auto counts = static_cast<double>(weight(result));
        sum += counts * share(result);
        weights += counts;
    }
    return weights > 0.0 ? sum / weights : 0.0;
}

void writePair(std::ostream& page, const Spread& spread) {
    if (spread.count() == 0) {
        page << "– | ";
    } else {
        page << spread.at(0.5) << " / " << spread.at(0.95) << " | ";
    }
}

TrackingResult allTogether(const std::vector<TrackingResult>& results) {
    TrackingResult all;
    all.film = "all";
    const auto frames = [](const TrackingResult& r) { return r.frames; };
    const auto landmarks = [](const TrackingResult& r) {
        return r.visible.count() + r.hidden.count();
    };
    all.found = mean(
        results, [](const TrackingResult& r) { return r.found; }, frames);
    all.legsSwapped = mean(
        results, [](const TrackingResult& r) { return r.legsSwapped; }, frames);
    all.within95 = mean(
        results, [](const TrackingResult& r) { return r.within95; }, landmarks);
    all.occludedRight = mean(
        results, [](const TrackingResult& r) { return r.occludedRight; }, landmarks);
    for (const auto which : {&TrackingResult::visible, &TrackingResult::hidden,
                             &TrackingResult::angles, &TrackingResult::anglesAfterQueue,
                             &TrackingResult::readAngles, &TrackingResult::readAnglesAfterQueue}) {
        all.*which =
            merged(results, [&](const TrackingResult& r) -> const Spread& { return r.*which; });
    }
    for (const auto which : {&TrackingResult::implement, &TrackingResult::ball}) {
        EquipmentResult& thing = all.*which;
        thing.errors = merged(
            results, [&](const TrackingResult& r) -> const Spread& { return (r.*which).errors; });
        thing.within95 = mean(
            results, [&](const TrackingResult& r) { return (r.*which).within95; },
            [&](const TrackingResult& r) { return (r.*which).errors.count(); });
        for (const TrackingResult& r : results) {
            thing.visible += (r.*which).visible;
        }
    }
    return all;
}

void writeBody(std::ostream& page, const TrackingResult& r) {
    page << "| " << r.film << " | ";
    if (r.bodyPx > 0.0) {
        page << std::setprecision(0) << r.bodyPx << std::setprecision(1);
    } else {
        page << "–";
    }
    page << " | " << percent * r.found << " | ";
    writePair(page, r.visible);
    writePair(page, r.hidden);
    page << percent * r.within95 << " | " << percent * r.legsSwapped << " | "
         << percent * r.occludedRight << " | ";
    writePair(page, r.angles);
    writePair(page, r.anglesAfterQueue);
    writePair(page, r.readAngles);
    writePair(page, r.readAnglesAfterQueue);
    page << (r.actions > 0 ? std::to_string(r.actions) : "–") << " |\n";
}

void writeEquipment(std::ostream& page, const EquipmentResult& r) {
    if (r.visible == 0) {
        page << "– | – | – | ";
        return;
    }
    page << percent * static_cast<double>(r.errors.count()) / r.visible << " | ";
    writePair(page, r.errors);
    if (r.errors.count() == 0) {
        page << "– | ";
    } else {
        page << percent * r.within95 << " | ";
    }
}

void writeEquipmentRows(std::ostream& page, const std::vector<TrackingResult>& results,
                        const TrackingResult& all) {
    page << "\nImplement and ball, followed from where a coach placed them: the implement in the "
            "one key position that shows it at its\nlongest, the ball in two frames. Said of: "
            "share of the frames that show it; errors in % of standing height, median / 95th\n"
            "hundredth.\n\n"
            "| film | implement: said of % | far end | in 95 % | ball: said of % | ball | in 95 % "
            "|\n"
            "|---|---|---|---|---|---|---|\n";
    const auto row = [&](const TrackingResult& r) {
        if (r.implement.visible + r.ball.visible > 0) {
            page << "| " << r.film << " | ";
            writeEquipment(page, r.implement);
            writeEquipment(page, r.ball);
            page << "\n";
        }
    };
    std::for_each(results.begin(), results.end(), row);
    row(all);
}

/// What came of the key positions, film by film and all together.
std::string positionsTable(const std::vector<TrackingResult>& results) {
    std::ostringstream page;
    page
        << "\nKey positions, without help. Right: within 1/60 s (or half a frame of a slower film) "
           "of the true frame.\nAs good: right, or off by less than the position lasts. Unasked: "
           "wrong by more than the position lasts, and still not "
           "called doubtful.\n\n"
           "| film | found | right | as good | inside their 95 % | wrong | unasked |\n"
           "|---|---|---|---|---|---|---|\n";
    PositionResult all;
    const auto row = [&](const std::string& name, const PositionResult& p) {
        page << "| " << name << " | " << p.found << " of " << p.asked << " | " << p.right << " | "
             << p.lasting << " | " << p.inside95 << " | " << p.wrong << " | " << p.wrongUnasked
             << " |\n";
    };
    for (const TrackingResult& r : results) {
        const PositionResult& p = r.positions;
        if (p.asked == 0) {
            continue;
        }
        row(r.film, p);
        all.asked += p.asked;
        all.found += p.found;
        all.right += p.right;
        all.lasting += p.lasting;
        all.inside95 += p.inside95;
        all.wrong += p.wrong;
        all.wrongUnasked += p.wrongUnasked;
    }
    row("all", all);
    return page.str();
}

} // namespace

std::string trackingPage(const std::vector<TrackingResult>& results, pose::PoseSize size) {
    std::ostringstream page;
    page << std::fixed << std::setprecision(1)
         << "| film | height px | found % | visible % BH | hidden % BH | in 95 % | legs swapped % "
            "| covered told % | angles ° | after the queue ° | read ° | after the queue ° | "
            "actions |\n"
            "|---|---|---|---|---|---|---|---|---|---|---|---|---|\n";
    const TrackingResult all = allTogether(results);
    for (const TrackingResult& r : results) {
        writeBody(page, r);
    }
    writeBody(page, all);
    page << "\nNetwork: " << pose::name(size)
         << ". Pairs are median / 95th hundredth; BH is standing height. Read: the angles "
            "that the pack\nreads at the position, which the queue can ask for. All: every error "
            "of every film counts once.\n"
         << positionsTable(results);
    writeEquipmentRows(page, results, all);
    return page.str();
}

} // namespace kestrel::study
