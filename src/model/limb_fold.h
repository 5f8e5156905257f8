#pragma once

#include "model/landmark.h"

#include <map>
#include <optional>
#include <string_view>

/// How a limb of two segments lies in depth, which one camera does not show.
namespace kestrel::model {

enum class LimbFold {
    together, ///< seen from the joint both ends lie farther, or both nearer: the joint sticks out
    through,  ///< one end is nearer to the camera than the joint, the other farther
};

std::string_view name(LimbFold fold);
std::optional<LimbFold> limbFoldFromName(std::string_view text);

/// The coach's word, by the joint.
using LimbFolds = std::map<Landmark, LimbFold>;

} // namespace kestrel::model
