#include "body/body_file.h"
#include "support/test_films.h"
#include "support/true_body.h"

#include <QTest>

#include <cmath>

using namespace kestrel;
using model::Landmark;

/// A fitted body as it is kept and read: what goes into a file comes out of it, what is damaged
/// does not, places between instants lie between them, and the spread of the draws is told.
class TestBodyFile : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void whatIsKeptComesBack();
    void whatIsDamagedDoesNot_data();
    void whatIsDamagedDoesNot();
    void partsThatDoNotGoTogetherAreRefused();
    void placesLieBetweenInstants();
    void nothingIsKnownBetweenSingleInstants();
    void theSpreadOfTheDrawsIsTheDeviation();
    void directionsAreComparedTheShortWayRound();

  private:
    std::optional<body::FittedBody> body_;
};

void TestBodyFile::initTestCase() {
    body_ = support::trueBody(synth::FilmScene(support::rightHander().spec), 0.02);
}

void TestBodyFile::whatIsKeptComesBack() {
    const auto back = body::bodyFromBytes(body::toBytes(*body_));
    QVERIFY(back.has_value());
    QVERIFY(back->parts() == body_->parts());
    QVERIFY(!back->target().has_value());
    body::FittedParts parts = body_->parts();
    parts.target = {-2.5, 0.1};
    const auto withTarget = body::bodyFromBytes(body::toBytes(body::FittedBody(parts)));
    QVERIFY(withTarget.has_value());
    QVERIFY(withTarget->parts() == parts);
    body::SearchEnd end;
    end.sum = 12.5;
    end.camera = {1.7, 960.0, 540.0, 0.01};
    end.landmarkErrors = {0.25, -0.5};
    end.answers.push_back({3, 0.1, 1, 1, {7}, {0.1F, 0.2F, 0.3F}});
    end.others.push_back({0.4, std::vector<float>(parts.places.size(), 0.01F)});
    parts.end = end;
    const auto withEnd = body::bodyFromBytes(body::toBytes(body::FittedBody(parts)));
    QVERIFY(withEnd.has_value());
    QVERIFY(withEnd->parts() == parts);
    // What does not go with the body is as bad as damaged.
    parts.end->answers.front().last = parts.times.size();
    QVERIFY(!body::bodyFromBytes(body::toBytes(body::FittedBody(parts))).has_value());
    parts.end = end;
    parts.end->others.front().beside.pop_back();
    QVERIFY(!body::bodyFromBytes(body::toBytes(body::FittedBody(parts))).has_value());
}

void TestBodyFile::whatIsDamagedDoesNot_data() {
    QTest::addColumn<int>("length"); // of what is left; all of it: a byte is changed
    QTest::newRow("nothing") << 0;
    QTest::newRow("the first half") << 2;
    QTest::newRow("all but the end") << -1;
}

void TestBodyFile::whatIsDamagedDoesNot() {
    QFETCH(int, length);
    std::vector<std::uint8_t> bytes = body::toBytes(*body_);
    bytes.resize(length < 0 ? bytes.size() - 1 : length == 0 ? 0 : bytes.size() / 2);
    QVERIFY(!body::bodyFromBytes(bytes).has_value());
}

void TestBodyFile::partsThatDoNotGoTogetherAreRefused() {
    body::FittedParts parts = body_->parts();
    parts.draws.front().pop_back();
    QVERIFY_THROWS_EXCEPTION(std::invalid_argument, (void)body::FittedBody{parts});
    parts = body_->parts();
    parts.times.pop_back();
    QVERIFY_THROWS_EXCEPTION(std::invalid_argument, (void)body::FittedBody{parts});
    QVERIFY_THROWS_EXCEPTION(std::invalid_argument, (void)body::FittedBody{body::FittedParts{}});
}

void TestBodyFile::placesLieBetweenInstants() {
    const auto times = body_->times();
    const Eigen::Vector3d a = body_->place({Landmark::leftWrist, times[3]});
    const Eigen::Vector3d b = body_->place({Landmark::leftWrist, times[4]});
    constexpr double share = 0.25;
    const model::Seconds between((1.0 - share) * times[3].value + share * times[4].value);
    const Eigen::Vector3d there = body_->place({Landmark::leftWrist, between});
    QVERIFY((there - ((1.0 - share) * a + share * b)).norm() < 1e-6);
    QVERIFY(body_->covers(times.back()));
    QVERIFY(!body_->covers(model::Seconds(times.back().value + 1.0)));
    QVERIFY(!body_->covers(model::Seconds(times.front().value - 1.0)));
}

/// As where landmarks are placed at the key positions only.
void TestBodyFile::nothingIsKnownBetweenSingleInstants() {
    body::FittedParts parts = body_->parts();
    constexpr std::size_t instants = 4;
    const std::size_t of = parts.places.size() / parts.times.size();
    parts.times.resize(instants);
    parts.places.resize(instants * of);
    for (auto& draw : parts.draws) {
        draw.resize(instants * of);
    }
    const model::Seconds close(0.05);
    parts.times = {model::Seconds(0.0), model::Seconds(0.5), model::Seconds(0.5) + close,
                   model::Seconds(1.0)};
    const body::FittedBody body(std::move(parts));
    for (const model::Seconds time : body.times()) {
        QVERIFY(body.covers(time));
        QVERIFY(body.covers(time + model::Seconds(0.01)));
        QVERIFY(body.covers(time - model::Seconds(0.01)));
    }
    QVERIFY(body.covers(model::Seconds(0.525)));
    QVERIFY(!body.covers(model::Seconds(0.25)));
    QVERIFY(!body.covers(model::Seconds(0.75)));
    QVERIFY(!body.covers(model::Seconds(1.25)));
}

void TestBodyFile::theSpreadOfTheDrawsIsTheDeviation() {
    const model::Seconds time = body_->times()[5];
    const std::array ends{body::PlaceRef{Landmark::leftHip, time},
                          body::PlaceRef{Landmark::rightHip, time}};
    const auto apart = body_->value(ends, [](auto p) { return (p[0] - p[1]).y(); });
    // Each end is off by 0.02 the other way.
    QVERIFY(std::abs(apart.sd - 0.04) < 1e-6);
    const auto across = body_->value(ends, [](auto p) { return (p[0] - p[1]).x(); });
    QVERIFY(across.sd < 1e-6);
}

void TestBodyFile::directionsAreComparedTheShortWayRound() {
    const model::Seconds time = body_->times()[5];
    const std::array ends{body::PlaceRef{Landmark::leftHip, time},
                          body::PlaceRef{Landmark::rightHip, time}};
    constexpr double turn = 360.0;
    const auto direction = [&](double by) {
        return body_->value(
            ends,
            [by](auto p) {
                const Eigen::Vector3d way = p[1] - p[0];
                return std::remainder(
                    model::degreesFromRadians(std::atan2(way.y(), way.x())).value + by, turn);
            },
            turn);
    };
    const double own = direction(0.0).value;
    QVERIFY(std::abs(direction(180.0 - own).sd - direction(0.0).sd) < 1e-9);
}

QTEST_GUILESS_MAIN(TestBodyFile)
#include "test_body_file.moc"
