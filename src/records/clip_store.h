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
    std::string broughtFrom; ///< where it was copied from
};

/// Checks that `file` is a film, and copies it into `clipFolder` under its content hash: first as
/// ".part", renamed when complete and on disk. A film that is there already is not copied again. A
/// sequence of numbered pictures becomes one Matroska file with the same pictures.
/// Touches no database, so it may run on any thread. Returns nothing when `progress` cancelled.
/// Throws model::InputError for a file that is no film, or when there is no room for it; nothing
/// half-made stays behind.
std::optional<StoredFilm> storeFilm(const std::filesystem::path& file,
                                    const std::filesystem::path& clipFolder,
                                    const film::ByteProgress& progress = {});

/// Adds a stored film to a player, with one rep over the whole of it ready for `techniqueId`.
/// A film that this player already has is returned as it is.
model::Clip addClip(Library& library, model::PlayerId playerId, const StoredFilm& stored,
                    const std::string& title, const std::string& techniqueId);

/// How the film of a clip is found in the library.
enum class FilmState {
    present, ///< there, and as it was brought in
    missing, ///< not there
    changed, ///< there, but its content is another
};

struct FilmLook {
    FilmState state = FilmState::missing;
    Library::FileStamp stamp; ///< to store when the film is present
};

/// Looks at the film file of a clip. Its content is read only when size or time of change differ
/// from `known`, when it was last seen right, so this is quick as a rule. Touches no database.
FilmLook lookAtFilm(const std::filesystem::path& file, const model::Clip& clip,
                    const std::optional<Library::FileStamp>& known);

/// Puts the film of a clip back from `candidate`, a copy of it found elsewhere. Throws
/// model::InputError when `candidate` is another film, with the library as it was. Returns false
/// when `progress` cancelled. Touches no database.
bool restoreFilm(const std::filesystem::path& candidate, const model::Clip& clip,
                 const std::filesystem::path& clipFolder, const film::ByteProgress& progress = {});

/// A file with the content of that clip's film: where it was brought in from, or anywhere in
/// `folder` and the folders in it. Nothing when there is none, or when `progress` cancelled.
std::optional<std::filesystem::path> findFilm(const model::Clip& clip, std::int64_t bytes,
                                              const std::filesystem::path& folder,
                                              const film::ByteProgress& progress = {});

} // namespace kestrel::records
