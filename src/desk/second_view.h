#pragma once

#include "desk/clip_edits.h"
#include "desk/film_indices.h"
#include "desk/open_clip.h"

#include <QObject>

#include <vector>

namespace kestrel::desk {

/// The same motion filmed from two places: which clips can show it, and how their times go
/// together by what both microphones heard.
class SecondView : public QObject {
    Q_OBJECT
  public:
    SecondView(const records::Library& library, const OpenClip& open, FilmIndices& films,
               ClipEdits& edits, Problems& problems)
        : library_(library), open_(open), films_(films), edits_(edits), problems_(problems) {}

    /// The player's other clips that can show the open clip's motion: of the same visit and
    /// technique.
    [[nodiscard]] std::vector<model::Clip> possible() const;
    /// Listens to both films beside the interface; what is heard is an edit, or a problem says why
    /// not.
    void hear();

  private:
    const records::Library& library_;
    const OpenClip& open_;
    FilmIndices& films_;
    ClipEdits& edits_;
    Problems& problems_;
};

} // namespace kestrel::desk
