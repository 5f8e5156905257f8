#pragma once

#include "model/construct.h"
#include "model/limb_fold.h"
#include "model/message.h"
#include "model/range.h"
#include "model/unit.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Readings: one measure evaluated at a key position of one rep.
namespace kestrel::model {

enum class Verdict {
    inside,     ///< the 95 % interval lies inside the range
    edge,       ///< the 95 % interval crosses a limit
    outside,    ///< the 95 % interval lies wholly beyond a limit
    reported,   ///< a value without a range: shown, not judged
    unreadable, ///< see MissingReason
};

std::string_view name(Verdict verdict);

/// Why a reading has no value.
struct MissingReason {
    enum class Kind {
        invalidView,
        oneFilm, ///< only two films of the same motion tell it
        viewUnknown,
        positionNotSet,
        landmarkNotPlaced,
        landmarkHidden,
        noBodyHeight,
        captureRateUnknown,
        foreshortened, ///< a segment points too much towards or away from the camera
        groundUnknown, ///< nothing says how many metres a place in the picture is
        notCounted,    ///< the coach has not counted it yet
        tooFewFrames,  ///< the film does not show it, or not often enough
        notLookedAt, ///< no coach has looked at its landmarks, and it is too unsure to say anything
        degenerate,  ///< two points coincide, so the angle or ratio does not exist
    };
    Kind kind = Kind::positionNotSet;
    Message why;
};

/// Where a reading's uncertainty comes from: standard uncertainties in the reading's unit.
struct UncertaintyParts {
    double placement = 0.0;  ///< standard deviations of the landmarks, body height included
    double proportion = 0.0; ///< body height and masses from tables of bodies
    double outOfPlane = 0.0; ///< segments that do not lie in the picture plane
    double body = 0.0;       ///< where the body is in space
    double frames = 0.0;     ///< the instant falls between frames
    /// Where the ground lies, how many metres a pixel is, which way the target is.
    double ground = 0.0;
    double smoothing = 0.0; ///< how suddenly a smoothed path may have turned between its samples

    [[nodiscard]] double combined() const;
};

/// Half width of a 95 % interval in standard deviations of a normal distribution.
inline constexpr double coverage95 = 1.959964;

/// A joint angle that looks the same with the limb folded towards or away from the camera and with
/// the limb running through it: what it is either way, in the reading's unit.
struct LimbChoice {
    Landmark joint = Landmark::leftElbow;
    double together = 0.0;
    double through = 0.0;
    std::optional<LimbFold> counted; ///< unset: nobody says, both count
    bool byContinuity = false;       ///< the coach said it at another position
};

/// What a reading was computed from.
enum class ReadFrom {
    picture,  ///< times, counts and what is flat on the ground or in the picture included
    body,     ///< the player's body in space, as one film shows it
    twoFilms, ///< places in space that two films of the same motion show
};

std::string_view name(ReadFrom from);

struct Reading {
    std::string measureId;
    std::string positionId;
    Unit unit = Unit::degrees;
    std::optional<double> value;
    ReadFrom from = ReadFrom::picture;
    UncertaintyParts uncertainty;
    double u95 = 0.0; ///< half width of the 95 % interval, in `unit`
    std::optional<Range> range;
    std::string rangeBasis;  ///< "literature", "coaching consensus", "school: tall"
    std::string rangeSchool; ///< school id that chose the range; empty when none did
    Verdict verdict = Verdict::unreadable;
    std::optional<MissingReason> missing;
    std::optional<LimbChoice> limb;    ///< unset: the same either way, or no joint angle
    std::vector<Construct> constructs; ///< one for each frame the reading draws on
};

/// Judges a value with its 95 % half width against a range: see Verdict.
Verdict judge(double value, double u95, const Range& range);

/// How far `value` lies beyond `range`, 0 inside; negative when below the low limit.
double distanceBeyond(double value, const Range& range);

} // namespace kestrel::model
