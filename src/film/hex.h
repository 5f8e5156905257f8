#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace kestrel::film {

/// Bytes as lower-case hexadecimal.
inline std::string hexText(std::span<const std::uint8_t> bytes) {
    constexpr std::string_view digits = "0123456789abcdef";
    std::string text;
    for (const std::uint8_t byte : bytes) {
        text += digits[byte >> 4U];
        text += digits[byte & 15U];
    }
    return text;
}

} // namespace kestrel::film
