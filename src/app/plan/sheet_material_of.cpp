#include "app/plan/sheet_material_of.h"

#include "prepare/circumstances.h"
#include "report/film_images.h"

namespace kestrel::app {

report::FilmedRep filmedRep(desk::FilmIndices& films, const prepare::JudgedRep& judged) {
    report::FilmedRep filmed{judged.clip, judged.rep, judged.review.readings, {}};
    const prepare::KnownFilm film = films.of(judged.clip);
    if (const auto* index = std::get_if<const film::FilmIndex*>(&film)) {
        filmed.images = report::filmImages(prepare::readAsTheClipSays(judged.clip, **index));
    } else {
        filmed.images = [](int) { return QImage(); }; // a sheet without pictures is still a sheet
    }
    return filmed;
}

std::shared_ptr<const prepare::JudgedRep> repBefore(const desk::OpenClip& open,
                                                    const desk::OpenVisit& visit) {
    for (const auto& judged : visit.repsBefore()) {
        if (judged->notJudged || judged->clip.view != open.clip().view) {
            continue;
        }
        for (const auto& [position, frame] : model::allPositions(judged->rep)) {
            if (model::frameOf(open.rep(), position)) {
                return judged;
            }
        }
    }
    return nullptr;
}

report::SheetMaterial sheetMaterialOf(const records::Library& library, const desk::Shelf& shelf,
                                      desk::FilmIndices& films, const desk::OpenClip& open,
                                      const desk::OpenVisit& visit, model::Day today,
                                      bool blurFaces) {
    const model::VisitKey key = visit.key();
    report::SheetMaterial material{open.pack(),
                                   shelf.drills(),
                                   open.player(),
                                   filmedRep(films, open.judged()),
                                   open.circumstances(),
                                   visit.doseAge(),
                                   visit.review(),
                                   desk::judgedOf(visit.reps()),
                                   visit.choice(),
                                   library.homework(key),
                                   library.planWish(key).value_or(model::PlanWish()).nextVisit,
                                   std::nullopt,
                                   visit.askBack(),
                                   today,
                                   blurFaces};
    if (const auto before = repBefore(open, visit)) {
        material.earlier = filmedRep(films, *before);
    }
    return material;
}

} // namespace kestrel::app
