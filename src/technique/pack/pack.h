#pragma once

#include "model/reading.h"
#include "model/side.h"
#include "technique/pack/detector.h"
#include "technique/pack/ground_place.h"
#include "technique/pack/point_expression.h"

#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

/// A technique pack: positions, measures, ranges, faults of one technique, as data. The JSON form
/// is described by packs/schema/technique.schema.json; docs/architecture.md tells how to write one.
namespace kestrel::technique {

struct MeasureKind;
struct PositionNetwork;

/// Which body side a role ("lead", "throwing") stands for.
enum class RoleSide { dominant, other };

struct Position {
    std::string id;
    std::string name;
    std::string definition;             ///< which instant it is
    std::string lookFor;                ///< what to look at there
    std::vector<std::string> landmarks; ///< role names, in placing order
    bool event = false;   ///< a timing mark only: nothing is placed there and it may stay unset
    double lastsMs = 0.0; ///< how long a frame taken then counts as it, milliseconds on the field
    bool learned = false; ///< the position network that ships knows it, as it is defined here
    std::vector<Detector> foundBy; ///< the first that fits the view finds it; empty: none does
};

struct SchoolOption {
    std::string id;
    std::string name;
    std::string why;
};

/// A question coaches answer differently, with the answers this pack can judge by.
struct SchoolQuestion {
    std::string id;
    std::string text;
    std::vector<SchoolOption> options;
    std::string defaultOption;
    std::string reason; ///< why that one is the default
};

/// Ages that something holds for, in whole years, both included.
struct AgeSpan {
    std::optional<int> from;
    std::optional<int> to;

    /// Whether it speaks of ages at all; what does not holds for everybody.
    [[nodiscard]] bool limited() const { return from || to; }
    /// An unknown age lies in no limited span.
    [[nodiscard]] bool contains(std::optional<int> age) const {
        return !limited() || (age && (!from || *age >= *from) && (!to || *age <= *to));
    }
};

struct MeasureRange {
    model::Range good;
    std::string school;  ///< applies to this school only; empty: all
    std::string variant; ///< applies to this variant only; empty: all
    std::string shot;    ///< applies to this kind of pitch, stroke or shot only; empty: all
    AgeSpan ages;
    std::string basis;
};

struct Measure {
    std::string id;
    std::string name;
    std::string plain; ///< the same in words for a player
    std::string at;    ///< position
    std::string from;  ///< times: the instant counted from; courses: where the stretch begins
    model::Seconds fromAfter{0.0}; ///< courses: the stretch begins so much later than `from`
    model::Seconds atAfter{0.0};   ///< courses: and ends so much later than `at`
    const MeasureKind* kind = nullptr;
    std::vector<PointExpression> points;
    std::string minus;     ///< position whose reading is subtracted; empty: none
    bool absolute = false; ///< the size of a change, whichever way
    model::Unit unit = model::Unit::degrees;
    std::vector<model::View> views; ///< where it can be read; empty for times: any
    std::vector<MeasureRange> ranges;
    double outOfPlaneDeg = 0.0; ///< sd of its segments' angle out of the picture plane
    double depthBh = 0.0;       ///< sd of its points' difference in depth, body heights
    double heightBh = 0.0;      ///< kinds on a level plane: how high above the ground that is
    std::string line;           ///< kinds that compare with a line of the place: its id
    double typicalRate = 0.0;   ///< how fast it changes around its position, unit per second
    std::string note;
};

struct Observation {
    std::string id;
    std::string at;
    std::string question; ///< answered yes (good), no, not visible
};

/// A sign of a fault: a reading beyond its range, or an observation answered no.
struct Sign {
    enum class Is { above, below, outside, denied };
    std::string measure; ///< measure or, for `denied`, observation id
    Is is = Is::outside;
};

struct FaultDefinition {
    std::string id;
    std::string name;
    std::string meaning; ///< what it does to the pitch or the body, for the player
    std::string at;      ///< the position where it starts, for the order of causes
    std::vector<Sign> signs;
    bool allSigns = false; ///< every sign must be seen, not just one
    std::vector<std::string> leadsTo;
    std::string school; ///< a fault in this school only; empty: in all
    std::string caution;
    bool safety = false;
    std::vector<std::string> cues;
    std::vector<std::string> drills;
};

/// Body height in pixels: a path along the upright body divided by the part of height it covers.
struct BodyHeight {
    std::string at;
    std::vector<PointExpression> path;
    double fraction = 1.0;
    double relativeSd = 0.0; ///< how much proportions vary between people
};

struct Variant {
    std::string id;
    std::string name;
};

/// Kind of pitch, stroke or shot: "fastball".
struct Shot {
    std::string id;
    std::string name;
};

/// How to film the technique, and what the film has to keep up with.
struct Filming {
    std::vector<std::string> advice;
    model::View view = model::View::openSide;
    double cameraHeightBh = 0.0;
    double widthBh = 0.0;    ///< body heights of field across the picture
    double lowestRate = 0.0; ///< frames a second
    double goodRate = 0.0;
    std::optional<model::View> secondView;
    std::string secondViewFor;

    /// What moves fastest, and what its blur spoils.
    struct Fastest {
        std::string part;       ///< "throwing hand"
        std::string at;         ///< position
        std::string segment;    ///< "forearm": its direction suffers
        double speedBhS = 0.0;  ///< body heights a second
        double segmentBh = 0.0; ///< length of the segment
        std::string basis;
    };
    Fastest fastest;
};

/// The ball, puck or shuttle that is played.
struct PlayedBall {
    double massKg = 0.0;
    double diameterM = 0.0;
    double dragCoefficient = 0.0;
    double dragRelativeSd = 0.0; ///< how much it differs with seam, felt and spin
    double besideBh = 0.0;       ///< how far to the throwing or hitting side of the foot it starts
    double besideSdBh = 0.0;
    double headingDeg = 0.0; ///< from the target line to the throwing or hitting side
    double headingSdDeg = 2.0;
    std::string basis;
};

/// Where the ball goes: a line across the field at which the opponent meets it.
struct Target {
    struct Distance {
        double metres = 0.0; ///< along the target line from where the player stands
        AgeSpan ages;
    };
    std::string name; ///< "front edge of the plate"
    std::string line; ///< that line where a place has it; it goes before the distances
    std::vector<Distance> distances;
    std::string basis;
};

/// One part of the body, or the implement, of the chain that passes speed on.
struct SequenceLink {
    enum class Of {
        speed,   ///< of a point
        opening, ///< of a joint: its three points as for an interior angle
        turning, ///< of the line through hips or shoulders: its trail and lead end
    };
    std::string id;
    std::string name;
    Of of = Of::speed;
    std::vector<PointExpression> points;
};

/// Which parts are fastest one after the other, from the ground up.
struct Sequence {
    std::string from; ///< position where the stretch begins that is looked at
    model::Seconds fromAfter{0.0};
    std::string at; ///< position where it ends
    model::Seconds atAfter{0.0};
    std::vector<model::View> views;
    std::vector<SequenceLink> links; ///< in the order in which they should be fastest
    std::string note;
};

struct Pack {
    std::filesystem::path file;
    std::string text; ///< the file's content, to be kept with what is judged by it
    std::string id;
    int version = 1;
    std::string name;
    std::string sport;
    std::string basedOn; ///< id of the pack that this one was copied from; empty: none
    std::vector<Variant> variants;
    std::vector<Shot> shots;
    std::map<std::string, RoleSide> roles;
    std::vector<SchoolQuestion> schools;
    std::vector<Position> positions;
    std::shared_ptr<const PositionNetwork> network; ///< finds those learned; null where none is
    /// Landmarks of implement, ball and glove that can be placed in any frame and are followed.
    std::vector<model::Landmark> things;
    bool onSkates = false;      ///< a foot on the ground may glide
    bool sideOnAtSetUp = false; ///< the player stands side-on to the target before the motion
    std::string anchor;         ///< times are shown relative to this position
    BodyHeight bodyHeight;
    std::vector<GroundPlace> places; ///< of known size, to be marked on the ground
    std::optional<PlayedBall> ball;
    std::optional<Target> target;
    std::optional<Sequence> sequence;
    std::vector<Measure> measures;
    std::vector<Observation> observations;
    std::vector<FaultDefinition> faults;
    std::vector<std::string> cautions;
    Filming filming;

    // Written out once, in pack.cpp: a copy of a pack is much code, and many files hold one.
    Pack();
    Pack(const Pack&);
    Pack(Pack&&) noexcept;
    Pack& operator=(const Pack&);
    Pack& operator=(Pack&&) noexcept;
    ~Pack();
};

/// Loads and validates a pack. `schemaFile` is packs/schema/technique.schema.json. Throws
/// model::InputError naming file, place (JSON pointer) and reason.
Pack loadPack(const std::filesystem::path& file, const std::filesystem::path& schemaFile);

/// The same for text that is, was or is to be the content of `file`.
Pack packFromText(const std::string& text, const std::filesystem::path& file,
                  const std::filesystem::path& schemaFile);

/// All packs of `dataDirectory`/techniques, by file name. Throws as loadPack.
std::vector<Pack> loadPacks(const std::filesystem::path& dataDirectory);

/// The JSON Schema that packs have to fit.
std::filesystem::path packSchema(const std::filesystem::path& dataDirectory);

/// Look-ups by id; null when the pack has none such.
const Position* findPosition(const Pack& pack, std::string_view id);
const Measure* findMeasure(const Pack& pack, std::string_view id);
const FaultDefinition* findFault(const Pack& pack, std::string_view id);
const Observation* findObservation(const Pack& pack, std::string_view id);
const SchoolOption* findSchool(const Pack& pack, std::string_view id);

/// Place of a position in the order of the technique; number of positions when unknown.
std::size_t positionOrder(const Pack& pack, std::string_view id);

/// The schools that are chosen when each question goes by the first of `choices` that answers it:
/// those for a rep, before those for its visit, before those for the player. Schools of other packs
/// are left out.
std::set<std::string> nearestChoice(const Pack& pack,
                                    const std::vector<std::set<std::string>>& choices);

/// One school for each question: the first of `chosen` that answers it, else the default.
std::set<std::string> schoolsInForce(const Pack& pack, const std::set<std::string>& chosen);

} // namespace kestrel::technique
