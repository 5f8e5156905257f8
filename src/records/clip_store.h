#pragma once

#include "film/content_hash.h"
#include "records/library.h"

#include <filesystem>
#include <optional>

namespace kestrel::records {

/// A film copied into the library's clip folder and not yet in its database.
struct StoredFilm {
    std::string sha256;
    std::string fileName;
};

/// Checks that `file` is a film, and copies it into `clipFolder` under its content hash: first as
/// ".part", renamed when complete and on disk. A film that is there already is not copied again.
/// Touches no database, so it may run on any thread. Returns nothing when `progress` cancelled.
/// Throws model::InputError for a file that is no film, or when there is no room for it; nothing
/// half-made stays behind.
std::optional<StoredFilm> storeFilm(const std::filesystem::path& file,
                                    const std::filesystem::path& clipFolder,
                                    const film::ByteProgress& progress = {});

/// Adds a stored film to a player, with one rep over the whole of it ready for `techniqueId`.
/// A film that this player already has is returned as it is.
model::Clip addClip(Library& library, model::Id playerId, const StoredFilm& stored,
                    const std::string& title, const std::string& techniqueId);

} // namespace kestrel::records
