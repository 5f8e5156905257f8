#include "body/proportions.h"
#include "synth/body.h"

#include <QTest>

#include <cmath>

/// Lengths of the body, against the synthetic player's, which come from the same tables by another
/// hand, and against how much people differ.
namespace kestrel {

class TestProportions : public QObject {
    Q_OBJECT
  private slots:
    void tallAsTheParts_data();
    void tallAsTheParts();
    void childrenHaveShorterLegs();
    void individualsDiffer();
};

namespace {

double length(const body::PartLengths& lengths, body::Part part) {
    return lengths[static_cast<std::size_t>(part)].mean;
}

} // namespace

void TestProportions::tallAsTheParts_data() {
    QTest::addColumn<int>("years");
    for (const int years : {6, 8, 9, 11, 13, 15, 16, 17, 40}) {
        QTest::addRow("%d", years) << years;
    }
}

/// The parts that lie above one another make up the standing height at every age.
void TestProportions::tallAsTheParts() {
    QFETCH(int, years);
    const auto lengths = body::partLengths(years, std::nullopt);
    const double tall = body::ankleHeight + length(lengths, body::Part::shank) +
                        length(lengths, body::Part::thigh) + length(lengths, body::Part::trunk) +
                        length(lengths, body::Part::neck) + length(lengths, body::Part::head);
    QVERIFY2(std::abs(tall - 1.0) < 0.002, qPrintable(QString::number(tall)));
}

void TestProportions::childrenHaveShorterLegs() {
    double before = 0.0;
    for (const int years : {8, 10, 11, 13, 15, 17}) {
        const double leg = length(body::partLengths(years, std::nullopt), body::Part::thigh);
        QVERIFY(leg > before);
        before = leg;
    }
    QVERIFY(length(body::partLengths(20, model::Sex::girl), body::Part::shoulders) <
            length(body::partLengths(20, model::Sex::boy), body::Part::shoulders));
}

/// The synthetic player's own proportions scatter about the table as the table says people do, and
/// keep the standing height.
void TestProportions::individualsDiffer() {
    const double usual = synth::proportionsOf({}).forearm;
    double square = 0.0;
    constexpr int people = 400;
    for (std::uint32_t person = 1; person <= people; ++person) {
        synth::Build build;
        build.individual = person;
        const synth::Proportions p = synth::proportionsOf(build);
        square += std::pow(p.forearm / usual - 1.0, 2) / people;
        const double tall =
            p.ankleHeight + p.shank + p.thigh + p.trunk + p.shoulderToHead + p.headToTop;
        QVERIFY(std::abs(tall - 1.0) < 1e-9);
    }
    const double sd = std::sqrt(square);
    QVERIFY2(sd > 0.04 && sd < 0.055, qPrintable(QString::number(sd)));
}

} // namespace kestrel

QTEST_GUILESS_MAIN(kestrel::TestProportions)
#include "test_proportions.moc"
