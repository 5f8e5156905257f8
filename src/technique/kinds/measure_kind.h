#pragma once

#include "model/construct.h"
#include "model/reading.h"
#include "motion/ball_flight.h"
#include "motion/speed_curve.h"
#include "technique/kinds/in_space.h"
#include "technique/pack/ground_place.h"

#include <array>
#include <cstddef>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

/// Measure kinds: the formulas a pack's measures can name. A kind turns points of one instant into
/// a number and into the lines that show it. To add one, add a row to the table in
/// measure_kind.cpp and its name to the schema; docs/architecture.md shows the steps.
namespace kestrel::technique {

/// What a kind computes from. Points are picture pixels in the order the kind names them.
struct KindInput {
    std::span<const model::Point2> points;
    double bodyHeightPx = 0.0; ///< 0 when the kind does not need it
    int sign = 0;              ///< picture direction counted positive; see motion/geometry.h
    double boneFraction = 0.0; ///< length of points 0–1 in body heights, for kinds that need it
};

/// What one camera cannot see.
struct OutOfPlane {
    /// Standard deviation of each segment's angle out of the picture plane, in the order of
    /// InstantKind::segments: the pack's figure, or more where the segment looks shortened.
    std::array<double, 2> segmentDeg{};
    double depthBh = 0.0; ///< the pack's figure for differences in depth, body heights
};

/// A point of a stretch of time.
struct CoursePoint {
    std::vector<motion::PlaceSample> places; ///< in order of time, a little beyond the stretch
    motion::Scatter scatter = motion::Scatter::stated;
    std::optional<motion::SpeedCurve> curve; ///< of the places, once somebody asked for it
    std::vector<model::Point2> path;         ///< smoothed, inside the stretch; filled by the kind
    model::Message name;                     ///< “throwing wrist”
};

/// A level plane above the ground, and the camera that looks at it (technique/kinds/level_plane.h).
struct LevelPlane {
    motion::GroundCamera camera;
    double heightM = 0.0;
    int closedSide = 0; ///< direction along y, 1 or −1, that is the throwing or hitting side
};

/// What a kind over a stretch of time computes from.
struct CourseInput {
    std::vector<CoursePoint> points;
    motion::TimeSpan within;
    double frameRate = 0.0;                         ///< frames a second on the field
    double bodyHeightPx = 0.0;                      ///< 0 when the kind does not need it
    std::optional<LevelPlane> plane = std::nullopt; ///< for kinds `onLevelPlane`
};

struct CourseValue {
    std::optional<double> value; ///< nothing: `refusal` says why
    double sd = 0.0;             ///< in the kind's unit, from landmarks and smoothing
    model::Message refusal;
    std::vector<model::Point2> marks; ///< spots on the path that made the value
    /// The part of `sd` that the landmarks' scatter makes, where the kind tells it; else it follows
    /// from the points' curves.
    std::optional<double> scatterSd = std::nullopt;
};

/// What a kind on the ground computes from: places in ground coordinates, metres.
struct GroundInput {
    std::span<const Eigen::Vector2d> places;
    const GroundLine* line = nullptr; ///< only for kinds that compare with one
    int closedSide = 0; ///< direction along y, 1 or −1, that is the throwing or hitting side
    double footM = 0.0; ///< length of the player's foot, metres; 0 when it is not known
};

/// What a kind of the ball's flight computes from.
struct FlightInput {
    const motion::BallFlight& flight;
    std::optional<double> targetM; ///< from where the flight is told to the target, along it
};

struct FlightValue {
    std::optional<double> value; ///< nothing: `refusal` says why
    model::Message refusal;
};

/// How a kind's value hangs on the angle between its two segments, whose depth can then be told
/// from how long they look (motion/segment_depth.h).
enum class SegmentAngle {
    none,       ///< it is no such angle
    itself,     ///< it is that angle
    supplement, ///< 180° less it
};

/// Reads points at one instant, or at two whose difference counts.
struct InstantKind {
    double (*value)(const KindInput&);
    /// Standard uncertainty, in the kind's unit, from segments out of the picture plane; null where
    /// `segmentAngle` says how that is told.
    double (*outOfPlane)(const KindInput&, const OutOfPlane&) = nullptr;
    /// Lines, arcs and gaps that show how the value was made.
    std::vector<model::Shape> (*shapes)(const KindInput&);
    /// Pairs of points between which a length of zero leaves the value undefined. They are also the
    /// lines whose direction counts, so that foreshortening spoils the value.
    std::span<const std::pair<std::size_t, std::size_t>> segments = {};
    SegmentAngle segmentAngle = SegmentAngle::none;
    bool levelSegments = false; ///< of the segments only the level extent counts
    bool needsBone = false;     ///< points 0 and 1 must be the ends of one bone
};

/// Reads a stretch of time, from Measure::from to Measure::at (technique/kinds/course_kinds.h).
struct CourseKind {
    CourseValue (*value)(CourseInput&);
    /// The path is told on a level plane, Measure::heightBh above the marked ground.
    bool onLevelPlane = false;
};

/// Likewise; its points are ends of hips or shoulders, two by two, and the course is that of the
/// turn of such lines, in degrees (technique/kinds/turning.h).
struct TurningKind {
    CourseValue (*value)(CourseInput&);
};

/// Reads which way hips and shoulders point (technique/kinds/heading.h): each two points are the
/// ends of such a line.
struct HeadingKind {};

/// Reads places on the ground (technique/kinds/on_ground.h).
struct GroundKind {
    double (*value)(const GroundInput&);
    bool needsLine = false; ///< the measure names a line of the place
};

/// Reads the flight of the ball (technique/kinds/flight.h). The first point is the ball, the second
/// stands where it starts from, for the depth.
struct FlightKind {
    FlightValue (*value)(const FlightInput&);
};

/// Reads the path of a point in space over a stretch of time, from two films
/// (technique/kinds/space_path.h). Nothing where the path does not tell it.
struct SpacePathKind {
    std::optional<double> (*value)(std::span<const Eigen::Vector3d>);
};

/// Reads the time between two instants; it has no points.
struct TimeKind {};

/// Turns what the coach counted between two instants into a rate; it has no points.
struct CountedKind {};

struct MeasureKind {
    std::string_view id;
    model::Unit unit;
    std::string_view pointNames; ///< what the points are, an id of the catalogue; empty: none
    std::size_t pointCount;
    bool needsBodyHeight = false;
    std::variant<InstantKind, CourseKind, TurningKind, HeadingKind, GroundKind, FlightKind,
                 SpacePathKind, TimeKind, CountedKind>
        how;
    /// The same quantity from places in space, where the kind has it (technique/kinds/in_space.h).
    double (*space)(const SpaceInput&) = nullptr;

    /// How it reads when it is of that sort, else null.
    template <class How> [[nodiscard]] const How* as() const { return std::get_if<How>(&how); }
};

/// All kinds, in the order of the documentation.
std::span<const MeasureKind> allKinds();

/// The kind of that id, or null.
const MeasureKind* findKind(std::string_view id);

} // namespace kestrel::technique
