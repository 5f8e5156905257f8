#pragma once

#include "coaching/changes.h"
#include "desk/edit_stack.h"
#include "desk/film_indices.h"
#include "desk/job.h"
#include "desk/judging.h"
#include "desk/settings.h"
#include "film/frame_server.h"

#include <QImage>
#include <QObject>

#include <filesystem>
#include <memory>
#include <optional>
#include <vector>

namespace kestrel::desk {

/// The clip that is open, to read: player, film, reps, the rep that is worked on with its
/// judgement, and the frame looked at. After each edit it is read from the library anew, so that
/// what is on screen is what is on disk. Belongs to the interface thread; films are read and
/// decoded beside it.
class OpenClip : public QObject {
    Q_OBJECT
  public:
    OpenClip(records::Library& library, const Shelf& shelf, FilmIndices& films,
             const Judging& judging, EditStack& edits, Settings& settings, Problems& problems);
    ~OpenClip() override;

    /// Opens a clip of the library; opened(), lost() or a problem follows.
    void open(model::ClipId clipId);
    /// Puts the film of a clip back from a file or, when `from` is a folder, from the file in it
    /// that has the same content; then opens the clip.
    void restoreFilm(model::ClipId clipId, const std::filesystem::path& from);
    [[nodiscard]] bool hasClip() const { return open_ != nullptr; }

    // Only while a clip is open.
    [[nodiscard]] const model::Player& player() const;
    [[nodiscard]] const model::Clip& clip() const;
    /// All reps of the clip, as they follow each other.
    [[nodiscard]] const std::vector<model::Rep>& reps() const;
    /// The rep that is worked on.
    [[nodiscard]] const model::Rep& rep() const;
    /// Where it lies in the film.
    [[nodiscard]] model::FrameSpan repSpan() const;
    [[nodiscard]] const technique::Pack& pack() const;
    /// The film, read as the clip says.
    [[nodiscard]] const film::FilmIndex& index() const;
    /// The rep with its judgement; circumstances and review are parts of it.
    [[nodiscard]] const prepare::JudgedRep& judged() const;
    [[nodiscard]] const technique::Circumstances& circumstances() const;
    [[nodiscard]] const coaching::Review& review() const;
    [[nodiscard]] int frame() const;
    /// The picture of a frame when it is in memory, else null; pictureReady() announces others.
    [[nodiscard]] QImage picture(int frame) const;
    /// The nearest picture in memory, to show until the exact one comes; may be null.
    [[nodiscard]] QImage nearestPicture(int frame) const;
    /// Decoded frames of all films that are open, for another film to take part in.
    [[nodiscard]] const std::shared_ptr<film::FrameCache>& frameCache() const { return cache_; }
    /// Whether the coach still has to say how fast the camera was.
    [[nodiscard]] bool captureRateMissing() const;
    /// What the first pass over the film found; nothing while it is still under way.
    [[nodiscard]] const std::optional<model::FilmStudy>& study() const;
    /// Reps that the film's motion proposes and that no rep of the clip covers yet.
    [[nodiscard]] std::vector<model::FrameSpan> proposedReps() const;
    /// What changed in the judgement of the open rep since it was last judged by other schools or
    /// another pack; empty when nothing did.
    [[nodiscard]] const std::vector<coaching::Change>& changes() const;

    /// Goes to a frame, clamped to the film.
    void goTo(int frame);
    /// Makes another rep of the open clip the one that is worked on.
    void openRep(model::RepId repId);
    /// Judges the rep anew after something became known that no edit says; marksChanged() follows.
    void judgeAnew();
    /// Keeps the frame looked at for the next time; every edit does so too.
    void rememberPlace();

  signals:
    void opened();
    void repOpened();
    void closed();
    void frameChanged(int frame);
    void pictureReady(int frame);
    /// Marks or judgement changed: of the open rep, or of others by an edit.
    void marksChanged();
    /// The first pass over the film has come so far, of 1; 1 when study() is there.
    void studyProgress(double share);
    /// The film of a clip is not in the library any more, or was changed.
    void lost(kestrel::model::ClipId clipId, bool changed);

  private:
    struct Open;

    void show(std::unique_ptr<Open> open);
    void close();
    void startServer();
    void startStudy();
    /// Reads clip, player and reps from the library; false when the clip is gone.
    bool read();
    void readAnew();
    void judge();
    /// Lets the open rep keep the edition that the coach judges it with from his first mark on.
    void keepEdition();

    records::Library& library_;
    const Shelf& shelf_;
    FilmIndices& films_;
    const Judging& judging_;
    Settings& settings_;
    Problems& problems_;
    std::shared_ptr<film::FrameCache> cache_; ///< pictures of all films that are open
    std::unique_ptr<Open> open_;
    model::ClipId opening_;
    Job studying_;
};

} // namespace kestrel::desk
