#include "support/judged_player.h"

#include "support/test_films.h"
#include "synth/motion_sheet.h"
#include "synth/placed_by_hand.h"
#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <random>

namespace kestrel::support {

synth::FilmSpec skilled(const technique::Pack& pack, model::View view, model::Hand hand,
                        const std::string& variant) {
    synth::FilmSpec spec;
    spec.player.technique = pack.id;
    spec.player.hand = hand;
    if (synth::loadMotionSheet(pack.id).variants.contains(variant)) {
        spec.player.variant = variant;
    }
    spec.width = 1920;
    spec.height = 1080;
    spec.captureRate = pack.filming.goodRate;
    spec.fileRate = {static_cast<int>(pack.filming.goodRate), 1};
    spec.camera.view = view;
    spec.camera.heightM = 1.4;
    return spec;
}

Judged judged(const technique::Pack& pack, const synth::FilmSpec& spec, const std::string& school) {
    const synth::FilmScene scene(spec);
    model::Rep rep;
    rep.techniqueId = pack.id;
    rep.positions = synth::truePositions(scene);
    rep.landmarks = synth::trueLandmarks(scene);
    rep.bodyTurns = synth::trueTurns(scene);
    // Placed by a careful hand: what cannot be off by nothing.
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.sdPx = 1.0;
        }
    }
    technique::Circumstances c = openSide(spec);
    c.view = spec.camera.view;
    c.ageYears = 15;
    c.bodyHeight = model::Metres(spec.player.build.heightM);
    c.variant = spec.player.variant;
    if (technique::findSchool(pack, spec.player.variant) != nullptr) {
        c.schools.insert(spec.player.variant); // a stance or motion that is a school
    }
    if (!school.empty()) {
        c.schools = {school};
    }
    std::mt19937 exact;
    const model::GroundMarks cones =
        synth::cones(scene, model::Metres(2.4), model::Metres(2.0), -0.8, -1.0, 0.0, exact);
    c.ground = technique::groundOf(pack, cones, spec.width, spec.height, spec.camera.view).ground;
    Judged j;
    j.readings = technique::evaluate(pack, rep, c);
    j.truth = synth::trueMeasures(scene);
    j.findings = coaching::findingsOf(pack, j.readings, {}, c.schools);
    j.schools = c.schools;
    return j;
}

std::set<model::View> viewsOf(const technique::Pack& pack,
                              const technique::FaultDefinition& fault) {
    std::set<model::View> views;
    for (const technique::Sign& sign : fault.signs) {
        if (const technique::Measure* m = technique::findMeasure(pack, sign.measure)) {
            views.insert(m->views.begin(), m->views.end());
        }
    }
    if (views.empty()) {
        views.insert(pack.filming.view); // times
    }
    return views;
}

} // namespace kestrel::support
