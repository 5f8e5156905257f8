#include "model/body_turn.h"

namespace kestrel::model {

std::string_view name(BodyLine line) {
    return line == BodyLine::hips ? "hips" : "shoulders";
}

std::optional<BodyLine> bodyLineFromName(std::string_view text) {
    for (const BodyLine line : {BodyLine::hips, BodyLine::shoulders}) {
        if (text == name(line)) {
            return line;
        }
    }
    return std::nullopt;
}

} // namespace kestrel::model
