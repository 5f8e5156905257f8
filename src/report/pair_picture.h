#pragma once

#include "model/landmark.h"
#include "model/reading.h"
#include "model/side.h"
#include "report/construct_painter.h"

#include <QImage>
#include <QPainter>
#include <QRectF>
#include <QTransform>

#include <map>
#include <optional>
#include <vector>

/// Two reps in one picture: both players as tall as each other, standing on one line.
namespace kestrel::report {

/// How a player stands in the pictures of a rep.
struct StandingPlayer {
    double heightPx = 0.0;        ///< standing
    double groundPx = 0.0;        ///< where the feet stand, down the picture
    std::map<int, double> hipsPx; ///< across the picture, by frame

    /// Where the hips are across the picture at a frame, between those that have them.
    [[nodiscard]] double hipsAt(int frame) const;
};

/// `bodyHeightPx` is the standing height as the pack measures it (technique::bodyHeight); without
/// one it is estimated from the landmarks. Nothing where there are too few of them.
std::optional<StandingPlayer> standingPlayer(const model::LandmarkTrack& track,
                                             std::optional<double> bodyHeightPx);

/// One of the two.
struct PairSide {
    QImage picture;     ///< of `frame`; null: it cannot be shown
    QSizeF pictureSize; ///< of the film, whatever the image has
    int frame = 0;
    const model::LandmarkTrack* landmarks = nullptr; ///< of the rep; not null
    StandingPlayer player;
    model::Hand hand = model::Hand::right;
    std::vector<model::Reading> readings; ///< whose constructs are drawn
};

/// What the pictures are laid over each other by.
struct PairAnchor {
    /// Unset: the ground, with the hips one above the other.
    std::optional<model::Landmark> here;
    std::optional<model::Landmark> there;
};

/// Drawn on both, tied to the anchor's landmark.
enum class PairAid {
    none,
    plumbLine,  ///< straight down the picture through the landmark
    clock,      ///< a dial around the landmark, twelve at the top
    heightGrid, ///< quarters of the standing height above the ground
};

/// Where a rep's picture lies in `panel`: the player's standing height is `heightShare` of its
/// height and the ground near its lower edge. The picture stands still where all that the player
/// moves across has room, and goes with the hips otherwise.
QTransform standingMap(const PairSide& side, const QRectF& panel, double heightShare,
                       bool mirrored);

/// How many panel widths to leave a player with room to reach; see standingMap.
inline constexpr double usualHeightShare = 0.58;

/// The map of the other picture that brings its anchor onto the one of the first, whose map is
/// `here`; as standingMap() has it where a landmark is not known in both.
QTransform mapOver(const PairSide& side, const QTransform& here, const PairSide& other,
                   const QTransform& there, const PairAnchor& anchor);

/// Paints the picture through `map`, cut to `panel`, with its readings' constructs.
void paintSide(QPainter& painter, const QRectF& panel, const PairSide& side, const QTransform& map,
               const ConstructStyle& style = {});

/// Limbs and trunk of the landmarks known at the side's frame: full lines, or dashed for the one
/// that is laid over another.
void paintBodyLines(QPainter& painter, const PairSide& side, const QTransform& map, bool dashed);

/// The aid on one of the pictures.
void paintAid(QPainter& painter, const QRectF& panel, const PairSide& side, const QTransform& map,
              PairAid aid, std::optional<model::Landmark> anchor);

} // namespace kestrel::report
