#include "prepare/machine_marks.h"

#include "technique/pack/roles.h"
#include "technique/positions/find_positions.h"
#include "track/equipment/equipment.h"
#include "track/person/body_turns.h"
#include "track/person/fuse.h"
#include "track/person/placed_points.h"
#include "track/person/sides.h"

namespace kestrel::prepare {

track::Evidence withSidesSettled(track::Evidence evidence, const technique::Pack& pack,
                                 const model::Rep& rep,
                                 const technique::Circumstances& circumstances) {
    track::settleSides(evidence, rep.landmarks,
                       technique::chestToCamera(pack, technique::viewToFindBy(circumstances)));
    return evidence;
}

MachineMarks marksFrom(const track::Evidence& evidence, const technique::Pack& pack,
                       const model::Rep& rep, const technique::Circumstances& circumstances) {
    MachineMarks marks;
    const track::Evidence settled = withSidesSettled(evidence, pack, rep, circumstances);
    marks.landmarks = track::fuse(settled, rep.landmarks, circumstances.time);
    marks.bodyTurns = track::bodyTurns(settled);
    model::Rep looked;
    looked.span = rep.span;
    looked.positions = rep.positions;
    looked.landmarks = marks.landmarks;
    marks.positions = technique::findPositions(pack, looked, circumstances);
    return marks;
}

bool followPlaced(track::Evidence& evidence, const film::FilmIndex& index,
                  const technique::Pack& pack, const model::Rep& rep,
                  const technique::Circumstances& circumstances, const model::CameraMotion& camera,
                  const track::EvidenceProgress& progress) {
    constexpr int thousandths = 1000; // of the whole work, in which progress is told
    const bool things = track::anyEquipmentPlaced(rep.landmarks);
    const int forPoints = things ? thousandths / 4 : thousandths;
    const auto within = [&](int from, int to) -> track::EvidenceProgress {
        return [&progress, from, to](int done, int all) {
            return !progress || progress(from + (to - from) * done / all, thousandths);
        };
    };
    if (!track::followPlacedPoints(evidence, index, rep.landmarks, circumstances.time,
                                   within(0, forPoints))) {
        return false;
    }
    return !things ||
           track::followEquipment(evidence, index, rep.landmarks,
                                  track::fuse(withSidesSettled(evidence, pack, rep, circumstances),
                                              rep.landmarks, circumstances.time),
                                  camera, circumstances.time, within(forPoints, thousandths));
}

} // namespace kestrel::prepare
