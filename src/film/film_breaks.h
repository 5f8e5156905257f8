#pragma once

#include "film/block_series.h"
#include "film/graphics.h"
#include "model/film_study.h"
#include "model/units.h"

#include <vector>

/// What tells an edited film from one take: cuts, fades, held and repeated pictures.
namespace kestrel::film {

/// Stretches of one colour, with the frames that fade into and out of them.
std::vector<model::FilmBreak> darkStretches(const BlockSeries& series);

/// Cuts, dark and held stretches in order and without overlap; `times` are those of the frames in
/// the file. At `graphics` the film goes on. A player who stands stock still is no held picture:
/// one is entered out of movement from one frame to the next, or lies between two other breaks.
std::vector<model::FilmBreak> findBreaks(const BlockSeries& series,
                                         const std::vector<model::Seconds>& times,
                                         const std::vector<model::FilmBreak>& dark,
                                         const std::vector<GraphicStep>& graphics);

/// Whether a frame, where things move, changes so little that it shows the one before once more.
bool isRepeated(const BlockSeries& series, std::size_t frame);

/// Share of the frames in which something moves that show the picture before once more, as
/// recordings of a screen and slow replays do.
double repeatedShare(const BlockSeries& series, const std::vector<model::FilmBreak>& breaks);

} // namespace kestrel::film
