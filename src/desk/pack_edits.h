#pragma once

#include "desk/edit_stack.h"
#include "desk/shelf.h"

#include <filesystem>
#include <optional>
#include <string>

namespace kestrel::desk {

/// Edits of the coach's own packs, drills and load rule. What cannot be used is refused with
/// model::InputError, and nothing is changed.
class PackEdits {
  public:
    PackEdits(Shelf& shelf, EditStack& edits) : shelf_(shelf), edits_(edits) {}

    /// Keeps a pack of the coach's own, or his change of one that ships. Throws when the text is no
    /// pack.
    void setOwnPack(const std::string& text, const QString& what);
    /// Forgets the coach's pack; one that ships is as it was.
    void removeOwnPack(const std::string& id, const QString& what);
    /// Keeps the coach's own drills. Throws when the text is no drill file, names a drill that
    /// ships, or lacks one that a pack needs.
    void setOwnDrills(const std::string& text, const QString& what);
    /// Keeps a load rule of the coach's; nothing: the example counts again. Throws when the text is
    /// no rule.
    void setLoadRule(const std::optional<std::string>& text, const QString& what);

  private:
    void change(const std::filesystem::path& file, const std::optional<std::string>& content,
                const QString& what);
    /// Writes a file whole or not at all; nothing removes it.
    void put(const std::filesystem::path& file, const std::optional<std::string>& content);

    Shelf& shelf_;
    EditStack& edits_;
};

} // namespace kestrel::desk
