#include "desk/judging.h"

#include <algorithm>

namespace kestrel::desk {
namespace {

/// Whether the judgement of a rep depends on nothing but player, clip, rep and pack: no other film
/// and no camera motion, which are kept elsewhere.
bool standsAlone(const records::Library& library, const model::Clip& clip) {
    return !clip.steadied && !library.pairOf(clip.id);
}

} // namespace

Judging::Judging(const records::Library& library, const Shelf& shelf, FilmIndices& films,
                 model::Clock clock)
    : library_(library),
      sources_{
          library,
          [&shelf](const model::Rep& rep) -> const technique::Pack& { return shelf.packOf(rep); },
          [&films](const model::Clip& clip) { return films.of(clip); }, std::move(clock)},
      patientSources_{sources_} {
    patientSources_.filmOf = [&films](const model::Clip& clip) { return films.readNow(clip); };
}

std::shared_ptr<const prepare::JudgedRep>
Judging::of(const model::Player& player, const model::Clip& clip, const model::Rep& rep) const {
    if (!standsAlone(library_, clip)) {
        kept_.erase(rep.id); // what the other film says of it must not outlive the pair
        return std::make_shared<const prepare::JudgedRep>(
            prepare::judgedRep(sources_, player, clip, rep));
    }
    constexpr std::size_t mostKept = 200; // some hundred megabytes with landmarks in all frames
    if (kept_.size() > mostKept) {
        kept_.clear();
    }
    auto& kept = kept_[rep.id];
    const bool stillHolds = kept && !kept->notJudged && kept->pack == &sources_.packOf(rep) &&
                            kept->player == player && kept->clip == clip && kept->rep == rep;
    if (!stillHolds) {
        kept = std::make_shared<const prepare::JudgedRep>(
            prepare::judgedRep(sources_, player, clip, rep));
    }
    return kept;
}

std::vector<std::pair<model::Clip, model::Rep>>
Judging::repsOf(const model::VisitKey& visit) const {
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

std::vector<std::shared_ptr<const prepare::JudgedRep>>
Judging::visit(const model::VisitKey& visit) const {
    std::vector<std::shared_ptr<const prepare::JudgedRep>> judged;
    const auto player = library_.player(visit.playerId);
    for (const auto& [clip, rep] : repsOf(visit)) {
        if (!model::allPositions(rep).empty() || !rep.observations.empty()) {
            judged.push_back(of(*player, clip, rep));
        }
    }
    return judged;
}

std::vector<coaching::RepOfVisit>
judgedOf(const std::vector<std::shared_ptr<const prepare::JudgedRep>>& reps) {
    std::vector<coaching::RepOfVisit> judged;
    for (const auto& rep : reps) {
        if (!rep->notJudged) {
            judged.push_back(prepare::ofVisit(*rep));
        }
    }
    return judged;
}

} // namespace kestrel::desk
