#pragma once

#include <QtGlobal>

#include <span>
#include <string_view>
#include <vector>

/// The catalogue of messages, by subject. Only within this room, and for the test that holds it
/// against what the libraries say.
namespace kestrel::words {

struct Entry {
    std::string_view id;
    /// %1, %2 … stand for the arguments, %n for the first count among them, {swapDepth} for the key
    /// of that action.
    const char* sentence;
};

std::span<const Entry> readingEntries();
std::span<const Entry> filmEntries();
std::span<const Entry> planEntries();
std::span<const Entry> nameEntries();
std::span<const Entry> errorEntries();
std::span<const Entry> remedyEntries();

/// All of them.
std::vector<std::span<const Entry>> catalogue();

/// The English sentence; null when there is none.
const char* sentenceOf(std::string_view id);

} // namespace kestrel::words
