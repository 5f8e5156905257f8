#pragma once

#include "desk/edit_stack.h"
#include "desk/job.h"
#include "desk/open_clip.h"
#include "track/person/evidence.h"

#include <QObject>

#include <functional>
#include <optional>

namespace kestrel::desk {

/// Lets the machine look for landmarks in the open rep, beside the interface. What comes out is one
/// edit. One search at a time; it ends without result when another clip is opened.
class LandmarkSearch : public QObject {
    Q_OBJECT
  public:
    LandmarkSearch(records::Library& library, const OpenClip& open, const Judging& judging,
                   EditStack& edits, Problems& problems);
    ~LandmarkSearch() override;

    /// Why landmarks cannot be proposed on this computer; empty when they can.
    [[nodiscard]] static QString hindrance();
    /// Looks for the player in all frames of the rep (or of the clip when it has no span).
    /// `player` is a spot on the player in the frame looked at; without it, whoever moves.
    void propose(std::optional<model::Point2> player = std::nullopt);
    /// The same from the frame looked at to the end of the rep; what was seen before it is kept.
    void trackFromHere(model::Point2 player);

    /// Why what is placed cannot be followed now; empty when it can.
    [[nodiscard]] QString followingHindrance() const;
    /// Follows what is placed through the film: points of the body in the frames around, implement,
    /// ball and glove through the rep. A search for landmarks does so, too.
    void followPlaced();

    void cancel();
    [[nodiscard]] bool isSearching() const { return searching_; }

  signals:
    /// How far the search is, of 1; nothing when it ended, whatever came of it.
    void progress(std::optional<double> share);

  private:
    /// Looks from whom.frame both ways inside `span`; earlier evidence outside of it is kept, and
    /// landmarks of frames before `keptBefore` stay as they are.
    void look(model::FrameSpan span, const track::SubjectSeed& seed, const QString& what,
              std::optional<int> keptBefore = {});
    using Look = std::function<std::optional<track::Evidence>(const TellShare& tell)>;
    /// Runs `look` and takes what it saw over as an edit.
    void run(const QString& what, Look look, std::optional<int> keptBefore = {});
    void takeOver(const QString& what, model::RepId rep, const track::Evidence& evidence,
                  std::optional<int> keptBefore);
    void keepLandmarksBefore(model::RepId rep, int frame, const model::LandmarkTrack& old);
    [[nodiscard]] bool anythingPlaced() const;
    using Follow =
        std::function<bool(track::Evidence& evidence, const track::EvidenceProgress& progress)>;
    /// Follows what is placed by now in the rep that is open; for any thread.
    [[nodiscard]] Follow follower() const;
    void end();

    records::Library& library_;
    const OpenClip& open_;
    const Judging& judging_;
    EditStack& edits_;
    Problems& problems_;
    Job job_;
    bool searching_ = false;
    model::ClipId clip_; ///< in which is searched
};

} // namespace kestrel::desk
