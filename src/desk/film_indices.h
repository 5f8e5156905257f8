#pragma once

#include "film/film_index.h"
#include "prepare/judged_rep.h"
#include "records/library.h"

#include <QObject>
#include <QTimer>

#include <map>
#include <string>
#include <variant>

namespace kestrel::desk {

/// The indices of the library's films. A film is read once, beside the interface, when it is first
/// asked for: films never change.
class FilmIndices : public QObject {
    Q_OBJECT
  public:
    explicit FilmIndices(const records::Library& library);

    /// The film in whole frames, or why it is not known; what is returned stays where it is. A film
    /// not asked for before begins to be read, and more() follows.
    [[nodiscard]] prepare::KnownFilm of(const model::Clip& clip);
    /// The same, waiting for the film when it has to be read. For work that cannot go on without.
    [[nodiscard]] prepare::KnownFilm readNow(const model::Clip& clip);
    /// Keeps an index that someone else has read.
    void keep(const model::Clip& clip, film::FilmIndex wholeFrames);
    /// Forgets that a film could not be read, so that it is tried again: it may be back.
    void tryAgain(const model::Clip& clip);

  signals:
    /// More films are known than a moment ago.
    void more();

  private:
    using Known = std::variant<film::FilmIndex, prepare::NotJudged>;

    const records::Library& library_;
    std::map<std::string, Known> films_; ///< by content
    QTimer telling_;                     ///< gathers films that become known within a moment
};

} // namespace kestrel::desk
