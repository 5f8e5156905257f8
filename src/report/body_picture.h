#pragma once

#include "body/fitted_body.h"
#include "model/side.h"

#include <QPainter>
#include <QRectF>

#include <optional>
#include <vector>

/// Draws a player's body in space: limbs, ground and target line, from anywhere.
namespace kestrel::report {

/// From where the body is looked at, level axes (body/fitted_body.h).
struct BodyView {
    double aroundDeg = 0.0; ///< from where the film's camera stood, to its right as it sees it
    double aboveDeg = 0.0;  ///< over level; 90 looks straight down

    friend bool operator==(const BodyView&, const BodyView&) = default;
};

/// A point to be drawn out: the mean of some landmarks, each with its weight.
using BodyPoint = std::vector<std::pair<model::Landmark, double>>;

struct BodyScene {
    const body::FittedBody& body;
    model::Seconds time;
    /// Direction of the target (technique::targetLine), radians; unset: it is not known.
    std::optional<double> targetAzimuth = std::nullopt;
    model::Side dominant = model::Side::right;      ///< the throwing or hitting side is drawn warm
    std::vector<std::vector<BodyPoint>> lines = {}; ///< of the chosen reading, drawn out
    QString label = {};                             ///< beside the first of them
    QString target = {};                            ///< the word at the end of the target line
    /// Only the body itself as dashed lines: it is laid over another.
    bool light = false;
};

/// Draws it into `place`, the standing height about two thirds of its height. Nothing but the
/// ground where the body does not cover the time.
void paintBody(QPainter& painter, const QRectF& place, const BodyScene& scene,
               const BodyView& view);

} // namespace kestrel::report
