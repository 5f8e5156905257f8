#include "technique/kinds/courses.h"

#include "technique/pack/roles.h"

#include <algorithm>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::Point2;

/// Of the frames of the stretch, the share that may lack a landmark.
constexpr double mayLack = 0.25;

model::Message nameOf(const PointExpression& point) {
    if (point.isCentreOfMass) {
        return model::message("centre_of_mass");
    }
    std::vector<model::Message> parts;
    for (const auto& [roleName, weight] : point.terms) {
        parts.push_back(nameOfRole(roleName));
    }
    return model::listOf("list.and", std::move(parts));
}

} // namespace

model::Message stretchBetween(const Pack& pack, const std::string& from, const std::string& at) {
    return model::message("stretch", findPosition(pack, from)->name, findPosition(pack, at)->name);
}

double Courses::timeOf(int frame) const {
    return c_.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
}

motion::TimeSpan Courses::stretch(const std::string& from, model::Seconds fromAfter,
                                  const std::string& at, model::Seconds atAfter) const {
    return {timeOf(*model::frameOf(rep_, from)) + fromAfter.value,
            timeOf(*model::frameOf(rep_, at)) + atAfter.value};
}

CoursePoint Courses::seen(const PointExpression& point, motion::TimeSpan within) const {
    CoursePoint course;
    course.name = nameOf(point);
    bool allPlaced = true;
    for (int frame = 0; frame < c_.time.frameCount(); ++frame) {
        if (timeOf(frame) < within.from || timeOf(frame) > within.to) {
            continue;
        }
        Point2 px;
        double square = 0.0;
        bool whole = true;
        bool placed = true;
        for (const auto& [roleName, weight] : point.terms) {
            const auto landmark = landmarkForRole(pack_, roleName, c_.hand);
            const model::LandmarkPoint* at =
                landmark ? model::find(rep_.landmarks, frame, *landmark) : nullptr;
            if (at == nullptr || at->hidden) {
                whole = false;
                break;
            }
            px = px + at->px * weight;
            square += std::pow(weight * at->sdPx, 2);
            placed = placed && at->source == model::Source::placed;
        }
        if (!whole || square <= 0.0) {
            continue;
        }
        if (frame < static_cast<int>(c_.camera.size())) {
            const model::CameraPose& pose = c_.camera[static_cast<std::size_t>(frame)];
            px = carriedToFirst(pose, px);
            square += pose.sdPx * pose.sdPx;
        }
        course.places.push_back({timeOf(frame), px, std::sqrt(square)});
        allPlaced = allPlaced && placed;
    }
    course.scatter = allPlaced ? motion::Scatter::stated : motion::Scatter::seen;
    return course;
}

std::optional<CoursePoint> Courses::pointIn(const PointExpression& point, motion::TimeSpan within,
                                            const model::Message& stretch,
                                            model::Message& refusal) const {
    CoursePoint course = seen(point, {within.from - courseBeyond, within.to + courseBeyond});
    const auto inside = [&](double time) { return time >= within.from && time <= within.to; };
    const auto& times = c_.time.fieldTimes();
    const auto frames =
        std::count_if(times.begin(), times.end(), [&](const auto& t) { return inside(t.value); });
    const auto with = std::count_if(course.places.begin(), course.places.end(),
                                    [&](const auto& p) { return inside(p.time); });
    if (course.places.size() < fewestInCourse ||
        static_cast<double>(with) < (1.0 - mayLack) * static_cast<double>(frames)) {
        refusal = model::message("course.too_few_frames", course.name, with, frames, stretch);
        return std::nullopt;
    }
    return course;
}

} // namespace kestrel::technique
