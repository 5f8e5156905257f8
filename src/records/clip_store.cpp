#include "records/clip_store.h"

#include "film/film_index.h"
#include "film/picture_sequence.h"
#include "film/remux.h"
#include "model/input_error.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <unistd.h>
#include <vector>

namespace kestrel::records {
namespace {

namespace fs = std::filesystem;

[[noreturn]] void cannotCopy(const fs::path& file, const fs::path& part, const std::string& why) {
    std::error_code ignored;
    fs::remove(part, ignored);
    throw model::InputError(
        model::message("library.film_not_copied", file.filename().string(), why),
        model::message("safe.library_as_it_was"), model::message("todo.free_space"));
}

/// Copies and flushes to disk; false when cancelled.
bool copyDurably(const fs::path& from, const fs::path& part, const film::ByteProgress& progress) {
    std::ifstream in(from, std::ios::binary);
    std::ofstream out(part, std::ios::binary | std::ios::trunc);
    constexpr std::size_t blockBytes = std::size_t{1} << 20;
    std::vector<char> block(blockBytes);
    const std::uintmax_t all = fs::file_size(from);
    std::uintmax_t done = 0;
    while (in.read(block.data(), static_cast<std::streamsize>(block.size())) || in.gcount() > 0) {
        if (!out.write(block.data(), in.gcount())) {
            cannotCopy(from, part, std::strerror(errno));
        }
        done += static_cast<std::uintmax_t>(in.gcount());
        if (progress && !progress(done, all)) {
            out.close();
            fs::remove(part);
            return false;
        }
    }
    out.close();
    const int descriptor = ::open(part.c_str(), O_RDONLY | O_CLOEXEC);
    const bool flushed = descriptor >= 0 && ::fsync(descriptor) == 0;
    if (descriptor >= 0) {
        ::close(descriptor);
    }
    if (!out || !flushed || done != all) {
        cannotCopy(from, part, std::strerror(errno));
    }
    return true;
}

} // namespace

namespace {

/// Moves a complete ".part" to its place, readable by the owner only and written by nobody.
void moveIntoPlace(const fs::path& part, const fs::path& target) {
    fs::permissions(part, fs::perms::owner_read);
    fs::rename(part, target);
}

Library::FileStamp stampOf(const fs::path& file) {
    return {static_cast<std::int64_t>(fs::file_size(file)),
            fs::last_write_time(file).time_since_epoch().count()};
}

std::optional<StoredFilm> storeSequence(const fs::path& file, const fs::path& clipFolder,
                                        const film::ByteProgress& progress) {
    const fs::path part = clipFolder / "pictures.part";
    film::remuxToMatroska(file, part);
    StoredFilm stored;
    stored.sha256 = film::contentHash(part, progress);
    if (stored.sha256.empty()) {
        fs::remove(part);
        return std::nullopt;
    }
    stored.fileName = stored.sha256 + ".mkv";
    moveIntoPlace(part, clipFolder / stored.fileName);
    return stored;
}

} // namespace

std::optional<StoredFilm> storeFilm(const fs::path& file, const fs::path& clipFolder,
                                    const film::ByteProgress& progress) {
    film::buildIndex(file); // throws for what is no film, before anything is copied
    if (film::pictureSequence(file)) {
        return storeSequence(file, clipFolder, progress);
    }
    StoredFilm stored;
    stored.sha256 = film::contentHash(file, progress);
    if (stored.sha256.empty()) {
        return std::nullopt;
    }
    stored.fileName = stored.sha256 + file.extension().string();
    stored.broughtFrom = fs::absolute(file).string();
    const fs::path target = clipFolder / stored.fileName;
    if (fs::exists(target)) {
        return stored;
    }
    const fs::path part = clipFolder / (stored.sha256 + ".part");
    if (!copyDurably(file, part, progress)) {
        return std::nullopt;
    }
    moveIntoPlace(part, target);
    return stored;
}

model::Clip addClip(Library& library, model::PlayerId playerId, const StoredFilm& stored,
                    const std::string& title, const std::string& techniqueId) {
    if (auto known = library.clipByHash(playerId, stored.sha256)) {
        return *known;
    }
    model::Clip clip;
    clip.playerId = playerId;
    clip.title = title;
    clip.sha256 = stored.sha256;
    clip.fileName = stored.fileName;
    clip.broughtFrom = stored.broughtFrom;
    library.atomically([&] {
        library.setStamp(clip.fileName, stampOf(library.clipFile(clip)));
        clip.id = library.save(clip);
        model::Rep rep;
        rep.clipId = clip.id;
        rep.title = "Rep 1";
        rep.techniqueId = techniqueId;
        library.save(rep);
    });
    return clip;
}

FilmLook lookAtFilm(const fs::path& file, const model::Clip& clip,
                    const std::optional<Library::FileStamp>& known) {
    std::error_code problem;
    if (!fs::is_regular_file(file, problem)) {
        return {};
    }
    const Library::FileStamp now = stampOf(file);
    const bool right = known == now || film::contentHash(file) == clip.sha256;
    return {right ? FilmState::present : FilmState::changed, now};
}

bool restoreFilm(const fs::path& candidate, const model::Clip& clip, const fs::path& clipFolder,
                 const film::ByteProgress& progress) {
    const std::string hash = film::contentHash(candidate, progress);
    if (hash.empty()) {
        return false;
    }
    if (hash != clip.sha256) {
        throw model::InputError(
            model::message("library.other_film", candidate.filename().string(), clip.title),
            model::message("safe.clip_as_it_was"), model::message("todo.choose_original"));
    }
    const fs::path part = clipFolder / (clip.sha256 + ".part");
    if (!copyDurably(candidate, part, progress)) {
        return false;
    }
    moveIntoPlace(part, clipFolder / clip.fileName);
    return true;
}

std::optional<fs::path> findFilm(const model::Clip& clip, std::int64_t bytes,
                                 const fs::path& folder, const film::ByteProgress& progress) {
    const auto right = [&](const fs::path& file) {
        std::error_code problem;
        return fs::is_regular_file(file, problem) &&
               static_cast<std::int64_t>(fs::file_size(file, problem)) == bytes &&
               film::contentHash(file, progress) == clip.sha256;
    };
    if (!clip.broughtFrom.empty() && right(clip.broughtFrom)) {
        return clip.broughtFrom;
    }
    std::error_code problem;
    for (fs::recursive_directory_iterator
             it(folder, fs::directory_options::skip_permission_denied, problem),
         end;
         !problem && it != end; it.increment(problem)) {
        if (progress && !progress(0, 0)) {
            return std::nullopt;
        }
        if (right(it->path())) {
            return it->path();
        }
    }
    return std::nullopt;
}

} // namespace kestrel::records
