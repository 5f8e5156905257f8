#include "support/test_films.h"

#include <algorithm>
#include <stdexcept>

namespace kestrel::support {
namespace {

synth::FilmSpec smallSpec(model::Hand hand, const std::map<std::string, double>& dials) {
    synth::FilmSpec spec;
    spec.player.build.heightM = 1.58;
    spec.player.hand = hand;
    spec.player.dials = dials;
    spec.width = 640;
    spec.height = 360;
    spec.camera.bodyFraction = 0.6;
    return spec;
}

} // namespace

const TestFilm& rightHander() {
    static const TestFilm film{"right", smallSpec(model::Hand::right, {})};
    return film;
}

const TestFilm& leftHander() {
    static const TestFilm film{"left", smallSpec(model::Hand::left, {})};
    return film;
}

const TestFilm& faulty() {
    static const TestFilm film{"faulty", smallSpec(model::Hand::right, {{"late_arm", 70.0},
                                                                        {"back_leg_collapse", 0.06},
                                                                        {"upright_finish", 24.0}})};
    return film;
}

std::vector<TestFilm> allFilms() {
    return {rightHander(), leftHander(), faulty()};
}

std::filesystem::path filmFile(const TestFilm& film) {
    return std::filesystem::path(KESTREL_TEST_FILMS) / (film.stem + ".mp4");
}

technique::Pack pitchPack() {
    const std::filesystem::path packs = KESTREL_PACKS;
    return technique::loadPack(packs / "techniques" / "overhand_pitch.json",
                               packs / "schema" / "technique.schema.json");
}

std::vector<technique::Pack> shippedPacks() {
    return technique::loadPacks(KESTREL_PACKS);
}

coaching::DrillLibrary drills() {
    return coaching::loadDrills(KESTREL_PACKS);
}

model::Rep trueRep(const synth::FilmSpec& spec) {
    model::Rep rep;
    rep.techniqueId = spec.player.technique;
    const synth::FilmScene scene(spec);
    rep.positions = synth::truePositions(scene);
    rep.landmarks = synth::trueLandmarks(scene);
    return rep;
}

technique::Circumstances openSide(const synth::FilmSpec& spec) {
    technique::Circumstances c;
    c.hand = spec.player.hand;
    c.view = model::View::openSide;
    c.ageYears = 12;
    std::vector<model::Seconds> times;
    const int frames = synth::FilmScene(spec).frameCount();
    for (int frame = 0; frame < frames; ++frame) {
        times.emplace_back(frame / spec.fileRate.toDouble());
    }
    c.time = model::ClipTime(std::move(times),
                             model::slowdown(spec.fileRate.toDouble(), spec.captureRate));
    return c;
}

const model::Reading& reading(const std::vector<model::Reading>& readings, const std::string& id) {
    const auto found = std::find_if(readings.begin(), readings.end(),
                                    [&](const model::Reading& r) { return r.measureId == id; });
    if (found == readings.end()) {
        throw std::logic_error("no measure " + id);
    }
    return *found;
}

} // namespace kestrel::support
