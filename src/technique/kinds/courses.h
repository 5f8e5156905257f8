#pragma once

#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <cstddef>
#include <optional>
#include <string>

/// Where points of the body were seen from frame to frame. Only within this room.
namespace kestrel::technique {

/// A course is followed so much before and after the stretch it is read in, seconds: smoothing
/// needs to see what comes there.
inline constexpr double courseBeyond = 0.12;

/// Frames with the point, else nothing can be smoothed.
inline constexpr std::size_t fewestInCourse = 7;

/// “Foot plant to Release”.
model::Message stretchBetween(const Pack& pack, const std::string& from, const std::string& at);

class Courses {
  public:
    /// All three must outlive this.
    Courses(const Pack& pack, const model::Rep& rep, const Circumstances& circumstances)
        : pack_(pack), rep_(rep), c_(circumstances) {}

    [[nodiscard]] const Pack& pack() const { return pack_; }
    [[nodiscard]] const model::Rep& rep() const { return rep_; }
    [[nodiscard]] const Circumstances& circumstances() const { return c_; }

    /// Seconds on the field.
    [[nodiscard]] double timeOf(int frame) const;

    /// The stretch between two positions that are set, each so much later.
    [[nodiscard]] motion::TimeSpan stretch(const std::string& from, model::Seconds fromAfter,
                                           const std::string& at, model::Seconds atAfter) const;

    /// The point in the frames of `within` and a little beyond, in the first frame's picture where
    /// the camera moved. Nothing, with `refusal` saying why, when too few frames have it; `stretch`
    /// names the stretch in it, see stretchBetween().
    [[nodiscard]] std::optional<CoursePoint> pointIn(const PointExpression& point,
                                                     motion::TimeSpan within,
                                                     const model::Message& stretch,
                                                     model::Message& refusal) const;

  private:
    [[nodiscard]] CoursePoint seen(const PointExpression& point, motion::TimeSpan within) const;

    const Pack& pack_;
    const model::Rep& rep_;
    const Circumstances& c_;
};

} // namespace kestrel::technique
