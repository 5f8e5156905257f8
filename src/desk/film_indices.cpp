#include "desk/film_indices.h"

#include "desk/job.h"
#include "model/input_error.h"

#include <filesystem>

namespace kestrel::desk {
namespace {

std::variant<film::FilmIndex, prepare::NotJudged> readFilm(const std::filesystem::path& file) {
    std::error_code ignored;
    if (!std::filesystem::exists(file, ignored)) {
        return prepare::NotJudged::filmMissing;
    }
    try {
        return film::buildIndex(file);
    } catch (const model::InputError&) {
        return prepare::NotJudged::filmUnreadable;
    }
}

} // namespace

FilmIndices::FilmIndices(const records::Library& library) : library_(library) {
    constexpr int momentMs = 40;
    telling_.setInterval(momentMs);
    telling_.setSingleShot(true);
    connect(&telling_, &QTimer::timeout, this, &FilmIndices::more);
}

prepare::KnownFilm FilmIndices::of(const model::Clip& clip) {
    auto known = films_.find(clip.sha256);
    if (known == films_.end()) {
        known = films_.emplace(clip.sha256, prepare::NotJudged::filmBeingRead).first;
        const auto keepRead = [this, content = clip.sha256](Known&& read) {
            const auto place = films_.find(content);
            // Someone may have kept it meanwhile.
            if (place != films_.end() &&
                std::holds_alternative<prepare::NotJudged>(place->second)) {
                place->second = std::move(read);
                telling_.start();
            }
        };
        runJob(
            this, [file = library_.clipFile(clip)](const TellShare&) { return readFilm(file); },
            keepRead,
            [keepRead](const std::exception_ptr&) {
                keepRead(prepare::NotJudged::filmUnreadable);
            });
    }
    if (const auto* index = std::get_if<film::FilmIndex>(&known->second)) {
        return index;
    }
    return std::get<prepare::NotJudged>(known->second);
}

prepare::KnownFilm FilmIndices::readNow(const model::Clip& clip) {
    const auto known = films_.find(clip.sha256);
    const bool wanting =
        known == films_.end() ||
        (std::holds_alternative<prepare::NotJudged>(known->second) &&
         std::get<prepare::NotJudged>(known->second) == prepare::NotJudged::filmBeingRead);
    if (wanting) {
        films_.insert_or_assign(clip.sha256, readFilm(library_.clipFile(clip)));
    }
    return of(clip);
}

void FilmIndices::keep(const model::Clip& clip, film::FilmIndex wholeFrames) {
    Known& known = films_[clip.sha256];
    // An index that is kept stays where it is: others look at it.
    if (!std::holds_alternative<film::FilmIndex>(known) ||
        std::get<film::FilmIndex>(known).frames.empty()) {
        known = std::move(wholeFrames);
        telling_.start();
    }
}

void FilmIndices::tryAgain(const model::Clip& clip) {
    const auto known = films_.find(clip.sha256);
    if (known != films_.end() && std::holds_alternative<prepare::NotJudged>(known->second) &&
        std::get<prepare::NotJudged>(known->second) != prepare::NotJudged::filmBeingRead) {
        films_.erase(known);
    }
}

} // namespace kestrel::desk
