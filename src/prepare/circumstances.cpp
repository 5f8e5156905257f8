#include "prepare/circumstances.h"

#include "coaching/review.h"

namespace kestrel::prepare {

technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const film::FilmIndex& index,
                                         const std::optional<model::FilmStudy>& study,
                                         model::Day today) {
    const model::ClipTime time =
        clip.speeds.empty()
            ? model::ClipTime(index.fileTimes(),
                              model::slowdown(index.fileRate(), clip.captureRate.value_or(0.0)))
            : model::ClipTime(index.fileTimes(), clip.speeds);
    return circumstancesOf(pack, player, clip, rep, time, index.width, index.height, study, today);
}

technique::Circumstances circumstancesOf(const technique::Pack& pack, const model::Player& player,
                                         const model::Clip& clip, const model::Rep& rep,
                                         const model::ClipTime& time, int width, int height,
                                         const std::optional<model::FilmStudy>& study,
                                         model::Day today) {
    technique::Circumstances circumstances =
        coaching::circumstancesOf(pack, player, clip, rep, time, today);
    circumstances.captureRateKnown = clip.captureRate.has_value() || !clip.speeds.empty();
    if (clip.steadied && study) {
        circumstances.camera = study->camera;
    }
    if (clip.ground) {
        model::GroundMarks marks = *clip.ground;
        if (const auto frame = static_cast<std::size_t>(marks.frame);
            frame < circumstances.camera.size()) {
            for (auto& [id, px] : marks.points) {
                px = carriedToFirst(circumstances.camera[frame], px);
            }
            for (auto& edge : marks.straightEdges) {
                for (model::Point2& px : edge) {
                    px = carriedToFirst(circumstances.camera[frame], px);
                }
            }
        }
        circumstances.scale = technique::scaleOf(marks);
        auto ground = technique::groundOf(pack, marks, width, height, clip.view);
        circumstances.ground = std::move(ground.ground);
        circumstances.groundReason = std::move(ground.reason);
    }
    return circumstances;
}

void settleCaptureRate(model::Clip& clip, const film::FilmIndex& index) {
    if (!clip.captureRate && clip.speeds.empty() && !film::captureRateInDoubt(index) &&
        film::speedStretches(index).empty()) {
        clip.captureRate = index.fileRate();
    }
}

film::FilmIndex readAsTheClipSays(const model::Clip& clip, const film::FilmIndex& index) {
    const film::FilmIndex whole = film::asWholeFrames(index);
    return clip.asFields ? film::asFields(whole, whole.interlaced) : whole;
}

} // namespace kestrel::prepare
