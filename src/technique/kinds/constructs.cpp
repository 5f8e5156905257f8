#include "technique/kinds/constructs.h"

#include "technique/pack/roles.h"

namespace kestrel::technique {
namespace {

using model::Point2;
using model::Segment;

std::vector<model::Shape> shapesOf(const MeasureKind& kind, const std::vector<Point2>& points) {
    if (const auto* instant = kind.as<InstantKind>()) {
        return instant->shapes(KindInput{points, 0.0, 0, 0.0});
    }
    // Lines through hips and shoulders.
    std::vector<model::Shape> shapes;
    for (std::size_t i = 1; i < points.size(); i += 2) {
        shapes.emplace_back(Segment{points[i - 1], points[i],
                                    i == 1 ? model::Role::trunk : model::Role::throwingSide});
    }
    return shapes;
}

} // namespace

std::optional<model::Construct> constructAt(const Pack& pack, const model::Rep& rep,
                                            model::Hand hand, const Measure& measure,
                                            const std::string& position) {
    std::vector<Point2> points;
    for (const PointExpression& expression : measure.points) {
        const auto frame =
            model::frameOf(rep, expression.position.empty() ? position : expression.position);
        Point2 px;
        for (const auto& [role, weight] : expression.terms) {
            const auto landmark = landmarkForRole(pack, role, hand);
            const model::LandmarkPoint* point =
                frame && landmark ? model::find(rep.landmarks, *frame, *landmark) : nullptr;
            if (point == nullptr) {
                return std::nullopt;
            }
            px = px + point->px * weight;
        }
        points.push_back(px);
    }
    model::Construct construct;
    construct.frame = *model::frameOf(rep, position);
    construct.shapes = shapesOf(*measure.kind, points);
    for (const Point2& point : points) {
        construct.shapes.emplace_back(model::Dot{point});
    }
    constexpr std::size_t joint = 3; // points, the middle one of which is the joint
    construct.labelAt = points.size() == joint ? points[1] : (points[0] + points[1]) * 0.5;
    return construct;
}

} // namespace kestrel::technique
