#pragma once

#include "film/picture.h"
#include "model/units.h"

#include <memory>
#include <optional>
#include <vector>

/// How points move from one picture to the next.
namespace kestrel::track {

/// The way of one point from a picture to the one after.
struct Flow {
    model::Point2 shift;
    double backAndForthPx = 0.0; ///< how far the point ends from its start when followed back
};

/// Pyramidal Lucas–Kanade (Bouguet 2000) between successive pictures, there and back. Keeps the
/// pyramid of the last picture, so that each is made once.
class FlowTracker {
  public:
    /// `reachPx` is about the farthest a point may go between two pictures, source pixels.
    explicit FlowTracker(double reachPx);
    ~FlowTracker();
    FlowTracker(FlowTracker&&) noexcept;
    FlowTracker& operator=(FlowTracker&&) noexcept;

    /// Takes the next picture and says how `points` of the picture before moved to it; nothing
    /// where a point was lost. All nothing for the first picture.
    std::vector<std::optional<Flow>> next(const film::Picture& picture,
                                          const std::vector<model::Point2>& points);

  private:
    struct State;
    std::unique_ptr<State> state_;
};

} // namespace kestrel::track
