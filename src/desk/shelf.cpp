#include "desk/shelf.h"

#include "coaching/drill_texts.h"
#include "model/input_error.h"
#include "technique/pack/json_file.h"
#include "technique/pack/text_overlay.h"
#include "words/language.h"

#include <algorithm>

namespace kestrel::desk {
namespace {

template <class Packs> auto* packWithId(Packs& packs, const std::string& id) {
    const auto found = std::find_if(packs.begin(), packs.end(),
                                    [&](const technique::Pack& pack) { return pack.id == id; });
    return found == packs.end() ? nullptr : &*found;
}

std::vector<technique::Pack> packsInLanguage(const std::filesystem::path& packFolder) {
    std::vector<technique::Pack> packs = technique::loadPacks(packFolder);
    for (technique::Pack& pack : packs) {
        pack = technique::inLanguage(pack, packFolder, words::languageCode());
    }
    return packs;
}

} // namespace

Shelf::Shelf(const records::Library& library, const std::filesystem::path& packFolder,
             Problems& problems)
    : library_(library),
      packFolder_(packFolder),
      problems_(problems),
      shipped_(packsInLanguage(packFolder)),
      shippedDrills_(coaching::loadDrillsIn(packFolder, words::languageCode())) {
    for (const technique::Pack& pack : shipped_) {
        coaching::checkDrills(pack, shippedDrills_);
    }
    load();
}

void Shelf::load() {
    packs_ = shipped_;
    drills_ = shippedDrills_;
    loadRule_ = coaching::exampleLoadRule(packFolder_);
    // What was spoilt outside of the program must not keep the library from opening.
    problems_.trying([&] { drills_ = drillsWith(ownDrills()); });
    problems_.trying([&] {
        loadRule_ = coaching::loadRuleFromText(loadRuleText(), ownLoadRuleFile(),
                                               coaching::loadRuleSchema(packFolder_));
    });
    std::error_code ignored;
    for (const auto& entry : std::filesystem::directory_iterator(library_.packFolder(), ignored)) {
        if (entry.path().extension() != ".json") {
            continue;
        }
        problems_.trying([&] {
            technique::Pack own =
                technique::loadPack(entry.path(), technique::packSchema(packFolder_));
            coaching::checkDrills(own, drills_);
            technique::Pack* same = packWithId(packs_, own.id);
            same == nullptr ? packs_.push_back(std::move(own)) : void(*same = std::move(own));
        });
    }
}

void Shelf::reload() {
    load();
    emit changed();
}

const technique::Pack* Shelf::newest(const std::string& id) const {
    return packWithId(packs_, id);
}

const technique::Pack* Shelf::shippedPack(const std::string& id) const {
    return packWithId(shipped_, id);
}

std::filesystem::path Shelf::ownPackFile(const std::string& id) const {
    return library_.packFolder() / (id + ".json");
}

bool Shelf::isOwnPack(const std::string& id) const {
    return std::filesystem::exists(ownPackFile(id));
}

const technique::Pack& Shelf::editionOf(const std::string& text) const {
    auto known = editions_.find(text);
    if (known == editions_.end()) {
        const technique::Pack edition =
            technique::packFromText(text, "kept edition", technique::packSchema(packFolder_));
        known = editions_
                    .emplace(text, std::make_unique<const technique::Pack>(technique::inLanguage(
                                       edition, packFolder_, words::languageCode())))
                    .first;
    }
    return *known->second;
}

const technique::Pack& Shelf::packOf(const model::Rep& rep) const {
    if (const std::string kept = library_.edition(rep.packEdition); !kept.empty()) {
        try {
            if (const technique::Pack& edition = editionOf(kept); edition.id == rep.techniqueId) {
                return edition;
            }
        } catch (const model::InputError&) {
            // Written for a program that read packs otherwise: the newest edition judges it.
        }
    }
    const technique::Pack* found = newest(rep.techniqueId);
    return editionOf(found == nullptr ? packs_.front().text : found->text);
}

technique::Pack Shelf::checkedPack(const std::string& text) const {
    technique::Pack pack =
        technique::packFromText(text, "pack", technique::packSchema(packFolder_));
    pack.file = ownPackFile(pack.id);
    coaching::checkDrills(pack, drills_);
    return pack;
}

std::string Shelf::ownDrills() const {
    const std::filesystem::path file = ownDrillFile();
    return std::filesystem::exists(file) ? technique::readText(file)
                                         : "{\n  \"format\": 1,\n  \"drills\": []\n}\n";
}

coaching::DrillLibrary Shelf::drillsWith(const std::string& ownText) const {
    coaching::DrillLibrary all = shippedDrills_;
    coaching::addDrills(
        all, coaching::drillsFromText(ownText, ownDrillFile(), coaching::drillSchema(packFolder_)),
        ownDrillFile());
    return all;
}

bool Shelf::hasOwnLoadRule() const {
    return std::filesystem::exists(ownLoadRuleFile());
}

std::string Shelf::loadRuleText() const {
    return technique::readText(hasOwnLoadRule() ? ownLoadRuleFile()
                                                : coaching::exampleLoadRuleFile(packFolder_));
}

} // namespace kestrel::desk
