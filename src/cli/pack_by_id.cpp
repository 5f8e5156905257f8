#include "cli/pack_by_id.h"

#include "cli/output.h"
#include "technique/pack/pack_directory.h"
#include "technique/pack/text_overlay.h"
#include "words/language.h"

namespace kestrel::cli {

technique::Pack packById(const std::string& id) {
    const std::filesystem::path data = technique::packDirectory();
    if (id.ends_with(".json")) {
        return technique::loadPack(id, technique::packSchema(data));
    }
    for (const technique::Pack& pack : technique::loadPacks(data)) {
        if (pack.id == id) {
            return technique::inLanguage(pack, data, words::languageCode());
        }
    }
    throw WrongUse("There is no pack “" + id + "”; see packs list.");
}

} // namespace kestrel::cli
