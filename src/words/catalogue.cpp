#include "words/catalogue.h"

#include <string>
#include <unordered_map>

namespace kestrel::words {

std::vector<std::span<const Entry>> catalogue() {
    return {readingEntries(), filmEntries(),  planEntries(),
            nameEntries(),    errorEntries(), remedyEntries()};
}

const char* sentenceOf(std::string_view id) {
    static const auto sentences = [] {
        std::unordered_map<std::string_view, const char*> all;
        for (const auto entries : catalogue()) {
            for (const Entry& entry : entries) {
                all.emplace(entry.id, entry.sentence);
            }
        }
        return all;
    }();
    const auto found = sentences.find(id);
    return found == sentences.end() ? nullptr : found->second;
}

} // namespace kestrel::words
