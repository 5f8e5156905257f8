#include "body/body_file.h"
#include "prepare/rep_body.h"
#include "records/library.h"
#include "support/test_films.h"
#include "support/true_body.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>

using namespace kestrel;

/// What a player's body in space is worked out from in a rep, and when what is kept still holds.
class TestRepBody : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void singleFramesMakeNoBody();
    void landmarksAroundThePositionsDo();
    void whatAMachineSaysErrsForAWhile();
    void theKeyIsOfAllThatCounts();
    void whatIsKeptHoldsUntilTheLandmarksChange();
    void whatIsDamagedIsWorkedOutAnew();
    void itCanBeStopped();

  private:
    [[nodiscard]] std::optional<prepare::BodyWork> work(const model::Rep& rep) const {
        return prepare::bodyWork(pack_, player_, rep, circumstances_, spec_.width, spec_.height);
    }
    model::RepId stored(records::Library& library) const {
        model::Clip clip;
        model::Player player;
        player.name = "Somebody";
        clip.playerId = library.save(player);
        clip.sha256 = "abc";
        clip.fileName = "abc.mp4";
        model::Rep rep = rep_;
        rep.clipId = library.save(clip);
        return library.save(rep);
    }

    const synth::FilmSpec& spec_ = support::rightHander().spec;
    const technique::Pack pack_ = support::pitchPack();
    model::Player player_;
    model::Rep rep_;
    technique::Circumstances circumstances_;
    QTemporaryDir folder_;
};

void TestRepBody::initTestCase() {
    rep_ = support::trueRep(spec_);
    circumstances_ = support::openSide(spec_);
}

void TestRepBody::singleFramesMakeNoBody() {
    model::Rep rep = rep_;
    rep.landmarks.clear();
    for (const auto& [id, frame] : rep.positions) {
        rep.landmarks[frame] = rep_.landmarks.at(frame);
    }
    QVERIFY(!work(rep).has_value());
    rep.landmarks.clear();
    QVERIFY(!work(rep).has_value());
}

void TestRepBody::landmarksAroundThePositionsDo() {
    const auto made = work(rep_);
    QVERIFY(made.has_value());
    QCOMPARE(made->seen.width, spec_.width);
    std::vector<double> positions;
    for (const auto& [id, frame] : rep_.positions) {
        positions.push_back(
            circumstances_.time.fieldTimes()[static_cast<std::size_t>(frame)].value);
    }
    const auto [first, last] = std::minmax_element(positions.begin(), positions.end());
    constexpr double beside = 0.36; // seconds
    QVERIFY(made->seen.instants.front().time.value >= *first - beside);
    QVERIFY(made->seen.instants.back().time.value <= *last + beside);
    for (const body::SeenInstant& instant : made->seen.instants) {
        for (const auto& [landmark, seen] : instant.points) {
            QVERIFY(model::isOfBody(landmark));
            QVERIFY(seen.trusted && seen.sdPx > 0.0 && seen.fadingPx == 0.0);
        }
    }
}

void TestRepBody::whatAMachineSaysErrsForAWhile() {
    model::Rep rep = rep_;
    constexpr double sd = 6.0;
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.source = model::Source::tracked;
            point.sdPx = sd;
        }
    }
    const auto made = work(rep);
    QVERIFY(made.has_value());
    for (const auto& [landmark, seen] : made->seen.instants.front().points) {
        QVERIFY(!seen.trusted);
        QVERIFY(seen.fadingPx > seen.sdPx);
        QVERIFY(std::abs(std::hypot(seen.sdPx, seen.fadingPx, seen.stayingPx) - sd) < 1e-9);
    }
}

void TestRepBody::theKeyIsOfAllThatCounts() {
    const std::string key = work(rep_)->key;
    QCOMPARE(work(rep_)->key, key);
    model::Rep moved = rep_;
    moved.landmarks.at(moved.positions.at("release")).at(model::Landmark::leftKnee).px.x += 0.5;
    QVERIFY(work(moved)->key != key);
    model::Rep later = rep_; // a position between the first and the last
    ++later.positions.at("foot_plant");
    QCOMPARE(work(later)->key, key);
    model::Player girl = player_;
    girl.sex = model::Sex::girl;
    QVERIFY(prepare::bodyWork(pack_, girl, rep_, circumstances_, spec_.width, spec_.height)->key !=
            key);
}

void TestRepBody::whatIsKeptHoldsUntilTheLandmarksChange() {
    records::Library library(folder_.filePath("kept").toStdString());
    const model::RepId id = stored(library);
    const auto made = work(rep_);
    prepare::RepBody kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && kept.outdated);
    const body::FittedBody body = support::trueBody(synth::FilmScene(spec_));
    library.setBody(id, {made->key, body::toBytes(body)});
    kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body != nullptr && !kept.outdated);
    QVERIFY(kept.body->parts() == body.parts());

    model::Rep moved = rep_;
    moved.landmarks.at(moved.positions.at("release")).at(model::Landmark::leftKnee).px.x += 5.0;
    kept = prepare::keptBody(library, id, work(moved));
    QVERIFY(kept.body != nullptr && kept.outdated); // readings stand on it until the new one
    kept = prepare::keptBody(library, id, std::nullopt);
    QVERIFY(kept.body == nullptr && !kept.outdated);
    library.setBody(id, {made->key, {}}); // what is seen made none
    kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && !kept.outdated);
}

void TestRepBody::whatIsDamagedIsWorkedOutAnew() {
    records::Library library(folder_.filePath("damaged").toStdString());
    const model::RepId id = stored(library);
    const auto made = work(rep_);
    library.setBody(id, {made->key, {1, 2, 3}});
    const prepare::RepBody kept = prepare::keptBody(library, id, made);
    QVERIFY(kept.body == nullptr && kept.outdated);
}

void TestRepBody::itCanBeStopped() {
    QVERIFY(!prepare::fittedBody(*work(rep_), [](double) { return false; }).has_value());
}

QTEST_GUILESS_MAIN(TestRepBody)
#include "test_rep_body.moc"
