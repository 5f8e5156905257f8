#include "study/position_study.h"

#include "model/clip_time.h"
#include "technique/positions/doubt.h"
#include "technique/positions/find_positions.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <sstream>

namespace kestrel::study {

PositionTally& PositionTally::operator+=(const PositionTally& other) {
    there += other.there;
    found += other.found;
    right += other.right;
    lasting += other.lasting;
    inside95 += other.inside95;
    sure += other.sure;
    sureWrong += other.sureWrong;
    rightAsked += other.rightAsked;
    outside += other.outside;
    outsideTold += other.outsideTold;
    return *this;
}

namespace {

PositionTally tallyOf(const technique::Pack& pack, const PlayedRep& played) {
    const technique::Circumstances& c = played.circumstances;
    const auto found = technique::findPositions(pack, played.rep, c);
    const double interval = model::frameInterval(c.time, 0).value;
    PositionTally tally;
    for (const technique::Position& position : pack.positions) {
        const auto instant = found.find(position.id);
        if (played.outside.contains(position.id)) {
            ++tally.outside;
            tally.outsideTold += instant == found.end() ? 1 : 0;
            continue;
        }
        const auto truth = played.positions.find(position.id);
        if (truth == played.positions.end() ||
            !technique::canBeFound(pack, position, technique::viewToFindBy(c))) {
            continue;
        }
        ++tally.there;
        if (instant == found.end()) {
            continue;
        }
        ++tally.found;
        const double at =
            c.time.fieldTimes()[static_cast<std::size_t>(instant->second.frame)].value;
        const double miss = std::abs(at - truth->second);
        const double rounding = interval / std::sqrt(12.0); // of the frame, uniform
        const double sd = std::hypot(instant->second.sd.value, rounding);
        constexpr double frameAt60 = 1.0 / 60.0;
        constexpr double perSecond = 1000.0;
        const bool isRight = miss <= std::max(frameAt60, 0.5 * interval) + 0.5 * interval;
        const bool lasts = isRight || miss <= position.lastsMs / perSecond;
        const bool asked = technique::isDoubtful(position, instant->second, c);
        tally.right += isRight ? 1 : 0;
        tally.lasting += lasts ? 1 : 0;
        tally.inside95 += miss <= model::coverage95 * sd ? 1 : 0;
        tally.sure += asked ? 0 : 1;
        tally.sureWrong += !asked && !lasts ? 1 : 0;
        tally.rightAsked += isRight && asked ? 1 : 0;
    }
    return tally;
}

} // namespace

std::map<std::pair<FoundBy, Habit>, PositionTally>
studyPositions(const std::vector<technique::Pack>& packs, std::uint32_t seed, Around around) {
    const synth::FilmScene scene(filmOfRep(seed, around));
    std::map<std::pair<FoundBy, Habit>, PositionTally> tallies;
    const auto pack = std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
        return p.id == scene.spec().player.technique;
    });
    if (pack == packs.end()) {
        return tallies;
    }
    technique::Pack withoutNetwork = *pack;
    withoutNetwork.network.reset();
    for (const Habit habit : allHabits) {
        const PlayedRep played = playedRep(scene, seed, habit);
        tallies[{FoundBy::network, habit}] = tallyOf(*pack, played);
        tallies[{FoundBy::detectors, habit}] = tallyOf(withoutNetwork, played);
    }
    return tallies;
}

namespace {

void addRow(std::ostream& page, std::string_view name, const PositionTally& t) {
    const auto percent = [](int part, int whole) {
        constexpr double all = 100.0;
        std::ostringstream text;
        text.precision(1);
        text << std::fixed << (whole > 0 ? all * part / whole : 0.0);
        return text.str();
    };
    page << "| " << name << " | " << t.found << " of " << t.there << " | "
         << percent(t.right, t.there) << " | " << percent(t.lasting, t.there) << " | "
         << percent(t.inside95, t.found) << " | " << percent(t.sureWrong, t.sure) << " | "
         << percent(t.rightAsked, t.right) << " | ";
    if (t.outside > 0) {
        page << t.outsideTold << " of " << t.outside;
    }
    page << " |\n";
}

} // namespace

std::string positionPage(const std::vector<technique::Pack>& packs, std::uint32_t first,
                         std::uint32_t last, const std::function<void(int done, int all)>& tell) {
    constexpr std::array allAround{Around::side, Around::front, Around::rear, Around::between};
    std::map<std::pair<FoundBy, Habit>, PositionTally> sums;
    int done = 0;
    const int all = static_cast<int>(allAround.size()) * static_cast<int>(last - first + 1);
    for (std::uint32_t seed = first; seed <= last; ++seed) {
        for (const Around around : allAround) {
            for (const auto& [key, tally] : studyPositions(packs, seed, around)) {
                sums[key] += tally;
            }
            tell(++done, all);
        }
    }
    std::ostringstream page;
    page << "# Key positions in reps as players really do them\n\n"
            "Made by `jolly-kestrel-cli demo position-accuracy`, with seeds "
         << first << " to " << last
         << " of players and places, each from the side, front, rear and in between; landmarks\n"
            "with the errors of the network that ships, not rendered. Right: within 1/60 s (half a "
            "frame of a slower film; the true\n"
            "instant is rounded to a frame). As good: right, or off by less than the position "
            "lasts. Sure and wrong: not called doubtful\n"
            "and off by more than it lasts, share of the sure. Asked: called doubtful, share of "
            "the right. Outside told: not in the\n"
            "film, and not found there.\n";
    for (const FoundBy by : {FoundBy::network, FoundBy::detectors}) {
        page << (by == FoundBy::network
                     ? "\n## By the network, all positions together\n\nThis is how the program "
                       "finds them.\n\n"
                     : "\n## By each position's own detector\n\nThis is how it finds those that "
                       "the network has not learned, as in packs of\na coach's own.\n\n")
             << "| around the rep | found | right % | as good % | inside 95 % | sure and wrong % | "
                "asked % | outside told |\n"
                "|---|---|---|---|---|---|---|---|\n";
        PositionTally sum;
        for (const Habit habit : allHabits) {
            addRow(page, name(habit), sums[{by, habit}]);
            if (habit != Habit::clean) {
                sum += sums[{by, habit}];
            }
        }
        addRow(page, "all but clean", sum);
    }
    return page.str();
}

} // namespace kestrel::study
