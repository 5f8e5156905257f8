#include "prepare/machine_marks.h"

#include "technique/find_positions.h"
#include "technique/roles.h"
#include "track/fuse.h"
#include "track/sides.h"
#include "track/things.h"

namespace kestrel::prepare {
namespace {

model::LandmarkTrack weighed(const track::Evidence& evidence, const technique::Pack& pack,
                             const model::Rep& rep, const technique::Circumstances& circumstances) {
    track::Evidence settled = evidence;
    track::settleSides(settled, rep.landmarks, technique::chestToCamera(pack, circumstances.view));
    return track::fuse(settled, rep.landmarks, circumstances.time);
}

} // namespace

MachineMarks marksFrom(const track::Evidence& evidence, const technique::Pack& pack,
                       const model::Rep& rep, const technique::Circumstances& circumstances) {
    MachineMarks marks;
    marks.landmarks = weighed(evidence, pack, rep, circumstances);
    model::Rep looked;
    looked.span = rep.span;
    looked.positions = rep.positions;
    looked.landmarks = marks.landmarks;
    marks.positions = technique::findPositions(pack, looked, circumstances);
    return marks;
}

bool followPlacedThings(track::Evidence& evidence, const film::FilmIndex& index,
                        const technique::Pack& pack, const model::Rep& rep,
                        const technique::Circumstances& circumstances,
                        const model::CameraMotion& camera,
                        const track::EvidenceProgress& progress) {
    if (!track::anyThingPlaced(rep.landmarks)) {
        return true;
    }
    return track::followThings(evidence, index, rep.landmarks,
                               weighed(evidence, pack, rep, circumstances), camera,
                               circumstances.time, progress);
}

} // namespace kestrel::prepare
