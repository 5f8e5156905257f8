#include "desk/pack_edits.h"

#include "report/document_pdf.h"
#include "technique/pack/json_file.h"

#include <filesystem>

namespace kestrel::desk {
namespace {

std::optional<std::string> contentOf(const std::filesystem::path& file) {
    return std::filesystem::exists(file) ? std::optional(technique::readText(file)) : std::nullopt;
}

} // namespace

void PackEdits::put(const std::filesystem::path& file, const std::optional<std::string>& content) {
    namespace fs = std::filesystem;
    if (!content) {
        fs::remove(file);
    } else {
        fs::create_directories(file.parent_path());
        fs::permissions(file.parent_path(), fs::perms::owner_all);
        report::saveWhole(file, QByteArray::fromStdString(*content));
    }
    shelf_.reload();
}

void PackEdits::change(const std::filesystem::path& file, const std::optional<std::string>& content,
                       const QString& what) {
    edits_.apply(
        what, [this, file, content] { put(file, content); },
        [this, file, before = contentOf(file)] { put(file, before); });
}

void PackEdits::setOwnDrills(const std::string& text, const QString& what) {
    const coaching::DrillLibrary all = shelf_.drillsWith(text);
    for (const technique::Pack& pack : shelf_.packs()) {
        coaching::checkDrills(pack, all);
    }
    change(shelf_.ownDrillFile(), text, what);
}

void PackEdits::setLoadRule(const std::optional<std::string>& text, const QString& what) {
    if (text) {
        (void)coaching::loadRuleFromText(*text, shelf_.ownLoadRuleFile(),
                                         coaching::loadRuleSchema(shelf_.packFolder()));
    }
    change(shelf_.ownLoadRuleFile(), text, what);
}

void PackEdits::setOwnPack(const std::string& text, const QString& what) {
    change(shelf_.ownPackFile(shelf_.checkedPack(text).id), text, what);
}

void PackEdits::removeOwnPack(const std::string& id, const QString& what) {
    if (shelf_.isOwnPack(id)) {
        change(shelf_.ownPackFile(id), std::nullopt, what);
    }
}

} // namespace kestrel::desk
