#pragma once

#include "coaching/ask_back.h"
#include "coaching/changes.h"
#include "coaching/drill_library.h"
#include "coaching/load_rule.h"
#include "coaching/normalised_curves.h"
#include "coaching/review.h"
#include "coaching/schedule.h"
#include "coaching/visit.h"
#include "film/film_index.h"
#include "film/frame_server.h"
#include "records/clip_store.h"
#include "records/library.h"
#include "track/evidence.h"

#include <QImage>
#include <QObject>
#include <QUndoStack>

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace kestrel::app {

/// What is open: the library, one clip with its film and rep, the frame looked at. Every edit goes
/// through here, is on disk when the call returns and can be undone. The library is the one truth:
/// after each change the rep is read back from it and judged anew.
class Session : public QObject {
    Q_OBJECT
  public:
    /// Throws model::InputError when the library or a pack cannot be used.
    Session(const std::filesystem::path& libraryFolder, const std::filesystem::path& packFolder);
    ~Session() override;

    [[nodiscard]] records::Library& library() { return library_; }
    [[nodiscard]] const records::Library& library() const { return library_; }
    /// The newest edition of each technique's pack.
    [[nodiscard]] const std::vector<technique::Pack>& packs() const { return packs_; }
    /// Where the packs that ship are.
    [[nodiscard]] const std::filesystem::path& packFolder() const { return packFolder_; }
    [[nodiscard]] const coaching::DrillLibrary& drills() const { return drills_; }
    [[nodiscard]] QUndoStack& undoStack() { return undo_; }

    /// Opens a clip of the library; clipOpened() or problem() follows.
    void openClip(model::Id clipId);
    [[nodiscard]] bool hasClip() const { return open_ != nullptr; }

    // Only while a clip is open.
    [[nodiscard]] const model::Player& player() const;
    [[nodiscard]] const model::Clip& clip() const;
    [[nodiscard]] const model::Rep& rep() const;
    [[nodiscard]] const technique::Pack& pack() const;
    [[nodiscard]] const film::FilmIndex& index() const;
    [[nodiscard]] const technique::Circumstances& circumstances() const;
    [[nodiscard]] const coaching::Review& review() const;
    [[nodiscard]] int frame() const;
    /// The picture of a frame when it is in memory, else null; pictureReady() announces others.
    [[nodiscard]] QImage picture(int frame) const;
    /// The nearest picture in memory, to show until the exact one comes; may be null.
    [[nodiscard]] QImage nearestPicture(int frame) const;
    /// Whether the coach still has to say how fast the camera was.
    [[nodiscard]] bool captureRateMissing() const;
    /// All reps of the clip, as they follow each other.
    [[nodiscard]] const std::vector<model::Rep>& reps() const;
    /// What the first pass over the film found; nothing while it is still under way.
    [[nodiscard]] const std::optional<model::FilmStudy>& study() const;
    /// Reps that the film's motion proposes and that no rep of the clip covers yet.
    [[nodiscard]] std::vector<model::FrameSpan> proposedReps() const;

    /// The clip's judgement without opening it, for lists.
    [[nodiscard]] coaching::Review judged(const model::Player& player, const model::Clip& clip,
                                          const model::Rep& rep) const;
    /// The pack that a rep is judged with: the edition it keeps, else the newest. Stays where it is
    /// as long as the session.
    [[nodiscard]] const technique::Pack& packOf(const model::Rep& rep) const;
    /// How a measure runs through a rep, without opening its clip.
    [[nodiscard]] coaching::TimedCourse courseOf(const model::Player& player,
                                                 const model::Clip& clip, const model::Rep& rep,
                                                 const std::string& measureId) const;

    /// The visit of the open clip: its player's clips of the same day and technique.
    [[nodiscard]] model::VisitKey visit() const;
    /// All reps of that visit judged together, with what the coach decided.
    [[nodiscard]] const coaching::VisitReview& visitReview() const;
    /// What was decided after it.
    [[nodiscard]] model::PlanChoice planChoice() const;
    /// The clips and reps of a visit, as they were filmed.
    [[nodiscard]] std::vector<std::pair<model::Clip, model::Rep>>
    repsOf(const model::VisitKey& visit) const;
    /// The same as they are judged; those without any mark are left out.
    [[nodiscard]] std::vector<coaching::JudgedRep> judgedReps(const model::VisitKey& visit) const;
    /// What the plan of the visit before asks now; nothing when there is none. Its homework comes
    /// from that visit.
    [[nodiscard]] std::optional<coaching::AskBack> askBack() const;
    /// The rule that says how much rest follows throws.
    [[nodiscard]] const coaching::LoadRule& loadRule() const { return loadRule_; }

    /// What changed in the judgement of the open rep since it was last judged by other schools or
    /// another pack; empty when nothing did.
    [[nodiscard]] const std::vector<coaching::Change>& changes() const;
    /// The player's other clips that can show the open clip's motion from another place: of the
    /// same visit and technique.
    [[nodiscard]] std::vector<model::Clip> possibleSecondViews() const;
    /// Whether there is a newer edition of the open rep's pack than the one it keeps.
    [[nodiscard]] bool newerEdition() const;
    /// What judging the open rep with that edition would change.
    [[nodiscard]] std::vector<coaching::Change> changesOfNewerEdition() const;

    /// The pack as it ships; null for one of the coach's own.
    [[nodiscard]] const technique::Pack* shippedPack(const std::string& id) const;
    /// Whether the newest edition of a pack is the coach's: made or changed by him.
    [[nodiscard]] bool isOwnPack(const std::string& id) const;
    /// Reads text that may become a pack. Throws model::InputError with place and reason.
    [[nodiscard]] technique::Pack checkedPack(const std::string& text) const;
    /// What judging the open rep with such a pack would say of it; nothing when no clip of that
    /// technique is open.
    [[nodiscard]] std::optional<coaching::Review> judgedWith(const technique::Pack& pack) const;

    /// Goes to a frame, clamped to the film.
    void goTo(int frame);
    /// Makes another rep of the open clip the one that is worked on.
    void openRep(model::Id repId);
    /// Keeps the frame looked at for the next time; every edit does so too.
    void rememberPlace();

    /// Looks for the player's landmarks in all frames of the rep (or of the clip when it has no
    /// span), in the background; what comes out is one edit. `player` is a spot on the player in
    /// the frame looked at; without it, whoever moves. proposing() tells how far it is.
    void proposeLandmarks(std::optional<model::Point2> player = std::nullopt);
    /// The same from the frame looked at to the end of the rep; what was seen before it is kept.
    void trackFromHere(model::Point2 player);
    void cancelProposing();
    [[nodiscard]] bool isProposing() const { return proposing_ != nullptr; }

    /// How far the preparing of clips has come.
    struct Preparing {
        QString clip;       ///< title of the one under way
        int number = 1;     ///< which of all it is
        int count = 1;      ///< how many there are in all
        double share = 0.0; ///< done of this one, of 1
    };
    /// Clips that neither coach nor machine has looked at yet.
    [[nodiscard]] int clipsToPrepare() const;
    /// Prepares those one after the other in the background: reps, landmarks, key positions. Each
    /// is one edit when it is done. preparing() tells how far it is.
    void prepareClips();
    /// Stops after what is done; the clip under way stays as it was.
    void stopPreparing();
    [[nodiscard]] bool isPreparing() const { return preparing_ != nullptr; }
    /// Says which end of a line through the body is nearer to the camera at a position; nothing:
    /// what the machine says.
    void setNearerEnd(const std::string& position, model::BodyLine line,
                      std::optional<model::Side> nearer);
    /// Says how the limb around a joint lies in depth at a position; nothing: it is not known.
    void setLimbFold(const std::string& position, model::Landmark joint,
                     std::optional<model::LimbFold> fold);
    /// Follows what is placed through the film: points of the body in the frames around, implement,
    /// ball and glove through the rep. One edit; proposing() tells how far it is. Proposing
    /// landmarks does so, too.
    void followPlaced();
    /// Why that cannot be done now; empty when it can.
    [[nodiscard]] QString followingHindrance() const;
    /// Why landmarks cannot be proposed on this computer; empty when they can.
    [[nodiscard]] static QString proposingHindrance();

    /// Does `work`; what it throws is told as a problem().
    void trying(const std::function<void()>& work);

    // Edits.
    void setPosition(const std::string& positionId, std::optional<int> frame);
    /// `what` names the edit: "Place lead knee". Edits with the same name on the same landmark that
    /// follow each other count as one for undo when `joins` is set (nudging, dragging).
    void setLandmark(int frame, model::Landmark landmark,
                     const std::optional<model::LandmarkPoint>& point, const QString& what,
                     bool joins = false);
    /// Takes machine-made landmarks of a frame over as looked at and right.
    void confirmLandmarks(int frame, const std::vector<model::Landmark>& landmarks);
    /// Takes a found position over, with these machine-made landmarks of its frame.
    void confirmPosition(const std::string& positionId,
                         const std::vector<model::Landmark>& landmarks = {});
    /// Exchanges left and right of all landmarks of a frame; they count as looked at then, and the
    /// frames around are named anew after them.
    void swapSides(int frame);
    /// Puts landmarks where they are in the nearest earlier frame that has them, as placed points
    /// to be moved from there. Those without one are left out.
    void copyFromBefore(int frame, const std::vector<model::Landmark>& landmarks);
    /// Takes landmarks from a file: what was placed by hand there counts as placed, the rest as
    /// machine-made where nothing is placed. What the file does not speak of stays.
    void takeLandmarks(const model::LandmarkTrack& landmarks);
    void setObservation(const std::string& id, std::optional<model::Seen> seen);
    /// Turns the coach counted for a measure; nothing takes the count back.
    void setCount(const std::string& measureId, std::optional<double> turns);
    /// The age whose doses the player gets on the day of the visit: coaching::doseAge().
    [[nodiscard]] std::optional<int> doseAge() const;
    void setPlanChoice(const model::PlanChoice& choice, const QString& what);
    /// Plans the homework of the visit anew as far as it lies ahead of `today`, and keeps focus and
    /// drills as they are proposed now. Returns what could not be done as wished.
    std::vector<std::string> planHomework(const model::PlanWish& wish, const QString& what);
    /// Ticks a drill of a day of homework, or takes the tick back.
    void setDone(const model::VisitKey& visit, const model::IsoDate& day,
                 const std::string& drillId, bool done);
    /// Keeps the review film of the open rep.
    void setReviewScript(const model::ReviewScript& script, const QString& what);
    void setClip(const model::Clip& clip, const QString& what);
    /// Says what is marked on the ground of the open clip; nothing: nothing is.
    void setGround(const std::optional<model::GroundMarks>& ground, const QString& what);
    /// Title, start type, shot type, result and span of a rep; its marks are left as they are.
    void setRep(const model::Rep& rep, const QString& what);
    /// Says which technique the open clip shows, for all of its reps. Marks stay as they are; start
    /// and shot type, which belong to the technique, are forgotten.
    void setTechnique(const std::string& techniqueId);
    /// Takes the proposed reps over: the clip's one rep becomes the first of them as long as
    /// nothing is marked on it and it has no span; the others are added.
    void takeProposedReps();
    void addRep(const model::FrameSpan& span);
    /// Removes a rep with its marks; a clip keeps at least one.
    void removeRep(model::Id repId);
    /// Reads interlaced film as fields, or as whole frames again; marks stay at their instants.
    void setAsFields(bool asFields);
    void setPlayer(const model::Player& player, const QString& what);
    /// Whom a choice of schools is for.
    enum class ForWhom { rep, visit, player };
    /// Chooses the answer to a pack's question of schools for the open rep, all clips of its visit,
    /// or the player; nearer choices of the same question are forgotten.
    void setSchool(const technique::SchoolQuestion& question, const std::string& option,
                   ForWhom forWhom);
    /// Says which clip shows the open clip's motion from another place; nothing: none.
    void setSecondView(std::optional<model::Id> otherId);
    /// What the microphones of the open clip and its other film heard tells how their times go
    /// together: found off this thread, then an edit, or `problem` says why not.
    void hearSecondView();
    /// As heard; nothing: as the key positions say.
    void setHeardStep(const std::optional<model::FilmStep>& step);
    /// Judges the open rep with the newest edition of its pack from now on.
    void takeNewerEdition();
    /// Keeps a pack of the coach's own, or his change of one that ships. Throws model::InputError
    /// when the text is no pack, and changes nothing.
    void setOwnPack(const std::string& text, const QString& what);
    /// The coach's own drills as text; a file without drills when there are none.
    [[nodiscard]] std::string ownDrills() const;
    /// Keeps them. Throws model::InputError when the text is no drill file, names a drill that
    /// ships, or lacks one that a pack needs, and changes nothing.
    void setOwnDrills(const std::string& text, const QString& what);
    /// The load rule as text: the coach's own, else the example that ships.
    [[nodiscard]] std::string loadRuleText() const;
    [[nodiscard]] bool hasOwnLoadRule() const;
    /// Keeps a load rule of the coach's; nothing: the example counts again. Throws
    /// model::InputError when the text is no rule, and changes nothing.
    void setLoadRule(const std::optional<std::string>& text, const QString& what);
    /// Forgets the coach's pack; one that ships is as it was.
    void removeOwnPack(const std::string& id, const QString& what);
    /// Adds a player; returns the id. Taking it back leaves no trace.
    model::Id addPlayer(const model::Player& player);

    /// The technique of the player's newest clip; for a player without, the one said last.
    [[nodiscard]] std::string usualTechnique(model::Id playerId);
    /// Adds a film already in the clip folder to a player and opens it.
    void addFilm(model::Id playerId, const records::StoredFilm& film, const std::string& title,
                 const std::string& techniqueId);

    /// Puts the film of a clip back from a file or, when `from` is a folder, from the file in it
    /// that has the same content; then opens the clip.
    void restoreFilm(model::Id clipId, const std::filesystem::path& from);

  signals:
    void clipOpened();
    void repOpened();
    /// The first pass over the film has come so far, of 1; 1 when study() is there.
    void studyProgress(double share);
    /// Landmarks are being proposed, so far of 1; nothing when that ended, whatever came of it.
    void proposing(std::optional<double> share);
    /// Clips are being prepared; nothing when that ended.
    void preparing(const std::optional<kestrel::app::Session::Preparing>& how);
    /// The film of a clip is not in the library any more, or was changed.
    void filmLost(qint64 clipId, bool changed);
    void clipClosed();
    void frameChanged(int frame);
    void pictureReady(int frame);
    void marksChanged();   ///< positions, landmarks, observations, plan or judgement
    void recordsChanged(); ///< players or clips
    void packsChanged();   ///< there are other packs, or other editions of them
    void problem(const QString& happened, const QString& safe, const QString& todo);

  private:
    struct Open;

    struct Study;

    void show(std::unique_ptr<Open> open);
    void startServer();
    void startStudy();
    void readAsTheClipSays();
    void edit(const QString& name, std::function<void()> apply, std::function<void()> revert,
              int joinId = -1);
    void refresh();
    void judge();
    void report(const std::exception_ptr& error);

    /// The index of a clip's film; built once, for films never change.
    [[nodiscard]] const film::FilmIndex& indexOf(const model::Clip& clip) const;
    /// Adds what the rep's other film knows to its circumstances.
    void addSecondView(const model::Clip& clip, const model::Rep& rep,
                       technique::Circumstances& circumstances) const;
    [[nodiscard]] std::filesystem::path ownPackFile(const std::string& id) const;
    [[nodiscard]] std::filesystem::path ownDrillFile() const;
    /// The drills that ship together with these. Throws as coaching::drillsFromText.
    [[nodiscard]] coaching::DrillLibrary drillsWith(const std::string& ownText) const;
    /// Writes a file of the coach's own whole or not at all; nothing removes it.
    void putOwnFile(const std::filesystem::path& file, const std::optional<std::string>& content);
    void loadPacks();
    /// The pack of that text; read once.
    const technique::Pack& editionOf(const std::string& text) const;
    /// Lets the open rep keep the edition that the coach judges it with from his first mark on.
    void keepEdition();

    records::Library library_;
    std::filesystem::path packFolder_;
    std::vector<technique::Pack> shipped_;
    std::vector<technique::Pack> packs_; ///< newest editions: the coach's before those that ship
    mutable std::map<std::string, std::unique_ptr<const technique::Pack>> editions_; ///< by text
    coaching::DrillLibrary shippedDrills_;
    coaching::DrillLibrary drills_; ///< with the coach's own
    coaching::LoadRule loadRule_;
    mutable std::optional<coaching::VisitReview> visitReview_; ///< made when it is asked for
    QUndoStack undo_;
    std::shared_ptr<film::FrameCache> cache_; ///< pictures of all films that are open
    std::unique_ptr<Open> open_;
    model::Id opening_ = 0;
    struct Proposing;
    [[nodiscard]] technique::Circumstances circumstancesOf(const model::Player& player,
                                                           const model::Clip& clip,
                                                           const model::Rep& rep) const;
    /// Brings a rep's machine-made landmarks in line with what the coach has placed by now.
    void weighAnew(model::Id repId);
    /// Brings the positions that the machine found in line with landmarks and set positions.
    void findAnew(model::Id repId);
    [[nodiscard]] model::FrameSpan repSpan() const;
    /// Looks for landmarks from whom.frame both ways inside `span`; earlier evidence outside of it
    /// is kept, and landmarks of frames before `keptBefore` stay as they are.
    void lookForLandmarks(model::FrameSpan span, const track::Whom& whom, const QString& what,
                          std::optional<int> keptBefore = {});
    void keepLandmarksBefore(model::Id repId, int frame, const model::LandmarkTrack& old);
    using LookProgress = std::function<bool(double share)>;
    /// Runs `look` off the interface thread and takes what it saw over as an edit.
    void
    lookInBackground(const QString& what,
                     std::function<std::optional<track::Evidence>(const LookProgress& tell)> look,
                     std::optional<int> keptBefore = {});
    [[nodiscard]] bool anythingPlaced() const;
    using FollowPlaced =
        std::function<bool(track::Evidence& evidence, const track::EvidenceProgress& progress)>;
    /// Follows what is placed by now in the rep that is open; for any thread.
    [[nodiscard]] FollowPlaced placedFollower() const;
    std::shared_ptr<Proposing> proposing_; ///< the search under way; it ends when this goes
    struct PreparingQueue;
    void prepareNext();
    std::shared_ptr<PreparingQueue> preparing_; ///< the clips under way; it ends when this goes
    std::shared_ptr<Study> studying_; ///< the first pass under way; it ends when this goes
    mutable std::map<std::string, film::FilmIndex> indices_; ///< by content: films never change
};

} // namespace kestrel::app
