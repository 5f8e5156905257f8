#pragma once

#include "film/block_series.h"
#include "model/film_study.h"

#include <optional>
#include <vector>

/// Graphics that somebody laid over a film: lines of text, arrows, turning logos. They are seen
/// where they come or go from one frame to the next; one that stays throughout harms nothing and is
/// not looked for.
namespace kestrel::film {

/// Whether a frame lies in any of the breaks.
bool isIn(const std::vector<model::FilmBreak>& breaks, std::size_t frame);

/// How a part of the picture changes from one frame to the next while what is around stays.
struct GraphicStep {
    int frame = 0;      ///< the first after it
    bool comes = false; ///< the graphic is there from then on; else it was until then
    std::vector<std::size_t> blocks;
};

/// All such steps outside of dark stretches, in order. A player who stands otherwise after a cut is
/// none: there something moves next.
std::vector<GraphicStep> graphicSteps(const BlockSeries& series,
                                      const std::vector<model::FilmBreak>& dark);

/// What the steps put together, boxes in pixels of the source, `scale` of them to one of the
/// pictures in `series`.
std::vector<model::GraphicSeen> findGraphics(const BlockSeries& series,
                                             const std::vector<GraphicStep>& steps, double scale);

/// The picture without the black bars at its edges, from the brightest that each of its pixels ever
/// was; pixels of that picture. Nothing where there are none.
std::optional<model::PixelBox> insideBars(const GrayPicture& brightest);

} // namespace kestrel::film
