#pragma once

#include "coaching/drill_library.h"
#include "coaching/load_rule.h"
#include "desk/problems.h"
#include "records/library.h"
#include "technique/pack/pack.h"

#include <QObject>

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kestrel::desk {

/// Packs, drills and the load rule, to read: those that ship, and before them the coach's own,
/// which are files in the library's folder.
class Shelf : public QObject {
    Q_OBJECT
  public:
    /// Throws model::InputError when what ships cannot be used. A file of the coach's own that
    /// cannot be used is told to `problems`, and what ships counts.
    Shelf(const records::Library& library, const std::filesystem::path& packFolder,
          Problems& problems);

    /// The newest edition of each technique's pack.
    [[nodiscard]] const std::vector<technique::Pack>& packs() const { return packs_; }
    /// The same of one technique; null when no pack has that id.
    [[nodiscard]] const technique::Pack* newest(const std::string& id) const;
    /// The pack as it ships; null for one of the coach's own.
    [[nodiscard]] const technique::Pack* shippedPack(const std::string& id) const;
    /// Whether the newest edition of a pack is the coach's: made or changed by him.
    [[nodiscard]] bool isOwnPack(const std::string& id) const;
    /// The pack that a rep is judged with: the edition it keeps, else the newest. Stays where it is
    /// as long as the shelf.
    [[nodiscard]] const technique::Pack& packOf(const model::Rep& rep) const;
    /// Reads text that may become a pack. Throws model::InputError with place and reason.
    [[nodiscard]] technique::Pack checkedPack(const std::string& text) const;
    /// Where the packs that ship are.
    [[nodiscard]] const std::filesystem::path& packFolder() const { return packFolder_; }

    /// All drills, those that ship and the coach's own.
    [[nodiscard]] const coaching::DrillLibrary& drills() const { return drills_; }
    /// The coach's own drills as text; a file without drills when there are none.
    [[nodiscard]] std::string ownDrills() const;
    /// The drills that ship together with these. Throws as coaching::drillsFromText.
    [[nodiscard]] coaching::DrillLibrary drillsWith(const std::string& ownText) const;

    /// The rule that says how much rest follows throws.
    [[nodiscard]] const coaching::LoadRule& loadRule() const { return loadRule_; }
    /// As text: the coach's own, else the example that ships.
    [[nodiscard]] std::string loadRuleText() const;
    [[nodiscard]] bool hasOwnLoadRule() const;

    // Where the coach's own files are; reload() after one has changed.
    [[nodiscard]] std::filesystem::path ownPackFile(const std::string& id) const;
    [[nodiscard]] std::filesystem::path ownDrillFile() const { return library_.drillFile(); }
    [[nodiscard]] std::filesystem::path ownLoadRuleFile() const { return library_.loadRuleFile(); }
    void reload();

  signals:
    /// There are other packs, drills or rules, or other editions of them.
    void changed();

  private:
    void load();
    /// The pack of that text; read once.
    [[nodiscard]] const technique::Pack& editionOf(const std::string& text) const;

    const records::Library& library_;
    std::filesystem::path packFolder_;
    Problems& problems_;
    std::vector<technique::Pack> shipped_;
    std::vector<technique::Pack> packs_; ///< newest editions: the coach's before those that ship
    mutable std::map<std::string, std::unique_ptr<const technique::Pack>> editions_; ///< by text
    coaching::DrillLibrary shippedDrills_;
    coaching::DrillLibrary drills_;
    coaching::LoadRule loadRule_;
};

} // namespace kestrel::desk
