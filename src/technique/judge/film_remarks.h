#pragma once

#include "model/film_study.h"
#include "model/units.h"
#include "technique/judge/film_check.h"

#include <optional>
#include <vector>

/// What the film check has to say of a film.
namespace kestrel::technique {

/// What an editor did to a film.
struct EditFacts {
    int cuts = 0;
    int dark = 0;       ///< stretches, fades among them
    int held = 0;       ///< stretches of one picture
    double heldS = 0.0; ///< seconds of the file in these
    int graphics = 0;
    double bars = 0.0;     ///< share of the picture that black bars fill
    double repeated = 0.0; ///< share of frames that show the one before again; 0: hardly any
    double fileRate = 0.0; ///< frames a second of the file

    friend bool operator==(const EditFacts&, const EditFacts&) = default;
};

/// `times` are those of the frames in the file.
EditFacts editFacts(const model::FilmStudy& study, const std::vector<model::Seconds>& times,
                    int width, int height);

/// What the first pass over a film found, as far as the remarks need it.
struct PictureFacts {
    double brightness = 0.5; ///< mean luma, 0 to 1
    double tooBright = 0.0;  ///< share of the picture without detail
    double tooDark = 0.0;
    bool cameraFollowed = false; ///< the background showed enough to tell how the camera moved
    double shakePx = 0.0;
    double driftPx = 0.0;
    EditFacts edits;
};

struct FilmRemark {
    enum class Grade { good, mind, poor };
    Grade grade = Grade::good;
    model::Message says; ///< what is so and what it costs
};

/// One remark each on the player's size, the frames, the blur, the light, the camera's steadiness
/// and what an editor did, as far as they are known; `picture` unset while the film is still being
/// looked at.
std::vector<FilmRemark> filmRemarks(const Pack& pack, const FilmFacts& facts,
                                    const std::optional<PictureFacts>& picture);

/// An exposure as cameras have it, no longer than `seconds`: “1/1000 s”; from half a second on as
/// it is.
model::Message nameOfShutter(double seconds);

} // namespace kestrel::technique
