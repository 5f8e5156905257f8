#pragma once

#include <optional>
#include <string_view>

/// Body sides, handedness and the camera's place, as types.
namespace kestrel::model {

enum class Side { left, right };

std::string_view name(Side side);
std::optional<Side> sideFromName(std::string_view text);

constexpr Side opposite(Side s) {
    return s == Side::left ? Side::right : Side::left;
}

/// The player's throwing or hitting hand.
enum class Hand { right, left };

/// Where the camera stands, in the words of the field: the open side faces the player's chest at
/// set-up, the closed side the back; front is seen from the target, rear looks at the target.
enum class View { openSide, closedSide, front, rear, overhead };

std::string_view name(Hand hand);
std::string_view name(View view);
std::optional<Hand> handFromName(std::string_view text);
std::optional<View> viewFromName(std::string_view text);

/// Which way the target lies in the picture: +1 to the right, −1 to the left, 0 when the line to
/// the target does not run across the picture (front, rear) or its direction is not known
/// (overhead).
int targetSign(Hand hand, View view);

} // namespace kestrel::model
