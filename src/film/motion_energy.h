#pragma once

#include "film/film_index.h"
#include "film/picture.h"
#include "model/film_study.h"

#include <cstdint>
#include <vector>

namespace kestrel::film {

/// Gathers, from the frames of one pass in order, how much moves when and where, and how the film
/// is exposed.
class MotionEnergy {
  public:
    explicit MotionEnergy(const FilmIndex& index);

    void add(int frame, const GrayPicture& picture);

    /// What was found so far; all but the camera's own motion.
    [[nodiscard]] model::FilmStudy result() const;

  private:
    int frameCount_;
    double sourceWidth_;
    GrayPicture before_;
    std::vector<float> energy_;
    std::vector<float> moved_; ///< for each pixel, how much it changed in all
    double lumaSum_ = 0.0;
    std::int64_t pixels_ = 0;
    std::int64_t bright_ = 0;
    std::int64_t dark_ = 0;
};

} // namespace kestrel::film
