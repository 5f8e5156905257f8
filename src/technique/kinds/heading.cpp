#include "technique/kinds/heading.h"

#include "motion/geometry.h"
#include "motion/heading.h"
#include "motion/out_of_plane.h"
#include "technique/kinds/inputs.h"
#include "technique/kinds/limb_depth.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"

#include <cmath>

namespace kestrel::technique {
namespace {

using model::MissingReason;
using motion::Branch;

/// The machine's word on which end is nearer counts when it is at least so clear, as a share of
/// the line's length: on the synthetic player it was right for 620 of 622 lines that were turned by
/// more than 20° out of the picture (docs/accuracy.md).
constexpr double clearDepth = 0.10;
/// A turn that is known no better than this is not said, degrees.
constexpr double mostSd = 20.0;

bool isSide(model::View view) {
    return view == model::View::openSide || view == model::View::closedSide;
}

Branch branchOf(model::View view, const std::optional<NearerEnd>& nearer, model::Side lead,
                double fullPx) {
    if (!nearer || (!nearer->byCoach && nearer->clearPx < clearDepth * fullPx)) {
        return Branch::unknown;
    }
    // Turning towards the target takes the lead end away from a camera that sees the chest, and
    // towards one that sees the back. Seen from the target, the lead end is the nearer one until
    // the line is square to it; from behind, the farther one.
    const bool leadNearer = nearer->side == lead;
    const bool first =
        view == model::View::openSide || view == model::View::rear ? !leadNearer : leadNearer;
    return first ? Branch::first : Branch::second;
}

struct TurnOfLine {
    motion::Heading all;     ///< with all errors
    motion::Heading placing; ///< with those of the landmarks only
};

TurnOfLine turnOf(motion::SeenLine line, bool side, Branch branch) {
    const auto heading = [&] {
        return side ? motion::headingFromCosine(line, branch)
                    : motion::headingFromSine(line, branch);
    };
    TurnOfLine turn;
    turn.all = heading();
    line.fullRelativeSd = 0.0;
    turn.placing = heading();
    return turn;
}

} // namespace

model::BodyLine lineThrough(model::Landmark end) {
    return end == model::Landmark::leftHip || end == model::Landmark::rightHip
               ? model::BodyLine::hips
               : model::BodyLine::shoulders;
}

std::optional<NearerEnd> nearerEnd(const model::Rep& rep, const std::string& positionId,
                                   model::BodyLine line) {
    if (const auto said = rep.nearerEnds.find(positionId); said != rep.nearerEnds.end()) {
        if (const auto end = said->second.find(line); end != said->second.end()) {
            return NearerEnd{end->second, true, 0.0};
        }
    }
    const auto frame = model::frameOf(rep, positionId);
    const auto turn = frame ? rep.bodyTurns.find(*frame) : rep.bodyTurns.end();
    if (turn == rep.bodyTurns.end()) {
        return std::nullopt;
    }
    const auto leftFarther =
        line == model::BodyLine::hips ? turn->second.hipsPx : turn->second.shouldersPx;
    if (!leftFarther) {
        return std::nullopt;
    }
    return NearerEnd{*leftFarther > 0.0 ? model::Side::right : model::Side::left, false,
                     std::abs(*leftFarther)};
}

void readHeading(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances,
                 const Measure& measure, std::optional<PixelHeight> bodyHeightPx,
                 model::Reading& reading) {
    if (!bodyHeightPx) {
        reading.missing = MissingReason{
            MissingReason::Kind::noBodyHeight,
            model::message("height.for_turn", findPosition(pack, pack.bodyHeight.at)->name)};
        return;
    }
    Inputs inputs(pack, rep, circumstances.hand);
    const auto ends = resolve(measure.points, measure.at, rep, circumstances.camera, 0.0, inputs,
                              reading.missing);
    if (!ends) {
        return;
    }
    const Eigen::VectorXd x = inputs.values();
    const Eigen::VectorXd sds = inputs.sds();
    const auto sdOf = [&](const ResolvedPoint& end) {
        const auto i = static_cast<Eigen::Index>(end.terms.front().first);
        return end.carrying ? std::hypot(sds[i], end.carrying->pose.sdPx) : sds[i];
    };
    const model::View view = *circumstances.view;
    const bool side = isSide(view);
    // Towards the target from the side; from front and rear towards the leading side.
    const int leading = side || leadsWithDominantSide(pack) ? 1 : -1;
    const int sign = leading * positiveSign(pack, circumstances.hand, view);

    double value = 0.0;
    double square = 0.0;
    double placingSquare = 0.0;
    model::Construct construct;
    construct.frame = ends->front().frame;
    for (std::size_t i = 0; i + 1 < ends->size(); i += 2) {
        const ResolvedPoint& trail = (*ends)[i];
        const ResolvedPoint& lead = (*ends)[i + 1];
        const model::Point2 from = trail.at(x);
        const model::Point2 to = lead.at(x);
        motion::SeenLine line;
        line.along = motion::offsetAlong(from, to, sign);
        line.rise = motion::heightAbove(from, to);
        line.sd = std::hypot(sdOf(trail), sdOf(lead));
        const motion::Length breadth =
            ownBreadth(rep, circumstances, *bodyHeightPx, *trail.landmark, *lead.landmark);
        line.fullPx = breadth.px;
        line.fullRelativeSd = breadth.sdPx / breadth.px;
        const auto nearer = nearerEnd(rep, measure.at, lineThrough(*lead.landmark));
        const TurnOfLine turn =
            turnOf(line, side, branchOf(view, nearer, *model::sideOf(*lead.landmark), line.fullPx));
        if (turn.all.sd.value > mostSd) {
            reading.missing = MissingReason{
                MissingReason::Kind::foreshortened,
                model::message(nearer ? "turn.hardly_shows" : "turn.either_way", trail.name,
                               lead.name,
                               model::Measured{model::coverage95 * mostSd, model::Unit::degrees})};
            return;
        }
        value += (i == 0 ? 1.0 : -1.0) * turn.all.value.value;
        square += turn.all.sd.value * turn.all.sd.value;
        placingSquare += turn.placing.sd.value * turn.placing.sd.value;
        const model::Point2 fromDrawn = drawnIn(circumstances, construct.frame, from);
        const model::Point2 toDrawn = drawnIn(circumstances, construct.frame, to);
        for (const model::Point2 end : {fromDrawn, toDrawn}) {
            construct.shapes.emplace_back(model::Dot{end});
        }
        construct.shapes.emplace_back(model::Segment{
            fromDrawn, toDrawn, i == 0 ? model::Role::trunk : model::Role::throwingSide});
    }
    reading.value = measure.absolute ? std::abs(value) : value;
    reading.uncertainty.placement = std::sqrt(std::min(placingSquare, square));
    reading.uncertainty.proportion = std::sqrt(std::max(0.0, square - placingSquare));
    // A camera that stands off square turns every line by as much; the difference of two lines is
    // free of it.
    reading.uncertainty.outOfPlane =
        std::hypot(measure.outOfPlaneDeg, ends->size() > 2 ? 0.0 : motion::offSquareSd.value);
    construct.labelAt = std::get<model::Dot>(construct.shapes.front()).at;
    construct.label = model::valueOf(*reading.value, measure.unit);
    reading.constructs.push_back(std::move(construct));
}

} // namespace kestrel::technique
