#include "app/compare/comparison_material.h"

#include "app/compare/pair_stage.h"
#include "app/plan/sheet_material_of.h"
#include "app/shared/text.h"
#include "report/picture_image.h"
#include "words/day_text.h"

#include <memory>

namespace kestrel::app {
namespace {

/// Pictures of the pose model, drawn when they are asked for.
report::FrameImages modelImages(std::shared_ptr<const prepare::PoseModel> model) {
    return [model = std::move(model),
            drawing = std::shared_ptr<prepare::PoseModelPictures>()](int frame) mutable {
        if (frame < 0 || frame >= model->judged.circumstances.time.frameCount()) {
            return QImage();
        }
        if (!drawing) {
            drawing = std::make_shared<prepare::PoseModelPictures>(*model);
        }
        return report::imageOf(std::make_shared<const film::Picture>(drawing->frame(frame)));
    };
}

std::optional<double> heightOf(const prepare::JudgedRep& rep) {
    const auto tall = technique::bodyHeight(*rep.pack, rep.rep, rep.circumstances.hand);
    return tall ? std::optional(tall->value) : std::nullopt;
}

} // namespace

report::ComparisonMaterial comparisonMaterialOf(const desk::OpenClip& open,
                                                const desk::Comparison& comparison,
                                                desk::FilmIndices& films, bool mirrored,
                                                bool blurFaces) {
    const prepare::JudgedRep& here = open.judged();
    const prepare::JudgedRep& there = comparison.other();
    report::ComparisonMaterial material;
    material.pack = open.pack();
    material.playerName = text(open.player().name);
    material.here = {words::dayText(here.clip.filmed), filmedRep(films, here),
                     here.circumstances.hand, heightOf(here)};
    material.there = {otherTitle(comparison, open),
                      comparison.otherIsModel()
                          ? report::FilmedRep{there.clip, there.rep, there.review.readings,
                                              modelImages(comparison.model())}
                          : filmedRep(films, there),
                      there.circumstances.hand, heightOf(there)};
    material.mirrored = mirrored;
    material.differences = coaching::ordered(material.pack, comparison.differences(),
                                             coaching::DifferenceOrder::byPosition, {});
    material.than = comparison.thanOther();
    material.faults = coaching::faultsBetween(here.review.findings, there.review.findings);
    material.blurFaces = blurFaces;
    return material;
}

report::ReviewFilm comparisonFilmOf(const report::ComparisonMaterial& material,
                                    const desk::OpenClip& open) {
    report::ReviewFilm film;
    film.time = open.circumstances().time;
    film.script = report::comparisonScript(material, film.time);
    const auto source = [](const report::ComparedRep& rep) {
        report::ReviewSource made;
        made.rep = rep.filmed.rep;
        made.readings = rep.filmed.readings;
        made.images = rep.filmed.images;
        made.title = rep.title;
        return made;
    };
    film.shown = source(material.here);
    film.beside[material.there.filmed.rep.id] = source(material.there);
    film.blurFaces = material.blurFaces;
    return film;
}

} // namespace kestrel::app
