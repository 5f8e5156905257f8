#pragma once

#include "technique/judge/film_check.h"

#include <optional>
#include <vector>

/// What the film check has to say of a film.
namespace kestrel::technique {

/// What the first pass over a film found, as far as the remarks need it.
struct PictureFacts {
    double brightness = 0.5; ///< mean luma, 0 to 1
    double tooBright = 0.0;  ///< share of the picture without detail
    double tooDark = 0.0;
    bool cameraFollowed = false; ///< the background showed enough to tell how the camera moved
    double shakePx = 0.0;
    double driftPx = 0.0;
};

struct FilmRemark {
    enum class Grade { good, mind, poor };
    Grade grade = Grade::good;
    model::Message says; ///< what is so and what it costs
};

/// One remark each on the player's size, the frames, the blur, the light and the camera's
/// steadiness, as far as they are known; `picture` unset while the film is still being looked at.
std::vector<FilmRemark> filmRemarks(const Pack& pack, const FilmFacts& facts,
                                    const std::optional<PictureFacts>& picture);

/// An exposure as cameras have it, no longer than `seconds`: “1/1000 s”; from half a second on as
/// it is.
model::Message nameOfShutter(double seconds);

} // namespace kestrel::technique
