#include "model/limb_fold.h"

namespace kestrel::model {

std::string_view name(LimbFold fold) {
    return fold == LimbFold::together ? "together" : "through";
}

std::optional<LimbFold> limbFoldFromName(std::string_view text) {
    for (const LimbFold fold : {LimbFold::together, LimbFold::through}) {
        if (name(fold) == text) {
            return fold;
        }
    }
    return std::nullopt;
}

} // namespace kestrel::model
