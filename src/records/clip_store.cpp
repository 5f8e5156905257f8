#include "records/clip_store.h"

#include "film/film_index.h"
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
    throw model::InputError("“" + file.filename().string() +
                                "” could not be copied into the library (" + why + ").",
                            "The library is as it was.", "Free some space and try again.");
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

std::optional<StoredFilm> storeFilm(const fs::path& file, const fs::path& clipFolder,
                                    const film::ByteProgress& progress) {
    film::buildIndex(file); // throws for what is no film, before anything is copied
    StoredFilm stored;
    stored.sha256 = film::contentHash(file, progress);
    if (stored.sha256.empty()) {
        return std::nullopt;
    }
    stored.fileName = stored.sha256 + file.extension().string();
    const fs::path target = clipFolder / stored.fileName;
    if (fs::exists(target)) {
        return stored;
    }
    const fs::path part = clipFolder / (stored.sha256 + ".part");
    if (!copyDurably(file, part, progress)) {
        return std::nullopt;
    }
    fs::permissions(part, fs::perms::owner_read | fs::perms::owner_write);
    fs::rename(part, target);
    return stored;
}

model::Clip addClip(Library& library, model::Id playerId, const StoredFilm& stored,
                    const std::string& title, const std::string& techniqueId) {
    if (auto known = library.clipByHash(playerId, stored.sha256)) {
        return *known;
    }
    model::Clip clip;
    clip.playerId = playerId;
    clip.title = title;
    clip.sha256 = stored.sha256;
    clip.fileName = stored.fileName;
    library.atomically([&] {
        clip.id = library.save(clip);
        model::Rep rep;
        rep.clipId = clip.id;
        rep.title = "Rep 1";
        rep.techniqueId = techniqueId;
        library.save(rep);
    });
    return clip;
}

} // namespace kestrel::records
