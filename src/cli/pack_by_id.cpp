#include "cli/pack_by_id.h"

#include "cli/output.h"
#include "technique/pack/pack_directory.h"

#include <utility>

namespace kestrel::cli {

technique::Pack packById(const std::string& id) {
    const std::filesystem::path data = technique::packDirectory();
    if (id.ends_with(".json")) {
        return technique::loadPack(id, technique::packSchema(data));
    }
    for (technique::Pack& pack : technique::loadPacks(data)) {
        if (pack.id == id) {
            return std::move(pack);
        }
    }
    throw WrongUse("There is no pack “" + id + "”; see packs list.");
}

} // namespace kestrel::cli
