#include "film/picture_sequence.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <string_view>

namespace kestrel::film {
namespace {

namespace fs = std::filesystem;

bool isPicture(const fs::path& file) {
    constexpr std::array<std::string_view, 8> endings{".png",  ".jpg", ".jpeg", ".bmp",
                                                      ".tiff", ".tif", ".webp", ".ppm"};
    std::string ending = file.extension().string();
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return std::find(endings.begin(), endings.end(), ending) != endings.end();
}

std::string padded(int number, std::size_t digits) {
    std::string text = std::to_string(number);
    return std::string(digits > text.size() ? digits - text.size() : 0, '0') + text;
}

/// A literal per cent sign must be doubled in a pattern.
std::string escaped(const std::string& text) {
    std::string result;
    for (const char c : text) {
        result += c == '%' ? "%%" : std::string(1, c);
    }
    return result;
}

} // namespace

std::optional<PictureSequence> pictureSequence(const fs::path& file) {
    const std::string stem = file.stem().string();
    const std::size_t digits = static_cast<std::size_t>(
        std::find_if(stem.rbegin(), stem.rend(), [](unsigned char c) { return !std::isdigit(c); }) -
        stem.rbegin());
    constexpr std::size_t mostDigits = 9;
    if (!isPicture(file) || digits == 0 || digits > mostDigits) {
        return std::nullopt;
    }
    const std::string before = stem.substr(0, stem.size() - digits);
    const int number = std::stoi(stem.substr(stem.size() - digits));
    const auto member = [&](int n) {
        return file.parent_path() / (before + padded(n, digits) + file.extension().string());
    };
    const auto there = [&](int n) { return n >= 0 && fs::exists(member(n)); };
    PictureSequence sequence;
    sequence.first = number;
    while (there(sequence.first - 1)) {
        --sequence.first;
    }
    for (int n = sequence.first; there(n); ++n) {
        sequence.files.push_back(member(n));
    }
    if (sequence.files.size() < 2) {
        return std::nullopt;
    }
    sequence.pattern = escaped((file.parent_path() / before).string()) + "%0" +
                       std::to_string(digits) + "d" + escaped(file.extension().string());
    return sequence;
}

} // namespace kestrel::film
