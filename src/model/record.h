#pragma once

#include "model/body_turn.h"
#include "model/clip_time.h"
#include "model/day.h"
#include "model/film_study.h"
#include "model/ground_marks.h"
#include "model/ids.h"
#include "model/landmark.h"
#include "model/limb_fold.h"
#include "model/side.h"
#include "model/units.h"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

/// What the library keeps about a player: the player, clips of film, reps in them and the coach's
/// marks on a rep.
namespace kestrel::model {

/// What growth tables go by.
enum class Sex { girl, boy };

std::string_view name(Sex sex);
std::optional<Sex> sexFromName(std::string_view text);

struct Player {
    PlayerId id;
    std::string name;
    Day born;
    Hand hand = Hand::right;
    std::optional<Metres> height;
    std::optional<Sex> sex;        ///< only for the growth estimate; unset: not said
    std::set<std::string> schools; ///< school ids chosen for this player, pack defaults otherwise
    Day consentGiven;              ///< when consent to film and keep was given; empty: not given
    std::string note;

    friend bool operator==(const Player&, const Player&) = default;
};

/// From where a machine takes a film to have been taken: the nearest view, and how far off square
/// to it, over away from the camera.
struct FoundView {
    View view{};
    Degrees off{0.0};

    friend bool operator==(const FoundView&, const FoundView&) = default;
};

struct Clip {
    ClipId id;
    PlayerId playerId;
    std::string title;
    std::string sha256;      ///< of the file's bytes; names the copy inside the library
    std::string fileName;    ///< name inside the library's clip folder
    std::string broughtFrom; ///< where the file lay when it was brought in, to find it again
    Day filmed;
    std::optional<double> captureRate; ///< frames a second on the field; unset: not said yet
    std::optional<View> view;          ///< unset: not said yet
    /// Counts only where `view` is not said; unset: not looked for, or the film does not tell.
    std::optional<FoundView> foundView;
    /// Changes of speed inside the file; when there are any, they say how time runs and
    /// captureRate does not.
    std::vector<SpeedStretch> speeds;
    bool asFields = false; ///< interlaced film read as fields: twice as many, half as tall pictures
    bool steadied = false; ///< paths and drifts are measured against the background
    std::optional<GroundMarks> ground; ///< unset: nothing is marked on the ground
    std::set<std::string> schools;     ///< chosen for this visit, before those of the player

    friend bool operator==(const Clip&, const Clip&) = default;
};

enum class Seen { yes, no, notVisible };

std::string_view name(Seen seen);
std::optional<Seen> seenFromName(std::string_view text);

/// A key position as a machine found it.
struct FoundInstant {
    int frame = 0;
    Seconds sd{0.0};         ///< how far the true instant may be, one standard deviation
    double confidence = 0.0; ///< 0…1: how likely it is that instant at all, not another

    friend bool operator==(const FoundInstant&, const FoundInstant&) = default;
};

/// One repetition and everything the coach marked on it.
struct Rep {
    RepId id;
    ClipId clipId;
    std::string title;
    std::string techniqueId;
    std::string variant;                  ///< start type
    std::string shotType;                 ///< kind of pitch, stroke or shot; empty: not said
    std::string result;                   ///< what became of it, in the coach's words
    std::optional<FrameSpan> span;        ///< where it lies in the clip; unset: all of it
    std::map<std::string, int> positions; ///< key position or event id → frame the coach says
    /// What a machine says; it counts only where the coach said nothing.
    std::map<std::string, FoundInstant> found;
    LandmarkTrack landmarks;
    BodyTurns bodyTurns;                          ///< what a machine says of them
    std::map<std::string, NearerEnds> nearerEnds; ///< by position: what the coach says
    std::map<std::string, LimbFolds> limbFolds;   ///< by position: what the coach says
    std::map<std::string, Seen> observations;     ///< observation id → what the coach saw
    std::map<std::string, double> counts;         ///< measure id → turns the coach counted
    std::set<std::string> schools; ///< chosen for this rep, before those of the visit
    /// The pack's text that the rep is judged with, see records::Library; not stored: the newest
    /// there is.
    EditionId packEdition;

    friend bool operator==(const Rep&, const Rep&) = default;
};

/// The frame of a key position or event: the coach's, else the machine's, else nothing.
std::optional<int> frameOf(const Rep& rep, const std::string& positionId);

/// What the machine says of a position on which the coach said nothing; null otherwise.
const FoundInstant* onlyFound(const Rep& rep, const std::string& positionId);

/// All positions and events that have a frame, the coach's and the machine's.
std::map<std::string, int> allPositions(const Rep& rep);

} // namespace kestrel::model
