#pragma once

#include "desk/open_clip.h"
#include "desk/shelf.h"

#include <optional>
#include <vector>

/// Other editions of the open rep's pack: what judging by them would change.
namespace kestrel::desk {

/// Whether there is a newer edition than the one that the open rep keeps.
[[nodiscard]] bool newerEdition(const OpenClip& open, const Shelf& shelf);
/// What judging the open rep with that edition would change.
[[nodiscard]] std::vector<coaching::Change> changesOfNewerEdition(const OpenClip& open,
                                                                  const Shelf& shelf);
/// What judging the open rep with such a pack would say of it; nothing when no clip of that
/// technique is open.
[[nodiscard]] std::optional<coaching::Review> judgedWith(const OpenClip& open,
                                                         const technique::Pack& pack);

} // namespace kestrel::desk
