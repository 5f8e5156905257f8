#pragma once

#include "technique/judge/film_check.h"

#include <optional>
#include <string>
#include <vector>

/// The film check in words, the same on the Film station and the command line.
namespace kestrel::technique {

/// What the first pass over a film found, as far as the words need it.
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
    std::string text; ///< what is so and what it costs
};

/// One remark each on the player's size, the frames, the blur, the light and the camera's
/// steadiness, as far as they are known; `picture` unset while the film is still being looked at.
std::vector<FilmRemark> filmRemarks(const Pack& pack, const FilmFacts& facts,
                                    const std::optional<PictureFacts>& picture);

/// "1/1000 s"; times of half a second and more as "0.5 s".
std::string shutterText(double seconds);

} // namespace kestrel::technique
