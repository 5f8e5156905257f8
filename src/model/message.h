#pragma once

#include "model/day.h"
#include "model/range.h"
#include "model/unit.h"

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

/// What the libraries have to say, without words: `words/words.h` turns a message into a sentence.
namespace kestrel::model {

/// A plain number as it is to be shown.
struct Figure {
    double value = 0.0;
    int decimals = 0;

    friend bool operator==(const Figure&, const Figure&) = default;
};

/// A value of a measure in the measure's unit, with its 95 % half width when that is to be told.
struct Measured {
    double value = 0.0;
    Unit unit = Unit::degrees;
    std::optional<double> u95 = std::nullopt;

    friend bool operator==(const Measured&, const Measured&) = default;
};

/// A range of a measure's values.
struct MeasuredRange {
    Range range;
    Unit unit = Unit::degrees;

    friend bool operator==(const MeasuredRange&, const MeasuredRange&) = default;
};

struct Message;

/// What stands at a place of a message: text of a pack, a file or a name as it is; a count; a
/// number; a day; a value or a range with its unit; or a message of its own (always one).
using Argument = std::variant<std::string, long long, Figure, Day, Measured, MeasuredRange,
                              std::vector<Message>>;

/// An id of the catalogue and what belongs in its sentence, in order. Without an id it says
/// nothing.
struct Message {
    std::string id;
    std::vector<Argument> arguments;

    [[nodiscard]] bool empty() const { return id.empty(); }
    friend bool operator==(const Message&, const Message&) = default;
};

Argument argument(std::string text);
Argument argument(std::string_view text);
Argument argument(const char* text);
Argument argument(Message part);
template <class Count>
requires std::is_integral_v<Count> Argument argument(Count count) {
    return static_cast<long long>(count);
}
inline Argument argument(Figure number) {
    return number;
}
inline Argument argument(Measured value) {
    return value;
}
inline Argument argument(Day day) {
    return day;
}
inline Argument argument(MeasuredRange range) {
    return range;
}

/// The message of the catalogue's sentence `id` with what belongs in it.
template <class... Arguments> Message message(std::string_view id, Arguments&&... arguments) {
    Message made{std::string(id), {}};
    (made.arguments.push_back(argument(std::forward<Arguments>(arguments))), ...);
    return made;
}

/// The same with any number of parts: for `list.and` (“a, b and c”), `list.or` (“a, b or c”) and
/// `list.sentences` (one after the other).
Message listOf(std::string_view id, std::vector<Message> parts);

/// A text that is no sentence of the catalogue, as it is: a name of a pack, file or person.
Message asItIs(std::string_view text);

/// Turns a message into words; `words::plain` is one. For text that a library writes to a file.
using Wording = std::function<std::string(const Message&)>;

/// A value and nothing else.
Message valueOf(double value, Unit unit);

} // namespace kestrel::model
