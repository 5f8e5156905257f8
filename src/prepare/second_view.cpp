#include "prepare/second_view.h"

#include "technique/kinds/two_views.h"

#include <cmath>
#include <memory>

namespace kestrel::prepare {

void addSecondView(technique::Circumstances& circumstances, const model::Rep& theirs,
                   const technique::Circumstances& seen,
                   const std::optional<model::SyncOffset>& heard) {
    if (!seen.ground) {
        circumstances.secondReason = seen.groundReason.empty()
                                         ? model::message("second.mark_other_ground")
                                         : model::message("second.its_ground", seen.groundReason);
        return;
    }
    technique::SecondView second;
    second.rep = theirs;
    second.ground = *seen.ground;
    second.camera = seen.camera;
    const double interval =
        seen.time.frameCount() > 1 ? model::frameInterval(seen.time, 0).value : 0.0;
    second.frameSd = interval / std::sqrt(12.0); // evenly spread over one frame
    second.time = seen.time;
    second.heard = heard;
    if (heard && circumstances.ground) {
        second.heard = technique::lightFromSound(*heard, circumstances.ground->fit.camera,
                                                 seen.ground->fit.camera);
    }
    circumstances.second = std::make_shared<const technique::SecondView>(std::move(second));
}

} // namespace kestrel::prepare
