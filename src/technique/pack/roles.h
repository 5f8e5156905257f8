#pragma once

#include "model/landmark.h"
#include "model/message.h"
#include "technique/pack/pack.h"

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

/// Whether a camera at `view` sees the player's chest (true) or back (false) at set-up; nothing
/// when it sees neither squarely or the view is not known.
std::optional<bool> chestToCamera(const Pack& pack, std::optional<model::View> view);

/// Whether the dominant side is the leading one, as in a backhand: the player then faces away from
/// where a pitcher or forehand player of the same hand faces.
bool leadsWithDominantSide(const Pack& pack);

/// The picture direction that counts as positive for a camera at `view`: +1 right, −1 left; see
/// motion/geometry.h.
int positiveSign(const Pack& pack, model::Hand hand, model::View view);

/// "lead_knee" as “lead knee”, for sentences and labels.
model::Message nameOfRole(std::string_view roleName);

model::Message nameOfView(model::View view);

/// “front or rear”.
model::Message anyOf(const std::vector<model::View>& views);

} // namespace kestrel::technique
