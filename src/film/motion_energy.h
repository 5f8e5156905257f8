#pragma once

#include "film/block_series.h"
#include "film/film_index.h"
#include "film/picture.h"
#include "model/film_study.h"
#include "model/units.h"

#include <cstdint>
#include <vector>

namespace kestrel::film {

/// Gathers, from the frames of one pass in order, how much moves when and where, how the film is
/// exposed, and what an editor did to it. What an editor did is no movement: cuts, fades and
/// graphics laid over count for nothing.
class MotionEnergy {
  public:
    explicit MotionEnergy(const FilmIndex& index);

    void add(int frame, const GrayPicture& picture);

    /// What was found so far; all but the camera's own motion.
    [[nodiscard]] model::FilmStudy result() const;

  private:
    double sourceWidth_;
    std::vector<model::Seconds> times_; ///< in the file
    BlockSeries series_;
    GrayPicture brightest_; ///< that each pixel ever was
    double lumaSum_ = 0.0;
    std::int64_t pixels_ = 0;
    std::int64_t bright_ = 0;
    std::int64_t dark_ = 0;
};

} // namespace kestrel::film
