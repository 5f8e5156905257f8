#pragma once

#include "coaching/differences.h"
#include "desk/judging.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/other_pictures.h"
#include "desk/problems.h"
#include "model/clock.h"
#include "model/time_warp.h"

#include <QObject>

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kestrel::desk {

/// The open rep beside another one: which can stand there, how the two go together in time, and
/// what differs. It looks for others only while somebody looks at it.
class Comparison : public QObject {
    Q_OBJECT
  public:
    /// A rep that can stand beside the open one.
    struct Candidate {
        enum class Why {
            visitsBest,   ///< the best of the open rep's visit
            ofVisit,      ///< another one of it
            earlierVisit, ///< the best of another visit of the player
            poseModel,    ///< the technique as it is usually done
        };
        Why why = Why::ofVisit;
        std::shared_ptr<const prepare::JudgedRep> judged; ///< null for the pose model
    };

    Comparison(const records::Library& library, OpenClip& open, OpenVisit& visit,
               const Judging& judging, FilmIndices& films, Problems& problems, model::Clock clock);

    /// Whether somebody looks. The first time the candidate that comes first is chosen.
    void setWatched(bool watched);
    /// In the order in which they are proposed.
    [[nodiscard]] const std::vector<Candidate>& candidates() const { return candidates_; }
    [[nodiscard]] std::optional<std::size_t> chosen() const { return chosen_; }
    void choose(std::size_t candidate);

    /// Whether there is a rep beside the open one; what follows needs one.
    [[nodiscard]] bool hasOther() const { return other_ != nullptr; }
    [[nodiscard]] const prepare::JudgedRep& other() const { return *other_; }
    [[nodiscard]] bool otherIsModel() const { return model_ != nullptr; }
    /// Of the measures of the open rep's pack, each rep read as it is judged.
    [[nodiscard]] const std::vector<coaching::Difference>& differences() const {
        return differences_;
    }
    [[nodiscard]] coaching::InCommon inCommon() const;
    /// What the other one is, to stand in a sentence: “than on 3 October 2026”.
    [[nodiscard]] model::Message thanOther() const;

    /// Key positions that both have, in the order of the pack.
    [[nodiscard]] std::vector<std::string> sharedPositions() const;
    /// Both in step at all key positions that they share; with `from` in true time from that one.
    void stepTogether(const std::optional<std::string>& from = std::nullopt);
    [[nodiscard]] const std::optional<std::string>& trueTimeFrom() const { return trueTimeFrom_; }
    /// Moves the other one by so many of its frames against the open one.
    void nudge(int frames);
    [[nodiscard]] int nudged() const { return nudged_; }
    /// The frame of the other rep's film that shows what a frame of the open one's does; nothing
    /// where its film does not show it, or nothing says how they go together.
    [[nodiscard]] std::optional<int> otherFrame(int frame) const;
    /// Seconds on the field since the instant that the pack counts from (its anchor), or since the
    /// first key position that both have.
    struct Times {
        double here = 0.0;
        double there = 0.0;
    };
    /// At the frame looked at and the one that goes with it.
    [[nodiscard]] std::optional<Times> times() const;

    /// The other rep's picture of a frame when it is in memory, else null; pictureReady() announces
    /// others.
    [[nodiscard]] QImage otherPicture(int frame) const;
    /// The nearest picture in memory, to show until the exact one comes; may be null.
    [[nodiscard]] QImage nearestOtherPicture(int frame) const;
    [[nodiscard]] QSize otherSize() const { return pictures_->size(); }
    /// The film of the other rep as it is read; null for the pose model.
    [[nodiscard]] const film::FilmIndex* otherFilm() const;
    /// The pose model that is the other one; null for a rep of a film.
    [[nodiscard]] const std::shared_ptr<const prepare::PoseModel>& model() const { return model_; }

  signals:
    void candidatesChanged();
    /// Another rep stands there, or what is known of the two has changed.
    void changed();
    /// They go together in time otherwise.
    void stepChanged();
    void pictureReady();

  private:
    void refresh();
    void findCandidates();
    void takeModel(std::shared_ptr<const prepare::PoseModel> model);
    void take(std::shared_ptr<const prepare::JudgedRep> other);
    void compare();
    /// Goes to a key position where the other one does not show the frame looked at.
    void showBoth();
    void wantPicture();

    const records::Library& library_;
    OpenClip& open_;
    OpenVisit& visit_;
    const Judging& judging_;
    FilmIndices& films_;
    Problems& problems_;
    model::Clock clock_;
    bool watched_ = false;
    bool stale_ = true; ///< something changed while nobody looked
    model::RepId of_;   ///< the open rep that the candidates are for
    std::vector<Candidate> candidates_;
    std::optional<std::size_t> chosen_;
    std::shared_ptr<const prepare::JudgedRep> other_;
    std::shared_ptr<const prepare::PoseModel> model_;
    std::optional<film::FilmIndex> otherFilm_;
    std::unique_ptr<OtherPictures> pictures_;
    std::vector<coaching::Difference> differences_;
    std::optional<model::TimeWarp> warp_;
    std::optional<std::string> trueTimeFrom_;
    int nudged_ = 0;
    Job making_; ///< the pose model
};

} // namespace kestrel::desk
