#pragma once

#include "model/review_script.h"
#include "model/sync_offset.h"
#include "model/visit.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

/// The coach's library on disk: a folder readable by its owner only, with a SQLite database and the
/// clips by content hash. Every call that changes something is on disk when it returns.
namespace kestrel::records {

/// A player's body in space in a rep, as it was worked out from what the film shows.
struct KeptBody {
    std::string key;                 ///< of what it was worked out from
    std::vector<std::uint8_t> bytes; ///< empty: what is seen makes none
};

class Library {
  public:
    static constexpr std::chrono::milliseconds usualPatience{3000};

    /// Opens the library in `folder`, making it when it is not there. Throws model::InputError when
    /// the folder cannot be used or belongs to a newer program. A change waits up to `patience`
    /// while another program writes to the library.
    explicit Library(const std::filesystem::path& folder,
                     std::chrono::milliseconds patience = usualPatience);
    ~Library();
    Library(const Library&) = delete;
    Library& operator=(const Library&) = delete;

    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
    [[nodiscard]] std::filesystem::path clipFolder() const { return folder_ / "clips"; }
    /// Where the coach's own packs are, one file each, and his own drills.
    [[nodiscard]] std::filesystem::path packFolder() const { return folder_ / "packs"; }
    [[nodiscard]] std::filesystem::path drillFile() const { return folder_ / "drills.json"; }
    [[nodiscard]] std::filesystem::path loadRuleFile() const { return folder_ / "load_rule.json"; }
    /// Where the voices of review films are.
    [[nodiscard]] std::filesystem::path voiceFolder() const { return folder_ / "voice"; }
    [[nodiscard]] std::filesystem::path clipFile(const model::Clip& clip) const {
        return clipFolder() / clip.fileName;
    }

    /// Makes several changes one: all are kept, or none when `changes` throws or a crash comes
    /// between them. May stand inside another.
    void atomically(const std::function<void()>& changes);

    // Players, by name.
    [[nodiscard]] std::vector<model::Player> players() const;
    [[nodiscard]] std::optional<model::Player> player(model::PlayerId id) const;
    /// Stores a player; a new one gets its id. Returns the id.
    model::PlayerId save(const model::Player& player);
    /// The player's standing heights, by the day they were measured.
    [[nodiscard]] std::map<model::Day, model::Metres> heights(model::PlayerId playerId) const;
    /// Nothing removes that day's.
    void setHeight(model::PlayerId playerId, model::Day measured,
                   std::optional<model::Metres> height);
    /// Removes a player who has no clips. Throws std::logic_error when there are clips: erasing a
    /// child's film is a step of its own.
    void removePlayer(model::PlayerId id);

    // Clips of a player, newest film first.
    [[nodiscard]] std::vector<model::Clip> clips(model::PlayerId playerId) const;
    /// Clips, oldest first, with a rep that neither coach nor machine has looked at.
    [[nodiscard]] std::vector<model::ClipId> clipsNotLookedAt() const;
    [[nodiscard]] std::optional<model::Clip> clip(model::ClipId id) const;
    /// The player's clip with that content, if it was brought in before.
    [[nodiscard]] std::optional<model::Clip> clipByHash(model::PlayerId playerId,
                                                        const std::string& sha256) const;
    model::ClipId save(const model::Clip& clip);
    /// The other clip that shows the same motion from another place; nothing: it was filmed once.
    [[nodiscard]] std::optional<model::ClipId> pairOf(model::ClipId clipId) const;
    /// Says so of both clips; nothing parts a clip from its other.
    void setPair(model::ClipId clipId, std::optional<model::ClipId> otherId);
    /// How much later the other clip's sound is than this one's; nothing: their key positions say
    /// how they go together.
    [[nodiscard]] std::optional<model::SyncOffset> syncOffset(model::ClipId clipId) const;
    /// Keeps it for both clips; they are a pair.
    void setSyncOffset(model::ClipId clipId, const std::optional<model::SyncOffset>& step);
    /// What the first pass over the clip's pictures found; nothing before it was made.
    [[nodiscard]] std::optional<model::FilmStudy> study(model::ClipId clipId) const;
    void save(model::ClipId clipId, const model::FilmStudy& study);
    /// Forgets the study, so that it is made anew.
    void removeStudy(model::ClipId clipId);

    /// Size and time of change of a film file when its content was last seen to be right.
    struct FileStamp {
        std::int64_t bytes = 0;
        std::int64_t modified = 0; ///< ticks of the file system's clock

        friend bool operator==(const FileStamp&, const FileStamp&) = default;
    };
    [[nodiscard]] std::optional<FileStamp> stamp(const std::string& fileName) const;
    void setStamp(const std::string& fileName, const FileStamp& stamp);

    /// Removes a clip with its reps and marks. The film file stays until the library is opened
    /// again, so that taking the removal back finds it.
    void removeClip(model::ClipId id);

    // Reps of a clip, as they follow each other in it, with all marks.
    [[nodiscard]] std::vector<model::Rep> reps(model::ClipId clipId) const;
    [[nodiscard]] std::optional<model::Rep> rep(model::RepId id) const;
    /// Stores a rep with all its marks, replacing those stored before.
    model::RepId save(const model::Rep& rep);
    /// Removes a rep with its marks and plan.
    void removeRep(model::RepId id);

    // Single marks, as the coach makes them; nothing removes the mark.
    void setPosition(model::RepId repId, const std::string& position, std::optional<int> frame);
    /// Replaces what a machine says of a rep's positions; what the coach says is left alone.
    void setFoundPositions(model::RepId repId,
                           const std::map<std::string, model::FoundInstant>& found);
    void setLandmark(model::RepId repId, int frame, model::Landmark landmark,
                     const std::optional<model::LandmarkPoint>& point);
    /// Replaces all points of a rep that a machine set with those of `points`; what the coach
    /// placed, and points that stand where it stands, are left alone.
    void setMachineLandmarks(model::RepId repId, const model::LandmarkTrack& points);
    void setNearerEnd(model::RepId repId, const std::string& position, model::BodyLine line,
                      std::optional<model::Side> nearer);
    void setLimbFold(model::RepId repId, const std::string& position, model::Landmark joint,
                     std::optional<model::LimbFold> fold);
    /// Replaces what a machine says of the turn of hips and shoulders.
    void setBodyTurns(model::RepId repId, const model::BodyTurns& turns);
    /// What the machine saw in a rep's film (track::toBytes), to weigh it anew when the coach
    /// places something; empty when it has not looked.
    [[nodiscard]] std::vector<std::uint8_t> evidence(model::RepId repId) const;
    /// Keeps it; empty bytes remove it.
    void setEvidence(model::RepId repId, const std::vector<std::uint8_t>& bytes);
    /// The body in space that was worked out for a rep; with an empty key when none was.
    [[nodiscard]] KeptBody body(model::RepId repId) const;
    /// Keeps it; it stands until another is kept.
    void setBody(model::RepId repId, const KeptBody& body);
    /// Turns the coach counted for a measure; nothing removes the count.
    void setCount(model::RepId repId, const std::string& measure, std::optional<double> turns);
    void setObservation(model::RepId repId, const std::string& observation,
                        std::optional<model::Seen> seen);

    // What was decided after a visit, see model/visit.h.
    [[nodiscard]] model::PlanChoice planChoice(const model::VisitKey& visit) const;
    void save(const model::VisitKey& visit, const model::PlanChoice& choice);
    /// What the homework has to fit into; nothing when nobody said.
    [[nodiscard]] std::optional<model::PlanWish> planWish(const model::VisitKey& visit) const;
    /// Keeps it; nothing forgets it.
    void save(const model::VisitKey& visit, const std::optional<model::PlanWish>& wish);
    [[nodiscard]] model::Homework homework(const model::VisitKey& visit) const;
    void save(const model::VisitKey& visit, const model::Homework& homework);
    /// Visits of a player with something decided, newest first.
    [[nodiscard]] std::vector<model::VisitKey> plannedVisits(model::PlayerId playerId) const;

    /// The review film of a rep; empty when none was put together.
    [[nodiscard]] model::ReviewScript reviewScript(model::RepId repId) const;
    void save(model::RepId repId, const model::ReviewScript& script);

    /// Keeps the text of a pack that reps are judged with; the same text is kept once. Its id.
    model::EditionId keepEdition(const std::string& techniqueId, const std::string& text);
    /// That text; empty for an id that is not there.
    [[nodiscard]] std::string edition(model::EditionId id) const;

    /// The edition a rep is judged with; not stored: the newest.
    void setEdition(model::RepId repId, model::EditionId editionId);
    /// The schools chosen for a rep alone.
    void setSchools(model::RepId repId, const std::set<std::string>& schools);

    /// Small things to remember, such as where the coach was; empty when never set.
    [[nodiscard]] std::string setting(const std::string& name) const;
    void setSetting(const std::string& name, const std::string& value);

  private:
    void removeStrayFiles() const;

    std::filesystem::path folder_;
    std::unique_ptr<SQLite::Database> database_;
    bool changing_ = false; ///< inside atomically()
};

} // namespace kestrel::records
