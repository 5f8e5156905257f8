#pragma once

#include "synth/signal.h"

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// A technique as motion, read from a file of packs/motions: key poses at times, what the ball
/// does, where the key positions are, the true quantities that a coach asks about, and the dials
/// that put faults in. docs/synthetic-player.md describes the file; its schema is
/// packs/schema/motion.schema.json.
namespace kestrel::synth {

/// How an arm is led.
enum class ArmLed {
    byAngles,   ///< shoulder and elbow angles in the trunk's frame
    byHand,     ///< the hand's place in the trunk's frame; the elbow follows
    onImplement ///< the hand holds the implement somewhere along its shaft; the elbow follows
};

/// What leads the implement.
enum class ImplementLed {
    byMainHand,   ///< the main hand holds its grip
    byTrunkPoint, ///< its grip is a point in the trunk's frame, the hands follow
    byHeadPoint   ///< its head is a point in the world, the hands follow
};

/// One stretch of the ball's life. It lasts until `until`; the last one lasts for ever.
struct BallPhase {
    enum class Kind { held, pass, reach, arrive, leave };
    Kind kind = Kind::held;
    std::string place;  ///< held, pass, arrive, reach: where (pass: from the place before), such as
                        ///< "main_hand" or "implement_head"
    std::string until;  ///< a key time
    double speed = 0.0; ///< m/s
    double azimuth = 0.0; ///< degrees from the target, positive to the open side of a right-hander
    double elevation = 0.0; ///< degrees above level
    double floor = 0.0;     ///< m, where it bounces
    /// Seconds that it flies; before an arrival and after a leaving it rests. 0: the whole phase.
    double lasts = 0.0;
    double bounce = 0.0; ///< how much of the upward speed it keeps; 0 for no bounce
};

/// What a dial does to the channels for one unit of its own strength; how strong it must be is
/// found so that its quantity moves by the amount dialled.
struct Dial {
    std::string name;       ///< for people: "Late arm"
    std::string quantity;   ///< the true quantity it moves
    double direction = 1.0; ///< 1 when the amount adds to the quantity, −1 when it takes away
    double most = 0.0;      ///< the largest amount, in the quantity's unit
    double beginner = 0.0;  ///< the amount of a beginner
    /// Added to channel keys: channel, key, by how much.
    struct Add {
        std::string channel;
        std::string key;
        double by = 0.0;
    };
    std::vector<Add> adds;
    /// Moved in time, seconds a unit: channels whose name begins so, or "all" for the key itself
    /// with all that happens at it; key; by how much.
    std::vector<Add> shifts;
    std::vector<std::string> alsoMoves; ///< quantities that move with it by the nature of the thing
};

struct TrueQuantity {
    std::string name; ///< for people
    std::string unit; ///< "deg", "bh", "m", "ms", "s", "", "m/s", "%", "head"
    Reading reading;
};

struct MotionSheet {
    std::string technique;
    std::string title;
    std::string place;
    std::string implementName = "none";
    std::string ballName;
    std::string anchor; ///< the event at time 0
    bool leadIsOffSide =
        true; ///< whether the side that leads to the target is the one without the main hand
    bool wearsGlove = false;            ///< on the off hand
    std::map<std::string, double> keys; ///< seconds from the anchor
    /// Values at keys by channel: lengths in standing heights, angles in degrees.
    std::map<std::string, std::map<std::string, double>> channels;
    ArmLed mainArm = ArmLed::byAngles;
    ArmLed offArm = ArmLed::byAngles;
    ImplementLed implementLed = ImplementLed::byMainHand;
    std::vector<BallPhase> ball;
    /// Pairs of key times between which the whole body is in the air and its centre of mass falls.
    std::vector<std::pair<std::string, std::string>> flights;
    struct Event {
        std::string id;
        EventRule rule;
    };
    std::vector<Event> events;          ///< in an order in which each refers to earlier ones only
    std::vector<std::string> positions; ///< the events that are key positions, in order
    std::map<std::string, TrueQuantity> quantities;
    std::map<std::string, Dial> dials;
    /// Channels and key times that a variant has otherwise.
    struct Variant {
        std::string name;
        std::map<std::string, double> keys;
        std::map<std::string, std::map<std::string, double>> channels;
        std::vector<BallPhase> ball; ///< empty for the sheet's own
    };
    std::map<std::string, Variant> variants;
};

/// The channels that a sheet may lead, by name.
const std::vector<std::string>& channelNames();

/// Where the motion of a technique would be; the file is there for techniques that have one.
std::filesystem::path motionSheetFile(const std::string& technique);

/// Reads packs/motions/<technique>.json. Throws model::InputError with file, place and reason.
MotionSheet loadMotionSheet(const std::string& technique);

/// The techniques that have a sheet, in alphabetical order.
std::vector<std::string> techniquesWithMotion();

} // namespace kestrel::synth
