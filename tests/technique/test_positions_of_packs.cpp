#include "support/coverage.h"
#include "support/test_films.h"
#include "technique/positions/find_positions.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace kestrel;

namespace {

constexpr double rate = 60.0;
constexpr double landmarkSd = 1.5; // pixels, of a machine that is right but for scatter

synth::FilmSpec filmOf(const std::string& technique, model::View view) {
    synth::FilmSpec spec;
    spec.player.technique = technique;
    spec.player.build.heightM = 1.52;
    spec.player.hand = model::Hand::left;
    spec.player.level = 0.75;
    spec.player.seed = 83;
    spec.width = 960;
    spec.height = 540;
    spec.camera.view = view;
    spec.captureRate = rate;
    spec.fileRate = {static_cast<int>(rate), 1};
    return spec;
}

model::Rep machineRep(model::Rep rep) {
    rep.positions.clear();
    std::mt19937 random(11);
    std::normal_distribution<double> normal(0.0, landmarkSd);
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.px = point.px + model::Point2{normal(random), normal(random)};
            point.sdPx = landmarkSd;
            point.source = model::Source::tracked;
        }
    }
    return rep;
}

} // namespace

/// The detectors of the packs on landmarks of players they were not set on, against the instants
/// that the motion sheets define in space.
class TestPositionsOfPacks : public QObject {
    Q_OBJECT
  private slots:
    void foundNearTheirInstants_data();
    void foundNearTheirInstants();
    void mostAreRightAndInside();

  private:
    int asked_ = 0;
    int right_ = 0;
    int inside_ = 0;
};

void TestPositionsOfPacks::foundNearTheirInstants_data() {
    QTest::addColumn<QString>("technique");
    QTest::addColumn<int>("view");
    for (const char* technique :
         {"bat_swing", "snap_shot", "two_handed_backhand", "jump_shot", "windmill_pitch",
          "table_tennis_forehand", "ground_ball_throw", "tennis_serve", "squash_backhand_volley",
          "table_tennis_backhand", "underspin_backhand"}) {
        for (const model::View view : {model::View::openSide, model::View::front}) {
            QTest::addRow("%s, %s", technique, name(view).data())
                << QString(technique) << static_cast<int>(view);
        }
    }
}

void TestPositionsOfPacks::foundNearTheirInstants() {
    QFETCH(QString, technique);
    QFETCH(int, view);
    const synth::FilmSpec spec = filmOf(technique.toStdString(), static_cast<model::View>(view));
    const auto packs = support::shippedPacks();
    const auto pack = std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
        return p.id == spec.player.technique;
    });
    QVERIFY(pack != packs.end());
    const model::Rep truth = support::trueRep(spec);
    technique::Circumstances circumstances = support::openSide(spec);
    circumstances.view = spec.camera.view;
    const auto found = technique::findPositions(*pack, machineRep(truth), circumstances);
    QVERIFY(!found.empty());
    for (const auto& [id, instant] : found) {
        const double miss = std::abs(instant.frame - truth.positions.at(id)) / rate;
        const double rounding = 1.0 / rate / std::sqrt(6.0); // of both frames
        const double sd = std::hypot(instant.sd.value, rounding);
        ++asked_;
        right_ += miss < 1.0 / rate + 1e-6 ? 1 : 0;
        inside_ += miss <= model::coverage95 * sd ? 1 : 0;
        constexpr double most = 5.0; // standard deviations
        QVERIFY2(miss <= most * sd || instant.confidence < 0.9,
                 qPrintable(QString("%1 is %2 s off").arg(id.c_str()).arg(miss)));
    }
}

void TestPositionsOfPacks::mostAreRightAndInside() {
    QVERIFY(asked_ > 0);
    QVERIFY2(right_ >= 0.90 * asked_, qPrintable(QString("%1 of %2").arg(right_).arg(asked_)));
    VERIFY_COVERAGE("key positions of all packs", inside_, asked_);
}

QTEST_APPLESS_MAIN(TestPositionsOfPacks)
#include "test_positions_of_packs.moc"
