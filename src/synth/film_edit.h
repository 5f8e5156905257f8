#pragma once

#include "model/film_study.h"
#include "synth/film_render.h"

#include <filesystem>
#include <functional>
#include <utility>
#include <vector>

/// Films as people pass them on: cut from several shots, faded, held, drawn on, recorded from a
/// screen.
namespace kestrel::synth {

/// A frame of an edited film.
struct EditedFrame {
    int shot = 0; ///< which of FilmEdit::shots
    int take =
        0; ///< frame of that shot; before its first and after its last the player stands still
    double light = 1.0; ///< 0 black, 1 as filmed
    bool held = false;  ///< the same picture as the frame before
};

/// What an editor lays over a film.
enum class Graphic { turningLogo, scoreLine, arrow };

struct LaidOver {
    Graphic graphic = Graphic::scoreLine;
    model::PixelBox box;
    model::FrameSpan frames; ///< of the edited film
};

struct FilmEdit {
    std::vector<FilmSpec> shots; ///< of the same size and rates
    std::vector<EditedFrame> frames;
    std::vector<LaidOver> graphics;
    int barPx = 0; ///< width of black bars at both sides, over the picture
};

/// Called with frames done and frames in all; returning false cancels.
using FrameProgress = std::function<bool(int done, int all)>;

// Each of these adds frames at the end of the film.

/// Frames `first` to `last` of a shot.
void play(FilmEdit& edit, int shot, int first, int last);
/// All of a shot with the player standing still for so many frames before and after.
void playWhole(FilmEdit& edit, int shot, int still);
/// The last picture for so many frames more.
void hold(FilmEdit& edit, int count);
void dark(FilmEdit& edit, int count);

/// Dims the last frames of the film down to black.
void fadeOut(FilmEdit& edit, int count);
/// Lights up the film from black from its frame `from` on.
void fadeIn(FilmEdit& edit, int from, int count);
/// Only every so many frames there is a new picture, as in the recording of a screen.
void repeatPictures(FilmEdit& edit, int every);

/// Renders an edited film; the ending names the container and the usual codec of it. Returns
/// false, leaving no file, when cancelled. Throws std::runtime_error when the file cannot be
/// written.
bool renderEdit(const FilmEdit& edit, const std::filesystem::path& file,
                const FrameProgress& progress = {});

/// Several reps one after the other in one film, with the player standing still for a while before
/// and after each; the film cuts from one to the next.
struct Reel {
    std::vector<FilmSpec> reps; ///< of the same size and rates
    double stillS = 0.0;        ///< seconds of standing still at both ends of each
};

/// First and last frame of each rep in the film, standing still left out.
std::vector<std::pair<int, int>> framesOfReps(const Reel& reel);

/// Renders a reel to a film. As renderEdit.
bool renderReel(const Reel& reel, const std::filesystem::path& file,
                const FrameProgress& progress = {});

/// Renders one film. As renderEdit.
bool renderFilm(const FrameRenderer& renderer, const std::filesystem::path& file,
                const FrameProgress& progress = {});

} // namespace kestrel::synth
