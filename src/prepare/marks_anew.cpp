#include "prepare/marks_anew.h"

#include "prepare/found_view.h"
#include "prepare/machine_marks.h"
#include "technique/positions/find_positions.h"
#include "track/files/evidence_file.h"

#include <algorithm>

namespace kestrel::prepare {
namespace {

bool hasMachineLandmarks(const model::Rep& rep) {
    return std::any_of(rep.landmarks.begin(), rep.landmarks.end(), [](const auto& frame) {
        return std::any_of(frame.second.begin(), frame.second.end(), [](const auto& point) {
            return point.second.source != model::Source::placed;
        });
    });
}

/// The circumstances of a stored rep; nothing when its film cannot be read.
std::optional<technique::Circumstances> around(const records::Library& library,
                                               const JudgeSources& sources, const model::Rep& rep) {
    const model::Clip clip = *library.clip(rep.clipId);
    auto found = circumstancesOf(sources, *library.player(clip.playerId), clip, rep);
    auto* circumstances = std::get_if<technique::Circumstances>(&found);
    return circumstances == nullptr ? std::nullopt : std::optional(std::move(*circumstances));
}

} // namespace

void findViewAnew(records::Library& library, const JudgeSources& sources, model::ClipId clipId) {
    model::Clip clip = *library.clip(clipId);
    if (clip.view) {
        return;
    }
    clip.foundView.reset();
    const model::Player player = *library.player(clip.playerId);
    for (const model::Rep& rep : library.reps(clipId)) {
        const auto evidence = track::evidenceFromBytes(library.evidence(rep.id));
        const auto circumstances = evidence ? around(library, sources, rep) : std::nullopt;
        if (circumstances && !clip.foundView) {
            clip.foundView = foundView(sources.packOf(rep), player, *evidence, *circumstances);
        }
    }
    library.save(clip);
}

void weighAnew(records::Library& library, const JudgeSources& sources, model::RepId repId) {
    const auto evidence = track::evidenceFromBytes(library.evidence(repId));
    const auto rep = library.rep(repId);
    if (!evidence || !rep) {
        return;
    }
    const auto circumstances = around(library, sources, *rep);
    if (!circumstances) {
        return;
    }
    const MachineMarks marks = marksFrom(*evidence, sources.packOf(*rep), *rep, *circumstances);
    library.setMachineLandmarks(repId, marks.landmarks);
    library.setBodyTurns(repId, marks.bodyTurns);
    library.setFoundPositions(repId, marks.positions);
}

void findAnew(records::Library& library, const JudgeSources& sources, model::RepId repId) {
    const auto rep = library.rep(repId);
    if (!rep) {
        return;
    }
    const auto circumstances =
        hasMachineLandmarks(*rep) ? around(library, sources, *rep) : std::nullopt;
    library.setFoundPositions(
        repId, circumstances ? technique::findPositions(sources.packOf(*rep), *rep, *circumstances)
                             : std::map<std::string, model::FoundInstant>());
}

} // namespace kestrel::prepare
