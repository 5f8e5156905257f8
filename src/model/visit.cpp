#include "model/visit.h"

#include <array>

namespace kestrel::model {
namespace {

constexpr std::array stages{Stage::learn, Stage::settle, Stage::play};

} // namespace

std::string_view name(Stage stage) {
    switch (stage) {
    case Stage::learn:
        return "learn";
    case Stage::settle:
        return "settle";
    case Stage::play:
        return "play";
    }
    return {};
}

std::optional<Stage> stageFromName(std::string_view text) {
    for (const Stage stage : stages) {
        if (name(stage) == text) {
            return stage;
        }
    }
    return std::nullopt;
}

} // namespace kestrel::model
