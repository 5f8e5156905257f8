#pragma once

#include "model/day.h"

#include <cstddef>
#include <string_view>

namespace kestrel::support {

/// "2026-11-30"_day, for a day that is one.
inline model::Day operator""_day(const char* text, std::size_t length) {
    return model::dayFromIso(std::string_view(text, length)).value();
}

} // namespace kestrel::support
