#include "model/input_error.h"
#include "support/test_films.h"
#include "technique/pack/pack.h"
#include "technique/pack/pack_edit.h"
#include "words/words.h"

#include <cstdio>
#include <cstdlib>
#include <random>
#include <string>

/// Packs with mistakes in them: each comes out as a pack or as a message that names file and place,
/// never as anything else. Usage: mutate_packs [ROUNDS [SEED]]

using namespace kestrel;
using technique::Document;
using technique::Pointer;

namespace {

std::vector<Pointer> placesIn(const Document& document, const Pointer& at = Pointer()) {
    std::vector<Pointer> places{at};
    const auto add = [&](const Document& child, const Pointer& place) {
        const auto more = placesIn(child, place);
        places.insert(places.end(), more.begin(), more.end());
    };
    if (document.is_object()) {
        for (const auto& [key, child] : document.items()) {
            add(child, at / key);
        }
    } else if (document.is_array()) {
        for (std::size_t i = 0; i < document.size(); ++i) {
            add(document.at(i), at / i);
        }
    }
    return places;
}

Document surprise(std::mt19937& random) {
    switch (random() % 9) {
    case 0:
        return nullptr;
    case 1:
        return "surprise";
    case 2:
        return -1e30;
    case 3:
        return true;
    case 4:
        return std::string(3000, '/');
    case 5:
        return Document::array();
    case 6:
        return Document::object();
    case 7:
        return static_cast<std::int64_t>(random()) << 20;
    default:
        return "\xC3\xA9\xE2\x80\xA8 @@ mid_hip@nowhere";
    }
}

/// One to three changes: a value replaced, removed, doubled, or put where another one was.
Document mutated(Document pack, std::mt19937& random) {
    for (unsigned changes = 1 + random() % 3; changes > 0; --changes) {
        const auto places = placesIn(pack);
        const Pointer& place = places[1 + random() % (places.size() - 1)];
        switch (random() % 4) {
        case 0:
            pack = technique::without(pack, place);
            break;
        case 1: {
            const Document other = pack.at(places[1 + random() % (places.size() - 1)]);
            pack[place] = other;
            break;
        }
        case 2: {
            const Pointer list = place.parent_pointer();
            const Document twin = pack.at(place);
            if (pack.at(list).is_array()) {
                pack[list].push_back(twin);
                break;
            }
            pack[list / "unasked"] = twin;
            break;
        }
        default:
            pack[place] = surprise(random);
        }
    }
    return pack;
}

/// The text with a few bytes changed, cut off or put in.
std::string scratched(std::string text, std::mt19937& random) {
    const std::size_t at = random() % text.size();
    switch (random() % 3) {
    case 0:
        text.resize(at);
        break;
    case 1:
        text[at] = static_cast<char>(random() % 256);
        break;
    default:
        text.insert(at, std::string(1 + random() % 2000, '['));
    }
    return text;
}

} // namespace

int main(int argc, char** argv) {
    const int rounds = argc > 1 ? std::atoi(argv[1]) : 10000;
    std::mt19937 random(argc > 2 ? static_cast<unsigned>(std::atoi(argv[2])) : 11U);
    const std::vector<technique::Pack> packs = support::shippedPacks();
    std::vector<Document> documents;
    for (const technique::Pack& pack : packs) {
        documents.push_back(technique::documentOf(pack.text, pack.file));
    }
    const auto schema = technique::packSchema(KESTREL_PACKS);
    int rejected = 0;
    for (int round = 0; round < rounds; ++round) {
        const std::size_t which = random() % packs.size();
        const bool bytes = random() % 8 == 0;
        const std::string text = bytes ? scratched(packs[which].text, random)
                                       : technique::textOf(mutated(documents[which], random));
        try {
            technique::packFromText(text, "own.json", schema);
        } catch (const model::InputError& error) {
            ++rejected;
            // "own.json, PLACE: reason."
            const std::string says = words::plain(error.happened());
            const bool named = says.starts_with("own.json, ") && says.find(": ") > 10;
            if (!named) {
                std::fprintf(stderr, "round %d: a message without its place: %s\n", round,
                             says.c_str());
                return 1;
            }
        } catch (const std::exception& error) {
            std::fprintf(stderr, "round %d: %s\n", round, error.what());
            return 1;
        }
    }
    std::printf("%d mutated packs, %d of them rejected with a place\n", rounds, rejected);
    return rejected > rounds / 2 ? 0 : 1;
}
