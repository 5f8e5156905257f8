#include "study/pack_reading_study.h"

#include "body/fit.h"
#include "synth/truth.h"
#include "technique/judge/evaluate.h"
#include "technique/kinds/measure_kind.h"

#include <algorithm>
#include <cmath>
#include <memory>

namespace kestrel::study {
namespace {

/// The landmarks of the frames that were seen, as a rep keeps them.
model::LandmarkTrack asTrack(const body::SeenRep& seen, const synth::FilmScene& scene) {
    model::LandmarkTrack track;
    for (const body::SeenInstant& instant : seen.instants) {
        model::FrameLandmarks& frame = track[scene.frameAt(instant.time.value)];
        for (const auto& [landmark, point] : instant.points) {
            frame[landmark] = {point.px, std::hypot(point.sdPx, point.fadingPx, point.stayingPx),
                               point.trusted ? model::Source::placed : model::Source::tracked};
        }
    }
    return track;
}

model::View nearestView(const synth::FilmSpec& spec) {
    constexpr double halfWay = 45.0;
    const model::View view = spec.camera.view;
    const double around = spec.camera.aroundDeg;
    if (std::abs(around) <= halfWay) {
        return view;
    }
    return around > 0.0 ? model::View::front : model::View::rear;
}

} // namespace

std::optional<double> PackReading::error() const {
    if (!truth || !value) {
        return std::nullopt;
    }
    constexpr double wholeTurn = 360.0;
    const double miss = *value - *truth;
    return unit == model::Unit::degrees ? std::remainder(miss, wholeTurn) : miss;
}

bool PackReading::inside() const {
    return std::abs(error().value_or(0.0)) <= u95;
}

std::vector<PackReading> studyPackReadings(const std::vector<technique::Pack>& packs,
                                           std::uint32_t seed, Around around, Landmarks landmarks) {
    const synth::FilmScene scene(drawnFilm(seed, around));
    const synth::FilmSpec& spec = scene.spec();
    const auto pack = std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
        return p.id == spec.player.technique;
    });
    std::vector<PackReading> all;
    if (pack == packs.end()) {
        return all;
    }
    body::SeenRep seen = seenRep(scene, landmarks, seed + 7919);
    const model::LandmarkTrack track = asTrack(seen, scene);
    for (body::SeenInstant& instant : seen.instants) {
        instant.time.value -= scene.firstTime(); // a film's own time begins with it
    }
    auto body = body::fitBody(seen);
    if (!body) {
        return all;
    }
    model::Rep rep;
    rep.techniqueId = pack->id;
    rep.positions = synth::truePositions(scene);
    rep.landmarks = track;
    technique::Circumstances c;
    c.hand = spec.player.hand;
    c.view = nearestView(spec);
    c.ageYears = yearsOf(spec.player.build.band);
    c.bodyHeight = model::Metres(spec.player.build.heightM);
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        times.emplace_back(scene.frameTime(frame));
    }
    c.time = model::ClipTime(times, 1.0);
    const auto truths = synth::trueMeasures(scene);
    const auto inPicture = technique::evaluate(*pack, rep, c);
    c.body = std::make_shared<const body::FittedBody>(std::move(*body));
    const auto inSpace = technique::evaluate(*pack, rep, c);
    for (std::size_t i = 0; i < inSpace.size(); ++i) {
        const technique::Measure& measure = pack->measures[i];
        if (measure.kind->space == nullptr) {
            continue;
        }
        PackReading r;
        r.pack = pack->id;
        r.measure = measure.id;
        r.kind = std::string(measure.kind->id);
        r.around = around;
        r.landmarks = landmarks;
        r.unit = measure.unit;
        if (const auto truth = truths.find(measure.id); truth != truths.end()) {
            r.truth = truth->second;
        }
        if (inSpace[i].from == model::ReadFrom::body) {
            r.value = inSpace[i].value;
            r.u95 = inSpace[i].u95;
            r.directed = inSpace[i].uncertainty.ground > 1e-9;
        }
        r.inPicture = inPicture[i].value;
        r.inPictureU95 = inPicture[i].u95;
        all.push_back(std::move(r));
    }
    return all;
}

} // namespace kestrel::study
