#pragma once

#include "technique/judge/evaluate.h"

#include <optional>
#include <string>
#include <vector>

/// Curves over the time of a rep: how fast each part of the chain moves and which follows which,
/// and how a measure runs from frame to frame.
namespace kestrel::technique {

struct CurvePoint {
    double time = 0.0; ///< seconds on the field, from the film's first frame
    double value = 0.0;
    double sd = 0.0; ///< standard deviation of `value`
};

struct CurvePeak {
    double time = 0.0;
    double timeSd = 0.0;
    double value = 0.0;
    double sd = 0.0;
};

/// How fast one link of the pack's sequence moves. Speeds are of points in the picture, body
/// heights a second; of joints, how fast they open, and of hips and shoulders, how fast they turn,
/// degrees a second.
struct LinkCurve {
    std::string linkId;
    std::string name;
    model::Unit unit = model::Unit::bodyHeightsPerSecond;
    std::vector<CurvePoint> points; ///< inside the stretch, one a frame; empty: see `refusal`
    /// How the speed grows, in the same frames, `unit` a second.
    std::vector<CurvePoint> growth;
    std::optional<CurvePeak> peak; ///< nothing: `refusal` says why, in a full sentence
    model::Message refusal;
};

/// One link after the one named before it in the pack.
struct LinkStep {
    enum class Order {
        follows,    ///< its peak is later, beyond what the film leaves in doubt
        leads,      ///< its peak is earlier
        cannotTell, ///< the peaks lie closer than the film can tell
    };
    std::string earlier; ///< link ids, in the order of the pack
    std::string later;
    double gapMs = 0.0; ///< from the earlier link's peak to the later one's
    double u95Ms = 0.0; ///< half width of its 95 % interval
    Order order = Order::cannotTell;
    std::optional<double> gain; ///< of speed; nothing between a speed and an opening joint
};

struct SequenceReading {
    std::optional<model::MissingReason> missing; ///< why there is nothing at all
    double from = 0.0;                           ///< of the stretch, seconds on the field
    double to = 0.0;
    double frameRate = 0.0; ///< frames a second on the field
    std::vector<LinkCurve> links;
    std::vector<LinkStep> steps; ///< between links that have peaks and follow each other
};

/// The unit of a link's growth: `unit` of its speed a second.
model::Unit growthUnit(model::Unit unit);

/// Reads the pack's sequence. Peaks count as apart when their distance is larger than its 95 %
/// interval and than one frame: landmarks are seen at frames only.
SequenceReading readSequence(const Pack& pack, const model::Rep& rep,
                             const Circumstances& circumstances);

/// A measure that is read at an instant, as it would be read in each of the frames `within` that
/// have what it needs; what its position's own frame adds to the doubt is left out. Empty for
/// measures over a stretch of time, of the flight or of times.
std::vector<CurvePoint> courseOfMeasure(const Pack& pack, const model::Rep& rep,
                                        const Circumstances& circumstances, const Measure& measure,
                                        model::FrameSpan within);

} // namespace kestrel::technique
