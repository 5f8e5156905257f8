#include "body/mirrored_body.h"
#include "support/test_films.h"
#include "support/true_body.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::Landmark;

/// A body in a mirror. The synthetic player throws the same pitch with either hand.
class TestMirroredBody : public QObject {
    Q_OBJECT
  private slots:
    void aLeftHanderBecomesARightHander() {
        synth::FilmSpec film = support::rightHander().spec;
        const body::FittedBody right = support::trueBody(synth::FilmScene(film));
        film.player.hand = model::Hand::left;
        const body::FittedBody left = body::mirrored(support::trueBody(synth::FilmScene(film)));
        // Each is filmed from its own open side with the target to the same side of its own, so in
        // the mirror they agree but for which way they face across the target line.
        for (const model::Seconds time : {right.times()[40], right.times()[100]}) {
            for (const auto& [a, b] : {std::pair(Landmark::leftHip, Landmark::leftKnee),
                                       std::pair(Landmark::rightShoulder, Landmark::rightElbow),
                                       std::pair(Landmark::rightElbow, Landmark::rightWrist)}) {
                const Eigen::Vector3d x = right.place({b, time}) - right.place({a, time});
                const Eigen::Vector3d y = left.place({b, time}) - left.place({a, time});
                QVERIFY2((x - y).norm() < 2e-3,
                         qPrintable(QString("%1 %2").arg((x - y).norm()).arg(x.norm())));
            }
        }
    }
    void twiceIsTheBodyItself() {
        const body::FittedBody body =
            support::trueBody(synth::FilmScene(support::rightHander().spec), 0.05);
        const body::FittedBody again = body::mirrored(body::mirrored(body));
        QVERIFY(again.parts() == body.parts());
        // Its draws are mirrored with it.
        const body::PlaceRef wrist{Landmark::rightWrist, body.times()[50]};
        const body::PlaceRef other{Landmark::leftWrist, body.times()[50]};
        const Eigen::Vector3d seen = body::mirrored(body).drawn(0, wrist);
        const Eigen::Vector3d drawn = body.drawn(0, other);
        QVERIFY(std::abs(seen.x() + drawn.x()) < 1e-6 && std::abs(seen.y() - drawn.y()) < 1e-6);
    }
};

QTEST_GUILESS_MAIN(TestMirroredBody)
#include "test_mirrored_body.moc"
