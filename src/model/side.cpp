#include "model/side.h"

#include <array>
#include <utility>

namespace kestrel::model {
namespace {

constexpr std::array viewNames{
    std::pair{View::openSide, std::string_view("open_side")},
    std::pair{View::closedSide, std::string_view("closed_side")},
    std::pair{View::front, std::string_view("front")},
    std::pair{View::rear, std::string_view("rear")},
    std::pair{View::overhead, std::string_view("overhead")},
};

} // namespace

std::string_view name(Hand hand) {
    return hand == Hand::right ? "right" : "left";
}

std::string_view name(View view) {
    for (const auto& [value, text] : viewNames) {
        if (value == view) {
            return text;
        }
    }
    return {};
}

std::optional<Hand> handFromName(std::string_view text) {
    if (text == "right") {
        return Hand::right;
    }
    if (text == "left") {
        return Hand::left;
    }
    return std::nullopt;
}

std::optional<View> viewFromName(std::string_view text) {
    for (const auto& [value, viewName] : viewNames) {
        if (viewName == text) {
            return value;
        }
    }
    return std::nullopt;
}

int targetSign(Hand hand, View view) {
    // A right-hander faces the open-side camera with the target on the camera's right.
    const int fromOpenSide = hand == Hand::right ? 1 : -1;
    switch (view) {
    case View::openSide:
        return fromOpenSide;
    case View::closedSide:
        return -fromOpenSide;
    case View::front:
    case View::rear:
    case View::overhead:
        return 0;
    }
    return 0;
}

std::string_view name(Side side) {
    return side == Side::left ? "left" : "right";
}

std::optional<Side> sideFromName(std::string_view text) {
    for (const Side side : {Side::left, Side::right}) {
        if (text == name(side)) {
            return side;
        }
    }
    return std::nullopt;
}

} // namespace kestrel::model
