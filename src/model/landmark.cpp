#include "model/landmark.h"

#include <algorithm>
#include <array>
#include <utility>

namespace kestrel::model {
namespace {

struct Entry {
    Landmark landmark;
    std::string_view name;
    Landmark mirror;
};

constexpr std::array entries{
    Entry{Landmark::headTop, "head_top", Landmark::headTop},
    Entry{Landmark::head, "head", Landmark::head},
    Entry{Landmark::leftShoulder, "left_shoulder", Landmark::rightShoulder},
    Entry{Landmark::rightShoulder, "right_shoulder", Landmark::leftShoulder},
    Entry{Landmark::leftElbow, "left_elbow", Landmark::rightElbow},
    Entry{Landmark::rightElbow, "right_elbow", Landmark::leftElbow},
    Entry{Landmark::leftWrist, "left_wrist", Landmark::rightWrist},
    Entry{Landmark::rightWrist, "right_wrist", Landmark::leftWrist},
    Entry{Landmark::leftHand, "left_hand", Landmark::rightHand},
    Entry{Landmark::rightHand, "right_hand", Landmark::leftHand},
    Entry{Landmark::leftHip, "left_hip", Landmark::rightHip},
    Entry{Landmark::rightHip, "right_hip", Landmark::leftHip},
    Entry{Landmark::leftKnee, "left_knee", Landmark::rightKnee},
    Entry{Landmark::rightKnee, "right_knee", Landmark::leftKnee},
    Entry{Landmark::leftAnkle, "left_ankle", Landmark::rightAnkle},
    Entry{Landmark::rightAnkle, "right_ankle", Landmark::leftAnkle},
    Entry{Landmark::leftHeel, "left_heel", Landmark::rightHeel},
    Entry{Landmark::rightHeel, "right_heel", Landmark::leftHeel},
    Entry{Landmark::leftToe, "left_toe", Landmark::rightToe},
    Entry{Landmark::rightToe, "right_toe", Landmark::leftToe},
    Entry{Landmark::glove, "glove", Landmark::glove},
    Entry{Landmark::ball, "ball", Landmark::ball},
    Entry{Landmark::implementButt, "implement_butt", Landmark::implementButt},
    Entry{Landmark::implementHead, "implement_head", Landmark::implementHead},
    Entry{Landmark::implementTip, "implement_tip", Landmark::implementTip},
    Entry{Landmark::implementFaceEdge, "implement_face_edge", Landmark::implementFaceEdge},
    Entry{Landmark::implementFarEdge, "implement_far_edge", Landmark::implementFarEdge},
};

constexpr auto landmarkOrder = [] {
    std::array<Landmark, entries.size()> order{};
    std::transform(entries.begin(), entries.end(), order.begin(),
                   [](const Entry& e) { return e.landmark; });
    return order;
}();

constexpr std::array sourceNames{
    std::pair{Source::placed, std::string_view("placed")},
    std::pair{Source::tracked, std::string_view("tracked")},
    std::pair{Source::proposed, std::string_view("proposed")},
    std::pair{Source::interpolated, std::string_view("interpolated")},
};

const Entry& entryOf(Landmark landmark) {
    return entries.at(static_cast<std::size_t>(landmark));
}

} // namespace

std::span<const Landmark> allLandmarks() {
    return landmarkOrder;
}

std::string_view name(Landmark landmark) {
    return entryOf(landmark).name;
}

std::optional<Landmark> landmarkFromName(std::string_view text) {
    const auto* found = std::find_if(entries.begin(), entries.end(),
                                     [text](const Entry& e) { return e.name == text; });
    return found == entries.end() ? std::nullopt : std::optional(found->landmark);
}

Landmark mirrored(Landmark landmark) {
    return entryOf(landmark).mirror;
}

bool isOfBody(Landmark landmark) {
    return landmark <= Landmark::rightToe;
}

std::optional<Side> sideOf(Landmark landmark) {
    if (name(landmark).starts_with("left_")) {
        return Side::left;
    }
    if (name(landmark).starts_with("right_")) {
        return Side::right;
    }
    return std::nullopt;
}

std::string_view name(Source source) {
    return sourceNames.at(static_cast<std::size_t>(source)).second;
}

std::optional<Source> sourceFromName(std::string_view text) {
    const auto* found = std::find_if(sourceNames.begin(), sourceNames.end(),
                                     [text](const auto& e) { return e.second == text; });
    return found == sourceNames.end() ? std::nullopt : std::optional(found->first);
}

const LandmarkPoint* find(const LandmarkTrack& track, int frame, Landmark landmark) {
    const auto atFrame = track.find(frame);
    if (atFrame == track.end()) {
        return nullptr;
    }
    const auto point = atFrame->second.find(landmark);
    return point == atFrame->second.end() ? nullptr : &point->second;
}

} // namespace kestrel::model
