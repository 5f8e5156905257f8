#pragma once

#include "film/picture.h"
#include "model/units.h"
#include "synth/camera.h"
#include "synth/figure.h"
#include "synth/place.h"
#include "synth/player_motion.h"

#include <bitset>
#include <cstdint>
#include <optional>
#include <vector>

/// The synthetic player filmed: motion blur over the exposure, sensor noise.
namespace kestrel::synth {

struct FilmSpec {
    PlayerSpec player;
    Outfit outfit;
    CameraSpec camera;
    std::string place; ///< empty for that of the motion sheet
    int width = 1280;
    int height = 720;
    double captureRate = 120.0;       ///< frames a second on the field
    model::Rational fileRate{120, 1}; ///< frames a second of the file
    double exposureS = 1.0 / 500.0;
    double brightness = 1.0;     ///< 1 for a well-exposed film
    bool interlaced = false;     ///< two fields a frame, top field first, half a frame apart
    double noise = 2.0;          ///< standard deviation of sensor noise, 8-bit steps
    int quality = 23;            ///< see film::VideoWriter
    bool nettingInFront = false; ///< filmed through a net
    bool passerBy = false;       ///< somebody walks between camera and player
    int bystanders = 0;          ///< people standing behind
    std::optional<double>
        fromS; ///< first frame, seconds from the anchor; empty for the motion's begin
    std::optional<double> toS; ///< no frame after this; empty for the motion's end
};

/// A film's motion and camera without its pictures, for all that needs truth only.
class FilmScene {
  public:
    /// Throws as PlayerMotion.
    explicit FilmScene(const FilmSpec& spec);

    /// Films the same motion from elsewhere.
    void refilm(const CameraSpec& camera, double captureRate);

    [[nodiscard]] const FilmSpec& spec() const { return spec_; }
    [[nodiscard]] const PlayerMotion& motion() const { return motion_; }
    [[nodiscard]] int frameCount() const;
    /// Middle of the exposure of a frame, in seconds from the anchor; of an interlaced one, of its
    /// first field.
    [[nodiscard]] double frameTime(int frame) const;
    [[nodiscard]] double firstTime() const { return from_; }
    /// The frame nearest to a time.
    [[nodiscard]] int frameAt(double time) const;
    [[nodiscard]] Camera camera(double time) const;
    /// The same without shake and pan.
    [[nodiscard]] Camera steadyCamera() const;
    /// Whether camera() changes with time.
    [[nodiscard]] bool cameraMoves() const {
        return spec_.camera.shakePx > 0.0 || spec_.camera.pans;
    }

  private:
    FilmSpec spec_;
    PlayerMotion motion_;
    double from_;
    double to_;
    Vector middle_;
};

/// Renders single frames; keeps the place between them. Safe to use from several threads.
class FrameRenderer {
  public:
    explicit FrameRenderer(const FilmSpec& spec);

    [[nodiscard]] film::Picture frame(int number) const;
    /// The light that falls on the film at a frame, pixel by pixel, linear.
    [[nodiscard]] std::vector<Colour> light(int number) const;
    /// That light as a picture; `grain` chooses the sensor noise.
    [[nodiscard]] film::Picture picture(const std::vector<Colour>& light, int grain) const;
    /// Which landmarks cannot be seen at the middle of a frame's exposure because something is
    /// before them or they are outside the picture.
    [[nodiscard]] std::bitset<Pose::count> hidden(int number) const;
    [[nodiscard]] const FilmScene& scene() const { return scene_; }

  private:
    struct Background {
        Camera camera;
        std::vector<Colour> light;   ///< linear
        std::vector<float> nearness; ///< of solid things, 0 where there are none
    };
    /// The background as one frame sees it.
    struct Backdrop {
        std::vector<Colour> light;
        std::vector<float> nearness;
    };

    void paintBackground();
    [[nodiscard]] Backdrop backdrop(const Camera& camera) const;
    [[nodiscard]] std::vector<Mesh> meshesAt(double time) const;
    [[nodiscard]] std::vector<Colour> exposed(double time) const;
    void netOver(std::vector<Colour>& light) const;

    FilmScene scene_;
    Place place_;
    std::optional<PlayerMotion> walker_;
    Background background_;
    Backdrop still_; ///< of a camera that does not move
};

} // namespace kestrel::synth
