#include "support/test_films.h"

#include <algorithm>
#include <stdexcept>

namespace kestrel::support {
namespace {

demo::FilmSpec smallSpec(model::Hand hand, const demo::PitchDials& dials) {
    demo::FilmSpec spec;
    spec.pitcher.heightM = 1.58;
    spec.pitcher.hand = hand;
    spec.pitcher.dials = dials;
    spec.width = 640;
    spec.height = 360;
    spec.bodyFraction = 0.6;
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
    static const TestFilm film{
        "faulty", smallSpec(model::Hand::right,
                            {.lateArmMs = 70.0, .backLegDropBh = 0.06, .uprightFinishDeg = 24.0})};
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

coaching::DrillLibrary drills() {
    return coaching::loadDrills(KESTREL_PACKS);
}

model::Rep trueRep(const demo::FilmSpec& spec) {
    model::Rep rep;
    rep.techniqueId = "overhand_pitch";
    rep.positions = demo::truePositions(spec);
    rep.landmarks = demo::trueLandmarks(spec);
    return rep;
}

technique::Circumstances openSide(const demo::FilmSpec& spec) {
    technique::Circumstances c;
    c.hand = spec.pitcher.hand;
    c.view = model::View::openSide;
    c.ageYears = 12;
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < demo::frameCount(spec); ++frame) {
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
