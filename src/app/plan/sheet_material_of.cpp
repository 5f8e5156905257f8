#include "app/plan/sheet_material_of.h"

#include "film/film_index.h"
#include "prepare/circumstances.h"

#include <QDate>

#include <memory>

namespace kestrel::app {
namespace {

/// Pictures of a film that is opened when the first of them is asked for.
report::FrameImages lazyImages(const std::filesystem::path& file, const model::Clip& clip) {
    struct Opened {
        report::FrameImages images;
    };
    return [opened = std::make_shared<Opened>(), file, clip](int frame) {
        if (!opened->images) {
            opened->images =
                report::filmImages(prepare::readAsTheClipSays(clip, film::buildIndex(file)));
        }
        return opened->images(frame);
    };
}

} // namespace

report::FilmedRep filmedRep(const Session& session, const model::Clip& clip,
                            const model::Rep& rep) {
    report::FilmedRep filmed{clip, rep, {}, {}};
    if (rep.id == session.rep().id) {
        filmed.readings = session.review().readings;
        filmed.images = report::filmImages(session.index());
    } else {
        filmed.readings = session.judged(session.player(), clip, rep).readings;
        filmed.images = lazyImages(session.library().clipFile(clip), clip);
    }
    return filmed;
}

std::optional<std::pair<model::Clip, model::Rep>> repBefore(const Session& session) {
    const auto askBack = session.askBack();
    if (!askBack) {
        return std::nullopt;
    }
    for (auto& [clip, rep] : session.repsOf(askBack->visit)) {
        for (const auto& [position, frame] : model::allPositions(rep)) {
            if (model::frameOf(session.rep(), position) && clip.view == session.clip().view) {
                return std::pair(clip, rep);
            }
        }
    }
    return std::nullopt;
}

report::SheetMaterial sheetMaterialOf(const Session& session, bool blurFaces) {
    const model::VisitKey visit = session.visit();
    report::SheetMaterial material{
        session.pack(),
        session.drills(),
        session.player(),
        filmedRep(session, session.clip(), session.rep()),
        session.circumstances(),
        session.doseAge(),
        session.visitReview(),
        session.judgedReps(visit),
        session.planChoice(),
        session.library().homework(visit),
        session.library().planWish(visit).value_or(model::PlanWish()).nextVisit,
        std::nullopt,
        session.askBack(),
        QDate::currentDate().toString(Qt::ISODate).toStdString(),
        blurFaces};
    if (const auto before = repBefore(session)) {
        material.earlier = filmedRep(session, before->first, before->second);
    }
    return material;
}

} // namespace kestrel::app
