#include "prepare/found_view.h"
#include "study/body_population.h"
#include "support/true_evidence.h"
#include "technique/pack/pack_directory.h"
#include "technique/pack/roles.h"

#include <QTest>

#include <array>
#include <cmath>
#include <numbers>

using namespace kestrel;

/// From where a film was taken, told by films of players of all techniques, manners and levels
/// whose cameras are known, with landmarks off as a network's are. Nothing was set on them.
class TestFoundView : public QObject {
    Q_OBJECT
  private slots:
    void theCameraIsFoundFromAllAround();
    void aFilmOfUnknownSpeedTellsNothing();
};

namespace {

technique::Circumstances circumstancesOf(const synth::FilmScene& scene) {
    technique::Circumstances circumstances;
    circumstances.hand = scene.spec().player.hand;
    std::vector<model::Seconds> times;
    for (int frame = 0; frame < scene.frameCount(); ++frame) {
        times.emplace_back(scene.frameTime(frame) - scene.frameTime(0));
    }
    circumstances.time = model::ClipTime(times, 1.0);
    return circumstances;
}

/// Degrees from the picture's right, over away from the camera, to the target.
double trueAzimuth(const synth::FilmScene& scene) {
    const synth::Camera camera = scene.steadyCamera();
    const Eigen::Vector3d right = camera.right;
    const Eigen::Vector3d away = Eigen::Vector3d::UnitZ().cross(right);
    return std::atan2(away.x(), right.x()) * 180.0 / std::numbers::pi;
}

double azimuthOf(const model::FoundView& found, const technique::Pack& pack, model::Hand hand) {
    const bool openSideShowsTargetRight =
        technique::positiveSign(pack, hand, model::View::openSide) > 0;
    switch (found.view) {
    case model::View::front:
        return -90.0 + found.off.value;
    case model::View::rear:
        return 90.0 + found.off.value;
    case model::View::openSide:
        return (openSideShowsTargetRight ? 0.0 : 180.0) + found.off.value;
    default:
        return (openSideShowsTargetRight ? 180.0 : 0.0) + found.off.value;
    }
}

} // namespace

void TestFoundView::theCameraIsFoundFromAllAround() {
    const auto packs = technique::loadPacks(technique::packDirectory());
    int films = 0;
    int told = 0;
    int near = 0;
    constexpr std::uint32_t firstSeed = 5000;
    constexpr std::uint32_t seeds = 10;
    for (std::uint32_t seed = firstSeed; seed < firstSeed + seeds; ++seed) {
        for (const auto around : {study::Around::side, study::Around::front, study::Around::rear,
                                  study::Around::between}) {
            const synth::FilmScene scene(study::drawnFilm(seed, around));
            const auto pack =
                std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
                    return p.id == scene.spec().player.technique;
                });
            if (pack == packs.end()) {
                continue;
            }
            ++films;
            const auto found = prepare::foundView(*pack, {}, support::trueEvidence(scene, seed),
                                                  circumstancesOf(scene));
            if (!found) {
                continue;
            }
            ++told;
            const double off = std::remainder(
                azimuthOf(*found, *pack, scene.spec().player.hand) - trueAzimuth(scene), 360.0);
            QVERIFY(std::abs(found->off.value) <= 45.0);
            near += std::abs(off) <= 25.0 ? 1 : 0;
        }
    }
    qInfo("%d films, told of %d, right to 25 degrees in %d", films, told, near);
    QVERIFY(films >= 32);
    QVERIFY(told >= 0.85 * films);
    QVERIFY(near >= 0.95 * told);
}

void TestFoundView::aFilmOfUnknownSpeedTellsNothing() {
    const synth::FilmScene scene(study::drawnFilm(5000, study::Around::side));
    const auto packs = technique::loadPacks(technique::packDirectory());
    technique::Circumstances circumstances = circumstancesOf(scene);
    circumstances.captureRateKnown = false;
    QVERIFY(!prepare::foundView(packs.front(), {}, support::trueEvidence(scene, 1), circumstances));
}

QTEST_GUILESS_MAIN(TestFoundView)
#include "test_found_view.moc"
