#include "technique/kinds/moving_rep.h"

namespace kestrel::technique {

MovingRep::MovingRep(const Pack& pack, const model::Rep& rep) : pack_(pack), rep_(rep) {
    pack_.positions.push_back({position, position, {}, {}, {}, true, 0.0, false, {}});
}

const model::Rep& MovingRep::at(int frame) {
    rep_.positions[position] = frame;
    rep_.nearerEnds.erase(position);
    for (const auto& [id, ends] : rep_.nearerEnds) {
        if (model::frameOf(rep_, id) == frame) {
            rep_.nearerEnds[position] = ends;
            break;
        }
    }
    return rep_;
}

} // namespace kestrel::technique
