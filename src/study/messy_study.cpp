#include "study/messy_study.h"

#include "film/film_index.h"
#include "film/rep_finder.h"
#include "model/clip_time.h"
#include "track/camera/film_study.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <sstream>

namespace kestrel::study {
namespace {

using model::FilmBreak;
using model::FrameSpan;

int overlap(FrameSpan a, FrameSpan b) {
    return std::max(0, std::min(a.last, b.last) - std::max(a.first, b.first) + 1);
}

int length(FrameSpan span) {
    return span.last - span.first + 1;
}

/// More than half of both.
bool isSame(FrameSpan a, FrameSpan b) {
    return 2 * overlap(a, b) > std::max(length(a), length(b));
}

Tally tally(const std::vector<FrameSpan>& there, const std::vector<FrameSpan>& found,
            const auto& isFound, const auto& isNone) {
    Tally t;
    t.there = static_cast<int>(there.size());
    for (const FrameSpan& span : there) {
        t.found += std::any_of(found.begin(), found.end(),
                               [&](const FrameSpan& f) { return isFound(span, f); })
                       ? 1
                       : 0;
    }
    for (const FrameSpan& f : found) {
        t.wrong += isNone(f) ? 1 : 0;
    }
    return t;
}

Tally tally(const std::vector<FrameSpan>& there, const std::vector<FrameSpan>& found) {
    return tally(there, found, isSame, [&](const FrameSpan& f) {
        return std::none_of(there.begin(), there.end(),
                            [&](const FrameSpan& span) { return isSame(span, f); });
    });
}

std::vector<FrameSpan> spansOf(const std::vector<FilmBreak>& breaks, FilmBreak::Kind kind) {
    std::vector<FrameSpan> spans;
    for (const FilmBreak& b : breaks) {
        if (b.kind == kind) {
            spans.push_back(b.span);
        }
    }
    return spans;
}

Tally tally(bool there, bool found) {
    return {there ? 1 : 0, there && found ? 1 : 0, !there && found ? 1 : 0};
}

/// Held stretches. Whoever stands stock still in the synthetic player's film is held in all but the
/// grain: only one in which somebody moves is wrong.
Tally heldTally(const MessyFilm& film, const std::vector<FrameSpan>& found) {
    const auto there = spansOf(film.breaks, FilmBreak::Kind::still);
    return tally(there, found, isSame, [&](const FrameSpan& f) {
        constexpr int mostMoved = 3; // frames at the ends
        int moved = 0;
        for (int frame = f.first; frame <= f.last; ++frame) {
            const auto contains = [&](const FrameSpan& span) { return span.contains(frame); };
            moved += std::any_of(film.reps.begin(), film.reps.end(), contains) &&
                             std::none_of(there.begin(), there.end(), contains)
                         ? 1
                         : 0;
        }
        return moved > mostMoved;
    });
}

Tally graphicsTally(const MessyFilm& film, const std::vector<model::GraphicSeen>& found) {
    const auto isSeen = [](const model::GraphicSeen& a, const model::GraphicSeen& b) {
        const double x = std::min(a.box.left + a.box.width, b.box.left + b.box.width) -
                         std::max(a.box.left, b.box.left);
        const double y = std::min(a.box.top + a.box.height, b.box.top + b.box.height) -
                         std::max(a.box.top, b.box.top);
        return x > 0.0 && y > 0.0 && 2.0 * x * y > a.box.width * a.box.height &&
               isSame(a.span, b.span);
    };
    Tally t;
    t.there = static_cast<int>(film.graphics.size());
    for (const model::GraphicSeen& graphic : film.graphics) {
        t.found += std::any_of(found.begin(), found.end(),
                               [&](const auto& f) { return isSeen(graphic, f); })
                       ? 1
                       : 0;
    }
    t.wrong = static_cast<int>(found.size()) - t.found;
    return t;
}

} // namespace

Tally& Tally::operator+=(const Tally& other) {
    there += other.there;
    found += other.found;
    wrong += other.wrong;
    return *this;
}

MessyResult studyMessy(Mess mess, std::uint32_t seed, const std::filesystem::path& folder) {
    const MessyFilm film = messyFilm(mess, seed);
    const std::string name =
        "mess-" + std::to_string(static_cast<int>(mess)) + "-" + std::to_string(seed) + ".mp4";
    const std::filesystem::path file = folder / name;
    if (!std::filesystem::exists(file)) {
        // Under another name until it is whole: a film of a run that was ended is none.
        const std::filesystem::path part = folder / ("part-" + name);
        synth::renderEdit(film.edit, part);
        std::filesystem::rename(part, file);
    }
    const film::FilmIndex index = film::buildIndex(file);
    const model::FilmStudy study = track::studyFilm(index).value();
    const auto reps = film::findReps(study, model::ClipTime(index.fileTimes()));

    MessyResult result;
    const auto of = [&](FilmBreak::Kind kind) {
        return tally(spansOf(film.breaks, kind), spansOf(study.breaks, kind));
    };
    result.cuts = of(FilmBreak::Kind::cut);
    result.dark = of(FilmBreak::Kind::dark);
    result.held = heldTally(film, spansOf(study.breaks, FilmBreak::Kind::still));
    result.graphics = graphicsTally(film, study.graphics);
    result.bars = tally(film.edit.barPx > 0, study.insideBars.has_value());
    result.repeated =
        tally(film.repeated >= model::clearlyRepeated, study.repeated >= model::clearlyRepeated);
    result.reps = tally(film.reps, reps);
    const int near = static_cast<int>(std::lround(0.25 * index.fileRate()));
    for (const FrameSpan& rep : film.reps) {
        for (const FrameSpan& found : reps) {
            if (isSame(rep, found)) {
                result.repEndsRight += std::abs(rep.first - found.first) <= near ? 1 : 0;
                result.repEndsRight += std::abs(rep.last - found.last) <= near ? 1 : 0;
            }
        }
    }
    return result;
}

std::string messyPage(std::uint32_t first, std::uint32_t last, const std::filesystem::path& folder,
                      const std::function<void(int done, int all)>& tell) {
    std::ostringstream page;
    page << "# The first pass over films as coaches really have them\n\n"
            "Made by `jolly-kestrel-cli demo film-accuracy`, with seeds "
         << first << " to " << last
         << ". Each number is found of those there; behind + those found where there were none.\n"
            "Held: a stretch in which a player moves is wrong, one in which they stand stock still "
            "is not.\n\n"
            "| film | cuts | dark | held | graphics | bars | repeated | reps | ends within ¼ s |\n"
            "|---|---|---|---|---|---|---|---|---|\n";
    const auto row = [&](std::string_view name, const MessyResult& r) {
        page << "| " << name;
        for (const Tally& t : {r.cuts, r.dark, r.held, r.graphics, r.bars, r.repeated, r.reps}) {
            page << " | ";
            if (t.there > 0) {
                page << t.found << " of " << t.there;
            }
            if (t.wrong > 0) {
                page << " + " << t.wrong;
            }
        }
        page << " | " << r.repEndsRight << " of " << 2 * r.reps.found << " |\n";
    };
    MessyResult sum;
    int done = 0;
    const int all = static_cast<int>(allMesses.size() * (last - first + 1));
    for (const Mess mess : allMesses) {
        MessyResult result;
        for (std::uint32_t seed = first; seed <= last; ++seed) {
            const MessyResult one = studyMessy(mess, seed, folder);
            for (MessyResult* to : {&result, &sum}) {
                to->cuts += one.cuts;
                to->dark += one.dark;
                to->held += one.held;
                to->graphics += one.graphics;
                to->bars += one.bars;
                to->repeated += one.repeated;
                to->reps += one.reps;
                to->repEndsRight += one.repEndsRight;
            }
            tell(++done, all);
        }
        row(name(mess), result);
    }
    row("all", sum);
    return page.str();
}

} // namespace kestrel::study
