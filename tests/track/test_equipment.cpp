#include "film/film_index.h"
#include "support/coverage.h"
#include "support/test_films.h"
#include "synth/film_edit.h"
#include "synth/flight.h"
#include "synth/motion_sheet.h"
#include "synth/outfits.h"
#include "synth/truth.h"
#include "track/equipment/ball_flight.h"
#include "track/equipment/equipment.h"
#include "track/equipment/viterbi_path.h"
#include "track/person/fuse.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

using namespace kestrel;
using model::Landmark;
using model::length;
using model::Source;

namespace {

/// The cheapest way, by trying all of them; as track::viterbiPath with no pictures to skip.
double cheapestOfAll(const std::vector<std::vector<track::Candidate>>& seen,
                     const std::vector<double>& times, const track::PathRules& rules,
                     std::vector<int>& best) {
    std::vector<int> way(seen.size(), 0);
    double least = std::numeric_limits<double>::infinity();
    while (true) {
        double cost = rules.begun;
        for (std::size_t i = 0; i < seen.size(); ++i) {
            const auto& at = [&](std::size_t back) -> const track::Candidate& {
                return seen[i - back][static_cast<std::size_t>(way[i - back])];
            };
            cost += at(0).cost;
            if (i >= 2) {
                const model::Point2 v1 =
                    (at(1).points[0] - at(2).points[0]) * (1.0 / (times[i - 1] - times[i - 2]));
                const model::Point2 v2 =
                    (at(0).points[0] - at(1).points[0]) * (1.0 / (times[i] - times[i - 1]));
                const double change = length(v2 - v1) / (0.5 * (times[i] - times[i - 2]));
                cost += std::min(rules.mostForJump, 0.5 * std::pow(change / rules.processNoise, 2));
            }
        }
        if (cost < least) {
            least = cost;
            best = way;
        }
        std::size_t digit = 0;
        while (digit < way.size() && ++way[digit] == static_cast<int>(seen[digit].size())) {
            way[digit++] = 0;
        }
        if (digit == way.size()) {
            return least;
        }
    }
}

/// The shares of all ways, by walking along each: in every picture nothing or a candidate, and
/// between two that are taken near each other either one goes on to the other or a way ends and
/// another begins; a way takes two or more.
class AllWays {
  public:
    AllWays(const std::vector<std::vector<track::Candidate>>& seen,
            const std::vector<double>& times, const track::PathRules& rules)
        : seen_(seen), times_(times), rules_(rules) {
        for (const auto& candidates : seen) {
            shares_.emplace_back(candidates.size(), 0.0);
        }
        walk(0, 0.0);
        for (auto& picture : shares_) {
            for (double& share : picture) {
                share /= all_;
            }
        }
    }

    [[nodiscard]] const std::vector<std::vector<double>>& shares() const { return shares_; }

  private:
    struct Taken {
        std::size_t picture = 0;
        std::size_t number = 0;
        bool begins = false;
    };

    void walk(std::size_t picture, double cost) {
        const bool canEnd = taken_.empty() || !taken_.back().begins;
        if (picture == seen_.size()) {
            if (canEnd) {
                const double weight = std::exp(-cost);
                all_ += weight;
                for (const Taken& t : taken_) {
                    shares_[t.picture][t.number] += weight;
                }
            }
            return;
        }
        walk(picture + 1, cost + rules_.skipped);
        for (std::size_t number = 0; number < seen_[picture].size(); ++number) {
            const double own = seen_[picture][number].cost;
            if (canEnd) {
                taken_.push_back({picture, number, true});
                walk(picture + 1, cost + rules_.begun + own);
                taken_.pop_back();
            }
            if (!taken_.empty() && picture - taken_.back().picture <= 3) {
                const double turn = turnTo(picture, number);
                taken_.push_back({picture, number, false});
                walk(picture + 1, cost + own + turn);
                taken_.pop_back();
            }
        }
    }

    [[nodiscard]] double turnTo(std::size_t picture, std::size_t number) const {
        const Taken& last = taken_.back();
        if (last.begins) {
            return 0.0;
        }
        const Taken& before = taken_[taken_.size() - 2];
        const auto at = [&](std::size_t i, std::size_t n) { return seen_[i][n].points[0]; };
        const double first = times_[last.picture] - times_[before.picture];
        const double second = times_[picture] - times_[last.picture];
        const model::Point2 v1 =
            (at(last.picture, last.number) - at(before.picture, before.number)) * (1.0 / first);
        const model::Point2 v2 =
            (at(picture, number) - at(last.picture, last.number)) * (1.0 / second);
        const double change = length(v2 - v1) / (0.5 * (first + second));
        return std::min(rules_.mostForJump, 0.5 * std::pow(change / rules_.processNoise, 2));
    }

    const std::vector<std::vector<track::Candidate>>& seen_;
    const std::vector<double>& times_;
    const track::PathRules& rules_;
    std::vector<Taken> taken_;
    std::vector<std::vector<double>> shares_;
    double all_ = 0.0;
};

/// A film with its truth, and what a network of usual errors would have seen of the body.
struct Filmed {
    std::filesystem::path file;
    film::FilmIndex index;
    model::ClipTime time;
    model::LandmarkTrack truth;
    track::Evidence evidence;
    model::LandmarkTrack body;
    double bodyPx = 0.0;

    Filmed(const std::filesystem::path& film, const synth::FilmScene& scene)
        : file(film),
          index(film::buildIndex(film)),
          time(index.fileTimes(), model::slowdown(index.fileRate(), scene.spec().captureRate)),
          truth(synth::trueLandmarks(scene)) {
        const auto& standing = truth.begin()->second;
        bodyPx = length(standing.at(Landmark::headTop).px -
                        (standing.at(Landmark::leftHeel).px + standing.at(Landmark::rightHeel).px) *
                            0.5);
        std::mt19937 random(7);
        std::normal_distribution<double> normal;
        evidence.bodyPx = bodyPx;
        const double sd = 0.012 * bodyPx;
        for (const auto& [frame, points] : truth) {
            for (const auto& [landmark, point] : points) {
                if (!track::isEquipment(landmark)) {
                    evidence.frames[frame].proposals[landmark] = {
                        point.px + model::Point2{sd * normal(random), sd * normal(random)}, sd, sd};
                }
            }
        }
        body = track::fuse(evidence, {}, time);
    }

    /// As a coach would place them.
    [[nodiscard]] model::FrameLandmarks placedAt(int frame,
                                                 const std::vector<Landmark>& which) const {
        std::mt19937 random(static_cast<unsigned>(frame));
        std::normal_distribution<double> normal(0.0, model::placedPointSd);
        model::FrameLandmarks placed;
        for (const Landmark landmark : which) {
            const model::Point2 px = truth.at(frame).at(landmark).px;
            placed[landmark] = {px + model::Point2{normal(random), normal(random)},
                                model::placedPointSd, Source::placed, false};
        }
        return placed;
    }

    /// Errors of what is said of a landmark, % of standing height, over the frames that `counts`.
    template <class Counts>
    [[nodiscard]] std::vector<double> errors(Landmark landmark, const Counts& counts) const {
        std::vector<double> result;
        for (const auto& [frame, here] : evidence.frames) {
            const auto said = here.proposals.find(landmark);
            if (said != here.proposals.end() && counts(frame)) {
                result.push_back(100.0 * length(said->second.px - truth.at(frame).at(landmark).px) /
                                 bodyPx);
            }
        }
        std::sort(result.begin(), result.end());
        return result;
    }
};

double quantile(const std::vector<double>& sorted, double share) {
    return sorted[static_cast<std::size_t>(share * static_cast<double>(sorted.size() - 1))];
}

synth::FilmSpec filmOf(const std::string& technique) {
    synth::FilmSpec spec;
    spec.player.technique = technique;
    spec.player.build.heightM = 1.5;
    spec.player.level = 0.7;
    spec.player.seed = 21;
    spec.camera.view = model::View::openSide;
    spec.outfit = synth::outfitFor(technique, 1);
    spec.width = 960;
    spec.height = 540;
    spec.captureRate = 60.0;
    spec.fileRate = {60, 1};
    return spec;
}

synth::FilmSpec batSwing() {
    return filmOf("bat_swing");
}

} // namespace

/// Implement, ball and glove followed from where they were placed.
class TestEquipment : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void theCheapestWayIsFound();
    void picturesWithoutTheThingAreSkipped();
    void theSharesOfAllWaysAreRight();
    void aBatPlacedOnceIsFollowed();
    void aStickIsFollowedByItsShaft();
    void cancellingChangesNothing();
    void theBallIsFollowed();
    void whatIsNoBallIsNotCalledOne();
    void aBallStaysInTheHandThatHoldsIt();
    void flightsAreToldFromFeet();
    void theGloveGoesWithItsForearm();
    void placedPointsStayAsTheyAre();

  private:
    [[nodiscard]] Filmed pitch() const {
        const synth::FilmScene scene(support::rightHander().spec);
        return {support::filmFile(support::rightHander()), scene};
    }

    QTemporaryDir folder_;
    std::optional<Filmed> bat_;
};

void TestEquipment::initTestCase() {
    const synth::FrameRenderer renderer(batSwing());
    const std::filesystem::path file = folder_.filePath("bat.mp4").toStdString();
    QVERIFY(synth::renderFilm(renderer, file));
    bat_.emplace(file, renderer.scene());
}

void TestEquipment::theCheapestWayIsFound() {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> place(0.0, 100.0);
    std::uniform_real_distribution<double> price(-4.0, 0.0);
    track::PathRules rules;
    rules.processNoise = 30.0;
    rules.skipped =
        1000.0; // so that every picture takes part, in one go, as in the trial of all ways
    rules.begun = 1000.0;
    for (int round = 0; round < 50; ++round) {
        std::vector<std::vector<track::Candidate>> seen(6);
        std::vector<double> times;
        double time = 0.0;
        for (auto& candidates : seen) {
            times.push_back(time);
            time += std::uniform_real_distribution<double>(0.5, 1.5)(random);
            for (int i = 0; i < 3; ++i) {
                candidates.push_back({{{place(random), place(random)}}, price(random)});
            }
        }
        std::vector<int> best;
        cheapestOfAll(seen, times, rules, best);
        const auto found = track::viterbiPath(seen, times, rules);
        for (std::size_t i = 0; i < seen.size(); ++i) {
            QVERIFY(found[i].has_value());
            QCOMPARE(*found[i], best[i]);
        }
    }
}

void TestEquipment::picturesWithoutTheThingAreSkipped() {
    // A thing that goes straight on, unseen in two pictures where something else is seen far off.
    std::vector<std::vector<track::Candidate>> seen;
    std::vector<double> times;
    for (int i = 0; i < 9; ++i) {
        times.push_back(i);
        const bool unseen = i == 4 || i == 5;
        seen.push_back({{{{unseen ? 500.0 : 10.0 * i, 0.0}}, -3.0}});
    }
    track::PathRules rules;
    rules.processNoise = 2.0;
    const auto way = track::viterbiPath(seen, times, rules);
    for (std::size_t i = 0; i < way.size(); ++i) {
        QCOMPARE(way[i].has_value(), i != 4 && i != 5);
    }
    QVERIFY(track::viterbiPath({}, {}, rules).empty());
    const std::vector<std::vector<track::Candidate>> nothing(3);
    const std::vector<double> three{0.0, 1.0, 2.0};
    for (const auto& taken : track::viterbiPath(nothing, three, rules)) {
        QVERIFY(!taken.has_value());
    }
}

void TestEquipment::theSharesOfAllWaysAreRight() {
    std::mt19937 random(12);
    std::uniform_real_distribution<double> place(0.0, 100.0);
    std::uniform_real_distribution<double> price(-3.0, 1.0);
    track::PathRules rules;
    rules.processNoise = 40.0;
    rules.mostForJump = 3.0;
    rules.skipped = 0.5;
    rules.begun = 1.5;
    for (int round = 0; round < 20; ++round) {
        std::vector<std::vector<track::Candidate>> seen(7);
        std::vector<double> times;
        double time = 0.0;
        for (auto& candidates : seen) {
            times.push_back(time);
            time += std::uniform_real_distribution<double>(0.5, 1.5)(random);
            const int count = std::uniform_int_distribution<int>(0, 3)(random);
            for (int i = 0; i < count; ++i) {
                candidates.push_back({{{place(random), place(random)}}, price(random)});
            }
        }
        const AllWays right(seen, times, rules);
        const auto found = track::posteriorMarginals(seen, times, rules);
        QCOMPARE(found.size(), seen.size());
        for (std::size_t i = 0; i < seen.size(); ++i) {
            QCOMPARE(found[i].size(), seen[i].size());
            for (std::size_t n = 0; n < seen[i].size(); ++n) {
                QVERIFY2(std::abs(found[i][n] - right.shares()[i][n]) < 1e-9,
                         qPrintable(QString("picture %1, candidate %2: %3, not %4")
                                        .arg(i)
                                        .arg(n)
                                        .arg(found[i][n])
                                        .arg(right.shares()[i][n])));
            }
        }
    }
    QVERIFY(track::posteriorMarginals({}, {}, rules).empty());
}

void TestEquipment::aBatPlacedOnceIsFollowed() {
    Filmed& film = *bat_;
    const synth::FilmScene scene(batSwing());
    const int stance = synth::truePositions(scene).at("stance");
    const int finish = synth::truePositions(scene).at("finish");
    const model::LandmarkTrack placed{
        {stance, film.placedAt(stance, {Landmark::implementButt, Landmark::implementHead,
                                        Landmark::implementTip})}};
    QVERIFY(track::anyEquipmentPlaced(placed));
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    // At the finish it lies over the shoulder, points at the camera and is half hidden.
    const auto inPicture = [&](int frame) {
        const model::Point2 p = film.truth.at(frame).at(Landmark::implementTip).px;
        return frame < finish - 8 && p.x > 0.0 && p.y > 0.0 && p.x < film.index.width &&
               p.y < film.index.height;
    };
    const auto tip = film.errors(Landmark::implementTip, inPicture);
    const auto frames = std::count_if(film.truth.begin(), film.truth.end(),
                                      [&](const auto& frame) { return inPicture(frame.first); });
    const QString said = QString("%1 of %2 frames, median %3, 95 % within %4")
                             .arg(tip.size())
                             .arg(frames)
                             .arg(quantile(tip, 0.5))
                             .arg(quantile(tip, 0.95));
    // Of standing height; a grown-up's bat is about half of it long.
    QVERIFY2(static_cast<double>(tip.size()) > 0.8 * static_cast<double>(frames), qPrintable(said));
    QVERIFY2(quantile(tip, 0.5) < 2.0, qPrintable(said));
    QVERIFY2(quantile(tip, 0.95) < 6.0, qPrintable(said));
    // The stated deviations hold for the tip, which is seen.
    int within = 0;
    int axes = 0;
    const model::LandmarkTrack fused = track::fuse(film.evidence, placed, film.time);
    for (const auto& [frame, points] : fused) {
        const auto point = points.find(Landmark::implementTip);
        if (point == points.end() || !inPicture(frame)) {
            continue;
        }
        const model::Point2 miss =
            point->second.px - film.truth.at(frame).at(Landmark::implementTip).px;
        for (const double axis : {miss.x, miss.y}) {
            within += std::abs(axis) < model::coverage95 * point->second.sdPx ? 1 : 0;
            ++axes;
        }
    }
    VERIFY_COVERAGE("tip of a bat", within, axes);
}

void TestEquipment::aStickIsFollowedByItsShaft() {
    // From the butt to the tip of the blade there is nothing but ice: the shaft ends at the heel.
    const synth::FilmSpec spec = filmOf("snap_shot");
    const synth::FrameRenderer renderer(spec);
    const std::filesystem::path file = folder_.filePath("stick.mp4").toStdString();
    QVERIFY(synth::renderFilm(renderer, file));
    Filmed film(file, renderer.scene());
    const int through = synth::truePositions(renderer.scene()).at("follow_through");
    const model::LandmarkTrack placed{
        {through, film.placedAt(through, {Landmark::implementButt, Landmark::implementHead,
                                          Landmark::implementTip})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    // The head is the middle of a blade that turns about the shaft unseen; the heel is not.
    const auto heel = [](model::Point2 head, model::Point2 tip) { return head * 2.0 - tip; };
    std::vector<double> errors;
    int within = 0;
    int axes = 0;
    for (const auto& [frame, here] : film.evidence.frames) {
        const auto head = here.proposals.find(Landmark::implementHead);
        if (head == here.proposals.end()) {
            continue;
        }
        const auto& right = film.truth.at(frame);
        errors.push_back(
            100.0 / film.bodyPx *
            length(
                heel(head->second.px, here.proposals.at(Landmark::implementTip).px) -
                heel(right.at(Landmark::implementHead).px, right.at(Landmark::implementTip).px)));
        const model::Point2 miss = head->second.px - right.at(Landmark::implementHead).px;
        for (const double axis : {miss.x, miss.y}) {
            within += std::abs(axis) < model::coverage95 * head->second.scatterPx ? 1 : 0;
            ++axes;
        }
    }
    std::sort(errors.begin(), errors.end());
    const QString said = QString("%1 of %2 frames, median %3, 95 % within %4, %5 of %6 inside")
                             .arg(errors.size())
                             .arg(film.truth.size())
                             .arg(errors.empty() ? 0.0 : quantile(errors, 0.5))
                             .arg(errors.empty() ? 0.0 : quantile(errors, 0.95))
                             .arg(within)
                             .arg(axes);
    QVERIFY2(static_cast<double>(errors.size()) > 0.6 * static_cast<double>(film.truth.size()),
             qPrintable(said));
    QVERIFY2(quantile(errors, 0.5) < 3.0, qPrintable(said)); // of standing height
    QVERIFY2(quantile(errors, 0.95) < 10.0, qPrintable(said));
    VERIFY_COVERAGE("heel of a stick", within, axes);
}

void TestEquipment::cancellingChangesNothing() {
    Filmed& film = *bat_;
    const track::Evidence before = film.evidence;
    const model::LandmarkTrack placed{
        {40, film.placedAt(40, {Landmark::implementButt, Landmark::implementTip})}};
    int asked = 0;
    QVERIFY(!track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time,
                                    [&](int, int) { return ++asked < 3; }));
    QCOMPARE(asked, 3);
    QVERIFY(film.evidence == before);
}

void TestEquipment::theBallIsFollowed() {
    Filmed film = pitch();
    const synth::FilmScene scene(support::rightHander().spec);
    const int release = synth::truePositions(scene).at("release");
    // In the hand a while before release, and in the air.
    const int held = release - 4;
    const int flying = release + 4;
    const model::LandmarkTrack placed{{held, film.placedAt(held, {Landmark::ball})},
                                      {flying, film.placedAt(flying, {Landmark::ball})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    const auto inPicture = [&](int frame) {
        const model::Point2 p = film.truth.at(frame).at(Landmark::ball).px;
        return p.x > 0.0 && p.x < film.index.width;
    };
    // In the air it is seen; in the hand it is where the hand is thought to be, give or take.
    const auto air =
        film.errors(Landmark::ball, [&](int f) { return f > release && inPicture(f); });
    QVERIFY2(air.size() >= 3, qPrintable(QString::number(air.size())));
    QVERIFY2(air.back() < 2.0, qPrintable(QString::number(air.back())));
    const auto hand =
        film.errors(Landmark::ball, [&](int f) { return f > held - 12 && f < release - 1; });
    QVERIFY2(hand.size() >= 6, qPrintable(QString::number(hand.size())));
    QVERIFY2(quantile(hand, 0.5) < 5.0, qPrintable(QString::number(quantile(hand, 0.5))));
}

/// Shoes, sleeves and buttons look like a ball, too: what is said of it over the whole film must be
/// inside its intervals, or not be said.
void TestEquipment::whatIsNoBallIsNotCalledOne() {
    Filmed film = pitch();
    const synth::FilmScene scene(support::rightHander().spec);
    const int release = synth::truePositions(scene).at("release");
    const int held = film.truth.begin()->first + 10;
    const int flying = release + 4;
    const model::LandmarkTrack placed{{held, film.placedAt(held, {Landmark::ball})},
                                      {flying, film.placedAt(flying, {Landmark::ball})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    int said = 0;
    int inside = 0;
    for (const auto& [frame, here] : film.evidence.frames) {
        const auto ball = here.proposals.find(Landmark::ball);
        const model::Point2 truth = film.truth.at(frame).at(Landmark::ball).px;
        if (ball == here.proposals.end() || truth.x < 0.0 || truth.x > film.index.width) {
            continue;
        }
        const model::Point2 miss = ball->second.px - truth;
        const double sd = std::hypot(ball->second.scatterPx, ball->second.lastingPx);
        ++said;
        inside += std::max(std::abs(miss.x), std::abs(miss.y)) <= 2.5 * sd ? 1 : 0;
    }
    qInfo("said in %d of %zu frames, %d inside", said, film.evidence.frames.size(), inside);
    QVERIFY(5 * said >= static_cast<int>(film.evidence.frames.size()));
    QVERIFY2(10 * inside >= 8 * said, qPrintable(QString::number(inside)));
}

void TestEquipment::aBallStaysInTheHandThatHoldsIt() {
    // Both times that the coach sees it the same hand has it; things that look like it are near.
    Filmed film = pitch();
    const synth::FilmScene scene(support::rightHander().spec);
    const auto positions = synth::truePositions(scene);
    const int first = positions.at("lift_top");
    const int second = positions.at("release") - 4;
    const model::LandmarkTrack placed{{first, film.placedAt(first, {Landmark::ball})},
                                      {second, film.placedAt(second, {Landmark::ball})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    const auto between =
        film.errors(Landmark::ball, [&](int f) { return f > first && f < second; });
    const QString said = QString("%1 of %2 frames, at most %3 % of height off")
                             .arg(between.size())
                             .arg(second - first - 1)
                             .arg(between.empty() ? 0.0 : between.back());
    QVERIFY2(10 * static_cast<int>(between.size()) >= 9 * (second - first - 1), qPrintable(said));
    QVERIFY2(between.back() < 7.0, qPrintable(said));
}

void TestEquipment::flightsAreToldFromFeet() {
    constexpr double pixelsPerM = 200.0;
    constexpr double bodyPx = 1.5 * pixelsPerM;
    const synth::Projectile& baseball = synth::projectile("baseball");
    const double diameter = 2.0 * baseball.radiusM * pixelsPerM;
    std::mt19937 random(5);
    std::normal_distribution<double> noise(0.0, 0.4); // pixels
    const auto seen = [&](const synth::Flight& flight, int pictures, bool plain) {
        std::vector<track::BallSighting> sightings;
        for (int i = 0; i < pictures; ++i) {
            const double time = i / 60.0;
            const synth::Vector at = flight.at(time);
            sightings.push_back(
                {time,
                 {at.x() * pixelsPerM + noise(random), -at.z() * pixelsPerM + noise(random)},
                 plain});
        }
        return sightings;
    };
    const synth::Flight pitch(baseball, {0.0, 0.0, 1.6}, {33.0, 0.0, -0.5}, 0.0, 1.0);
    QVERIFY(track::isFlight(seen(pitch, 8, false), diameter, bodyPx));
    // Three pictures, and it is gone: enough when it looks like nothing else.
    QVERIFY(track::isFlight(seen(pitch, 3, true), diameter, bodyPx));
    QVERIFY(!track::isFlight(seen(pitch, 3, false), diameter, bodyPx));
    // One that bounces is no parabola, but goes as a ball between the bounces.
    const synth::Flight bouncing(baseball, {0.0, 0.0, 1.2}, {6.0, 0.0, 0.0}, 0.0, 1.5, 0.0, 0.5);
    QVERIFY(track::isFlight(seen(bouncing, 60, true), diameter, bodyPx));
    QVERIFY(!track::isFlight(seen(bouncing, 60, false), diameter, bodyPx));
    // A shoe that steps, and one that stands.
    const synth::FilmScene scene(support::rightHander().spec);
    const model::LandmarkTrack truth = synth::trueLandmarks(scene);
    for (const Landmark landmark : {Landmark::leftToe, Landmark::rightToe, Landmark::leftAnkle}) {
        std::vector<track::BallSighting> step;
        for (const auto& [frame, points] : truth) {
            step.push_back({frame / 60.0, points.at(landmark).px, false});
        }
        QVERIFY(!track::isFlight(step, diameter, bodyPx));
    }
    QVERIFY(!track::isFlight({}, diameter, bodyPx));
}

void TestEquipment::theGloveGoesWithItsForearm() {
    Filmed film = pitch();
    const model::LandmarkTrack placed{{10, film.placedAt(10, {Landmark::glove})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    const auto errors = film.errors(Landmark::glove, [](int) { return true; });
    QVERIFY(errors.size() > film.truth.size() / 2);
    QVERIFY2(quantile(errors, 0.5) < 4.0, qPrintable(QString::number(quantile(errors, 0.5))));
}

void TestEquipment::placedPointsStayAsTheyAre() {
    Filmed& film = *bat_;
    const model::LandmarkTrack placed{
        {30, film.placedAt(30, {Landmark::implementButt, Landmark::implementTip})},
        {90, film.placedAt(90, {Landmark::implementTip})}};
    QVERIFY(track::followEquipment(film.evidence, film.index, placed, film.body, {}, film.time));
    const model::LandmarkTrack fused = track::fuse(film.evidence, placed, film.time);
    for (const auto& [frame, points] : placed) {
        for (const auto& [landmark, point] : points) {
            QCOMPARE(fused.at(frame).at(landmark), point);
        }
    }
}

QTEST_GUILESS_MAIN(TestEquipment)
#include "test_equipment.moc"
