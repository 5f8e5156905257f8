#pragma once

#include "demo/figure.h"
#include "demo/pitch_motion.h"
#include "film/picture.h"
#include "model/units.h"

#include <cstdint>
#include <filesystem>
#include <functional>
#include <utility>
#include <vector>

/// The synthetic player filmed: motion blur over the exposure, sensor noise, H.264.
namespace kestrel::demo {

struct FilmSpec {
    PitcherSpec pitcher;
    Outfit outfit;
    int width = 1280;
    int height = 720;
    double distanceM = 12.0;
    double bodyFraction = 0.62;       ///< standing height over picture height
    double captureRate = 120.0;       ///< frames a second on the field
    model::Rational fileRate{120, 1}; ///< frames a second of the file
    double exposureS = 1.0 / 500.0;
    double noise = 2.0;                ///< standard deviation of sensor noise, 8-bit steps
    int quality = 23;                  ///< see film::VideoWriter
    double fromS = PitchMotion::begin; ///< first frame, seconds from release
    double toS = PitchMotion::end;     ///< no frame after this
};

/// The camera of that film.
Camera cameraOf(const FilmSpec& spec);

int frameCount(const FilmSpec& spec);

/// Middle of the exposure of a frame, in seconds from release.
double frameTime(const FilmSpec& spec, int frame);

/// Renders single frames; keeps the field between them. Safe to use from several threads.
class FrameRenderer {
  public:
    explicit FrameRenderer(const FilmSpec& spec);

    [[nodiscard]] film::Picture frame(int number) const { return frame(number, number); }
    /// The same moment with other sensor noise, for a player who stands still.
    [[nodiscard]] film::Picture frame(int number, int grain) const;
    [[nodiscard]] const PitchMotion& motion() const { return motion_; }
    [[nodiscard]] const Camera& camera() const { return camera_; }

  private:
    FilmSpec spec_;
    PitchMotion motion_;
    Camera camera_;
    Light light_;
    std::vector<Colour> field_;      ///< linear light
    std::vector<Colour> fieldSteps_; ///< the same in 8-bit sRGB steps, not rounded
};

/// Called with frames done and frames in all; returning false cancels.
using FrameProgress = std::function<bool(int done, int all)>;

/// Several pitches one after the other in one film, with the player standing still for a while
/// before and after each; the film cuts from one to the next.
struct Reel {
    std::vector<FilmSpec> pitches; ///< of the same size and rates
    double stillS = 0.0;           ///< seconds of standing still at both ends of each
};

/// First and last frame of each pitch in the film, standing still left out.
std::vector<std::pair<int, int>> framesOfPitches(const Reel& reel);

/// Renders a reel to an H.264 MP4. As renderFilm.
bool renderReel(const Reel& reel, const std::filesystem::path& file,
                const FrameProgress& progress = {});

/// Renders the whole film to an H.264 MP4. Returns false, leaving no file, when cancelled. Throws
/// std::runtime_error when the file cannot be written.
bool renderFilm(const FilmSpec& spec, const std::filesystem::path& file,
                const FrameProgress& progress = {});

} // namespace kestrel::demo
