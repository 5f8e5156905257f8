#include "prepare/machine_marks.h"

#include "technique/find_positions.h"
#include "technique/roles.h"
#include "track/fuse.h"
#include "track/sides.h"

namespace kestrel::prepare {
MachineMarks marksFrom(const track::Evidence& evidence, const technique::Pack& pack,
                       const model::Rep& rep, const technique::Circumstances& circumstances) {
    track::Evidence settled = evidence;
    track::settleSides(settled, rep.landmarks, technique::chestToCamera(pack, circumstances.view));
    MachineMarks marks;
    marks.landmarks = track::fuse(settled, rep.landmarks, circumstances.time);
    model::Rep looked;
    looked.span = rep.span;
    looked.positions = rep.positions;
    looked.landmarks = marks.landmarks;
    marks.positions = technique::findPositions(pack, looked, circumstances);
    return marks;
}

} // namespace kestrel::prepare
