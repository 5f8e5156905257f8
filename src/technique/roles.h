#pragma once

#include "model/landmark.h"
#include "technique/pack.h"

#include <optional>
#include <string>
#include <string_view>

/// Role names of landmarks ("lead_knee") and the body side they stand for.
namespace kestrel::technique {

/// The landmark behind a role name for a player of `hand`: "lead_knee" → left_knee for a
/// right-handed pitcher. Midline names ("head_top") stand for themselves. Nothing when the name is
/// not known to the pack.
std::optional<model::Landmark> landmarkForRole(const Pack& pack, std::string_view roleName,
                                               model::Hand hand);

/// The role name of `landmark` that this position lists, else the first that fits; the landmark's
/// own name when the pack has no role for its side.
std::string roleName(const Pack& pack, const Position* position, model::Landmark landmark,
                     model::Hand hand);

/// "lead_knee" → "lead knee", for sentences and labels.
std::string spoken(std::string_view roleName);

} // namespace kestrel::technique
