#include "technique/pack/roles.h"

#include <algorithm>

namespace kestrel::technique {
namespace {

model::Side sideOf(RoleSide role, model::Hand hand) {
    const model::Side dominant =
        hand == model::Hand::right ? model::Side::right : model::Side::left;
    return role == RoleSide::dominant ? dominant : model::opposite(dominant);
}

} // namespace

std::optional<model::Landmark> landmarkForRole(const Pack& pack, std::string_view roleName,
                                               model::Hand hand) {
    if (const auto midline = model::landmarkFromName(roleName);
        midline && !model::sideOf(*midline)) {
        return midline;
    }
    const std::size_t split = roleName.find('_');
    if (split == std::string_view::npos) {
        return std::nullopt;
    }
    const auto role = pack.roles.find(std::string(roleName.substr(0, split)));
    if (role == pack.roles.end()) {
        return std::nullopt;
    }
    const std::string side = sideOf(role->second, hand) == model::Side::left ? "left_" : "right_";
    return model::landmarkFromName(side + std::string(roleName.substr(split + 1)));
}

std::string roleName(const Pack& pack, const Position* position, model::Landmark landmark,
                     model::Hand hand) {
    if (position != nullptr) {
        const auto listed = std::find_if(
            position->landmarks.begin(), position->landmarks.end(),
            [&](const std::string& name) { return landmarkForRole(pack, name, hand) == landmark; });
        if (listed != position->landmarks.end()) {
            return *listed;
        }
    }
    const auto side = model::sideOf(landmark);
    const std::string own(name(landmark));
    if (!side) {
        return own;
    }
    for (const auto& [role, roleSide] : pack.roles) {
        if (sideOf(roleSide, hand) == *side) {
            return role + own.substr(own.find('_'));
        }
    }
    return own;
}

std::optional<bool> chestToCamera(const Pack& pack, std::optional<model::View> view) {
    if (!pack.sideOnAtSetUp || !view) {
        return std::nullopt;
    }
    switch (*view) {
    case model::View::openSide:
        return true;
    case model::View::closedSide:
        return false;
    default:
        return std::nullopt;
    }
}

bool leadsWithDominantSide(const Pack& pack) {
    const auto lead = pack.roles.find("lead");
    return lead != pack.roles.end() && lead->second == RoleSide::dominant;
}

int positiveSign(const Pack& pack, model::Hand hand, model::View view) {
    const model::Hand otherHand =
        hand == model::Hand::right ? model::Hand::left : model::Hand::right;
    const model::Hand facing = leadsWithDominantSide(pack) ? otherHand : hand;
    if (const int toTarget = model::targetSign(facing, view); toTarget != 0) {
        return toTarget;
    }
    // Seen from the front the throwing arm of a right-hander is on the picture's left.
    const int armFromRear = hand == model::Hand::right ? 1 : -1;
    return view == model::View::front ? -armFromRear : armFromRear;
}

model::Message nameOfRole(std::string_view roleName) {
    return model::message("role." + std::string(roleName));
}

model::Message nameOfView(model::View view) {
    return model::message("view." + std::string(name(view)));
}

model::Message anyOf(const std::vector<model::View>& views) {
    std::vector<model::Message> names;
    std::transform(views.begin(), views.end(), std::back_inserter(names), nameOfView);
    return model::listOf("list.or", std::move(names));
}

} // namespace kestrel::technique
