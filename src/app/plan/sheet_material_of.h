#pragma once

#include "desk/film_indices.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/shelf.h"
#include "report/sheet_material.h"

namespace kestrel::app {

/// What the sheets of the open clip's visit are made from. The films are opened when the first
/// picture is asked for, so that this is quick. Call it on the interface thread.
report::SheetMaterial sheetMaterialOf(const records::Library& library, const desk::Shelf& shelf,
                                      desk::FilmIndices& films, const desk::OpenClip& open,
                                      const desk::OpenVisit& visit, model::Day today,
                                      bool blurFaces);

/// A judged rep with pictures of its film, which is opened when the first picture is asked for.
report::FilmedRep filmedRep(desk::FilmIndices& films, const prepare::JudgedRep& judged);

/// The rep of the visit before that shows a position the open rep has too; null when there is none.
std::shared_ptr<const prepare::JudgedRep> repBefore(const desk::OpenClip& open,
                                                    const desk::OpenVisit& visit);

} // namespace kestrel::app
