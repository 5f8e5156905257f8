#include "technique/pack/ground_place.h"

#include "model/landmark.h"
#include "motion/propagation.h"
#include "technique/pack/known_length.h"
#include "technique/pack/pack.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace kestrel::technique {
namespace {

using Eigen::Vector2d;
using motion::GroundRefusal;

model::Message reasonOf(const GroundRefusal& refusal) {
    switch (refusal.why) {
    case GroundRefusal::Why::tooFewMarks:
        return model::message("ground.too_few_marks");
    case GroundRefusal::Why::onOneLine:
        return model::message("ground.marks_on_one_line");
    case GroundRefusal::Why::doesNotMatch:
        return model::message("ground.marks_do_not_match");
    }
    return {};
}

/// The part of the line in front of the camera, bent as the lens bends it.
void addLine(const motion::GroundCamera& camera, const Vector2d& from, const Vector2d& to,
             std::vector<SeenLine>& lines) {
    constexpr int pieces = 24;
    SeenLine seen;
    for (int i = 0; i <= pieces; ++i) {
        const Vector2d at = from + (to - from) * (static_cast<double>(i) / pieces);
        if (const auto px = camera.inPicture({at.x(), at.y(), 0.0})) {
            seen.push_back(*px);
        } else if (seen.size() > 1) {
            lines.push_back(std::move(seen));
            seen.clear();
        }
    }
    if (seen.size() > 1) {
        lines.push_back(std::move(seen));
    }
}

} // namespace

GroundPlace rectanglePlace(model::Metres along, model::Metres across) {
    const double x = along.value;
    const double y = across.value;
    GroundPlace place;
    place.id = ownRectangle;
    place.name = model::message("rectangle");
    place.points = {{"rear_right", model::message("rectangle.rear_right"), {0.0, 0.0}},
                    {"rear_left", model::message("rectangle.rear_left"), {0.0, y}},
                    {"front_left", model::message("rectangle.front_left"), {x, y}},
                    {"front_right", model::message("rectangle.front_right"), {x, 0.0}}};
    place.lines = {{"rear", {0.0, y}, {0.0, 0.0}}, {"front", {x, y}, {x, 0.0}}};
    return place;
}

std::optional<GroundPlace> placeOf(const Pack& pack, const model::GroundMarks& marks) {
    if (marks.placeId == ownRectangle) {
        if (marks.alongM.value <= 0.0 || marks.acrossM.value <= 0.0) {
            return std::nullopt;
        }
        return rectanglePlace(marks.alongM, marks.acrossM);
    }
    const auto found = std::find_if(pack.places.begin(), pack.places.end(),
                                    [&](const auto& p) { return p.id == marks.placeId; });
    return found == pack.places.end() ? std::nullopt : std::optional(*found);
}

GroundOrReason groundOf(const Pack& pack, const model::GroundMarks& marks, int width, int height,
                        std::optional<model::View> view) {
    if (marks.placeId == knownLength) {
        return {std::nullopt, model::message("ground.only_a_length")};
    }
    const auto place = placeOf(pack, marks);
    if (!place) {
        return {std::nullopt, model::message("ground.place_not_known")};
    }
    std::vector<motion::GroundMark> known;
    for (const GroundPoint& point : place->points) {
        if (const auto mark = marks.points.find(point.id); mark != marks.points.end()) {
            known.push_back({point.at, mark->second});
        }
    }
    motion::GroundResult result =
        motion::fitGroundCamera(known, width, height, model::placedPointSd,
                                view == model::View::overhead, marks.straightEdges);
    if (!result.fit) {
        return {std::nullopt, reasonOf(*result.refusal)};
    }
    return {Ground{*place, std::move(*result.fit), marks.frame}, {}};
}

std::optional<GroundLength> lengthOnGround(const Ground& ground, model::Point2 from,
                                           model::Point2 to) {
    // Camera errors first, then those of the two clicks.
    Eigen::VectorXd start = Eigen::VectorXd::Zero(12);
    Eigen::VectorXd sds = Eigen::VectorXd::Ones(12);
    sds.tail<4>().setConstant(model::placedPointSd);
    const auto metres = [&](const Eigen::VectorXd& e) {
        const motion::GroundCamera camera = motion::changed(
            ground.fit.camera, motion::CameraChange(ground.fit.spread * e.head<8>()));
        const auto a = camera.onGround(from + model::Point2{e[8], e[9]});
        const auto b = camera.onGround(to + model::Point2{e[10], e[11]});
        return a && b ? (*b - *a).norm() : std::numeric_limits<double>::quiet_NaN();
    };
    const double value = metres(start);
    const double sd = motion::standardUncertainty(metres, start, sds, motion::nearby);
    if (!std::isfinite(value) || !std::isfinite(sd)) {
        return std::nullopt;
    }
    return GroundLength{value, sd};
}

std::optional<MetreDoubt> doubtOfAMetre(const Ground& ground, const model::GroundMarks& marks) {
    Vector2d middle = Vector2d::Zero();
    double count = 0.0;
    for (const GroundPoint& point : ground.place.points) {
        if (marks.points.contains(point.id)) {
            middle += point.at;
            count += 1.0;
        }
    }
    middle /= std::max(1.0, count);
    const auto sdOf = [&](const Vector2d& way) -> std::optional<double> {
        const auto seen = [&](const Vector2d& at) {
            return ground.fit.camera.inPicture({at.x(), at.y(), 0.0});
        };
        const auto from = seen(middle);
        const auto to = seen(middle + way);
        const auto length = from && to ? lengthOnGround(ground, *from, *to) : std::nullopt;
        return length ? std::optional(length->sd) : std::nullopt;
    };
    const auto along = sdOf(Vector2d::UnitX());
    const auto across = sdOf(Vector2d::UnitY());
    if (!along || !across) {
        return std::nullopt;
    }
    return MetreDoubt{*along, *across};
}

std::vector<SeenLine> groundGrid(const Ground& ground, model::Metres cell, int width, int height) {
    // As far as the lower corners and the middle of the picture see, but no farther than a field.
    constexpr double farthest = 30.0; // metres from the place's middle
    Vector2d middle = Vector2d::Zero();
    for (const GroundPoint& point : ground.place.points) {
        middle += point.at / static_cast<double>(ground.place.points.size());
    }
    Vector2d low = middle;
    Vector2d high = middle;
    constexpr int steps = 8;
    for (int column = 0; column <= steps; ++column) {
        for (int row = 0; row <= steps; ++row) {
            const model::Point2 px{width * static_cast<double>(column) / steps,
                                   height * static_cast<double>(row) / steps};
            if (const auto at = ground.fit.camera.onGround(px);
                at && (*at - middle).norm() < farthest) {
                low = low.cwiseMin(*at);
                high = high.cwiseMax(*at);
            }
        }
    }
    const double step = cell.value;
    const Eigen::Array2d first = (low / step).array().floor() * step;
    const Eigen::Array2d last = (high / step).array().ceil() * step;
    std::vector<SeenLine> lines;
    constexpr double rounding = 1e-6;
    for (double x = first.x(); x <= last.x() + rounding; x += step) {
        addLine(ground.fit.camera, {x, first.y()}, {x, last.y()}, lines);
    }
    for (double y = first.y(); y <= last.y() + rounding; y += step) {
        addLine(ground.fit.camera, {first.x(), y}, {last.x(), y}, lines);
    }
    return lines;
}

SeenLine groundHorizon(const Ground& ground, int width, int height) {
    const motion::GroundCamera& camera = ground.fit.camera;
    const Eigen::Vector3d forward = camera.axes.row(2);
    const double ahead = std::atan2(forward.y(), forward.x());
    constexpr double farAway = 1e6;                    // metres
    constexpr double aside = std::numbers::pi * 4 / 9; // 80° to either side
    constexpr int steps = 160;
    SeenLine line;
    bool inside = false;
    for (int i = 0; i <= steps; ++i) {
        const double heading = ahead + aside * (2.0 * i / steps - 1.0);
        const Eigen::Vector3d level(std::cos(heading), std::sin(heading), 0.0);
        if (const auto px = camera.inPicture(camera.position + farAway * level)) {
            line.push_back(*px);
            inside = inside || (px->x >= 0.0 && px->x < width && px->y >= 0.0 && px->y < height);
        }
    }
    return inside ? line : SeenLine();
}

} // namespace kestrel::technique
