#include "model/message.h"

namespace kestrel::model {

Argument argument(std::string text) {
    return text;
}

Argument argument(std::string_view text) {
    return std::string(text);
}

Argument argument(const char* text) {
    return std::string(text);
}

Argument argument(Message part) {
    return std::vector<Message>{std::move(part)};
}

Message listOf(std::string_view id, std::vector<Message> parts) {
    Message made{std::string(id), {}};
    for (Message& part : parts) {
        made.arguments.push_back(argument(std::move(part)));
    }
    return made;
}

Message asItIs(std::string_view text) {
    return message("as_it_is", text);
}

Message valueOf(double value, Unit unit) {
    return message("value", Measured{value, unit});
}

} // namespace kestrel::model
