#include "track/camera/film_study.h"

#include "film/gray_pass.h"
#include "film/motion_energy.h"
#include "track/camera/camera_motion.h"

namespace kestrel::track {

std::optional<model::FilmStudy> studyFilm(const film::FilmIndex& index,
                                          const StudyProgress& progress) {
    constexpr int width = 480; // enough for corners to half a pixel of it; a tenth of 4K's pixels
    film::MotionEnergy energy(index);
    CameraMotionTracker camera(index.frameCount(), index.width);
    const bool whole =
        film::forEachGray(index, width, [&](int frame, const film::GrayPicture& picture) {
            energy.add(frame, picture);
            camera.add(frame, picture);
            return !progress || progress(frame);
        });
    if (!whole) {
        return std::nullopt;
    }
    model::FilmStudy study = energy.result();
    study.camera = camera.result();
    return study;
}

} // namespace kestrel::track
