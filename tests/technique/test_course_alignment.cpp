#include "prepare/usual_motion.h"
#include "study/played_rep.h"
#include "support/test_films.h"
#include "technique/positions/course_alignment.h"
#include "technique/positions/find_positions.h"

#include <QTest>

#include <cmath>
#include <functional>
#include <numbers>

using namespace kestrel;

namespace {

constexpr double rate = 60.0;

technique::UsualCourse swing() {
    const auto packs = support::shippedPacks();
    const auto pack = std::find_if(packs.begin(), packs.end(),
                                   [](const technique::Pack& p) { return p.id == "bat_swing"; });
    technique::Circumstances circumstances;
    circumstances.ageYears = 25;
    return *prepare::usualCourse(*pack, circumstances);
}

double lengthOf(const technique::UsualCourse& course) {
    return course.step.value * static_cast<double>(course.poses.size() - 1);
}

/// A film of `seconds` from the right-hander's open side, of somebody who is at `inCourse(time)`
/// seconds of the course.
std::vector<technique::SeenPose> filmed(const technique::UsualCourse& course, double seconds,
                                        const std::function<double(double)>& inCourse) {
    std::vector<technique::SeenPose> poses;
    for (int frame = 0; frame < seconds * rate; ++frame) {
        const double time = frame / rate;
        const double at = std::clamp(inCourse(time), 0.0, lengthOf(course)) / course.step.value;
        const auto& pose = course.poses[static_cast<std::size_t>(std::lround(at))];
        technique::SeenPose seen{time, {}};
        for (std::size_t l = 0; l < pose.size(); ++l) {
            seen.points.emplace_back(l, Eigen::Vector2d(pose[l].x(), pose[l].z()));
        }
        poses.push_back(std::move(seen));
    }
    return poses;
}

const std::vector<double> fromThere{0.0};

} // namespace

/// A whole rep brought in step with how its technique is usually done.
class TestCourseAlignment : public QObject {
    Q_OBJECT
  private slots:
    void aRepIsFoundBetweenStandingStill();
    void goingBackIsNoRep();
    void aSlowRepIsFollowed();
    void whatTheFilmDoesNotHaveIsOutside();
    void whatIsCertainHolds();
    void theCameraIsFoundAmongThoseTried();
    void nothingComesOfTooLittle();
    void aSecondMovementIsNotTakenForTheRep();
    void withoutUsualMotionDetectorsStand();
};

void TestCourseAlignment::aRepIsFoundBetweenStandingStill() {
    const auto course = swing();
    constexpr double starts = 1.0;
    const auto found = technique::align(
        filmed(course, lengthOf(course) + 2.5, [&](double t) { return t - starts; }), course,
        fromThere);
    QCOMPARE(found.positions.size(), course.positions.size());
    for (const auto& [id, when] : course.positions) {
        const auto& belief = found.positions.at(id);
        QVERIFY2(std::abs(belief.time.value - when.value - starts) < 0.03, id.c_str());
        QVERIFY2(belief.inside > 0.95 && belief.here > 0.9, id.c_str());
    }
}

void TestCourseAlignment::goingBackIsNoRep() {
    const auto course = swing();
    const double whole = lengthOf(course);
    constexpr double starts = 0.5;
    constexpr double quick = 1.5; // goes back faster than it came
    const auto found = technique::align(
        filmed(course, 2.0 * whole + 2.0,
               [&](double t) {
                   const double into = t - starts;
                   return into < whole + 0.3 ? into : whole - quick * (into - whole - 0.3);
               }),
        course, fromThere);
    for (const auto& [id, when] : course.positions) {
        QVERIFY2(std::abs(found.positions.at(id).time.value - when.value - starts) < 0.05,
                 id.c_str());
    }
}

void TestCourseAlignment::aSlowRepIsFollowed() {
    const auto course = swing();
    constexpr double starts = 0.8;
    constexpr double pace = 0.8;
    const auto found = technique::align(filmed(course, lengthOf(course) / pace + 2.0,
                                               [&](double t) { return pace * (t - starts); }),
                                        course, fromThere);
    for (const char* id : {"toe_touch", "launch", "contact"}) {
        const double truth = starts + course.positions.at(id).value / pace;
        QVERIFY2(std::abs(found.positions.at(id).time.value - truth) < 0.06, id);
    }
}

void TestCourseAlignment::whatTheFilmDoesNotHaveIsOutside() {
    const auto course = swing();
    const double contact = course.positions.at("contact").value;
    const auto late = technique::align(
        filmed(course, 2.0, [&](double t) { return contact - 0.3 + t; }), course, fromThere);
    const auto inside = [](const technique::CourseAlignment& found, const char* id) {
        const auto belief = found.positions.find(id);
        return belief == found.positions.end() ? 0.0 : belief->second.inside;
    };
    QVERIFY(inside(late, "stance") < 0.1);
    QVERIFY(inside(late, "contact") > 0.9);
    QVERIFY(std::abs(late.positions.at("contact").time.value - 0.3) < 0.03);
    const auto early = technique::align(filmed(course, contact + 0.1, [&](double t) { return t; }),
                                        course, fromThere);
    QVERIFY(inside(early, "finish") < 0.1);
    QVERIFY(inside(early, "contact") > 0.9);
}

void TestCourseAlignment::whatIsCertainHolds() {
    // The same twice; the coach says which of them counts.
    const auto course = swing();
    const double whole = lengthOf(course);
    const double contact = course.positions.at("contact").value;
    const auto twice =
        filmed(course, 2.0 * whole + 2.0, [&](double t) { return std::fmod(t, whole + 1.0); });
    for (const double first : {0.0, whole + 1.0}) {
        const auto found =
            technique::align(twice, course, fromThere, {{"contact", first + contact}});
        for (const auto& [id, when] : course.positions) {
            QVERIFY2(std::abs(found.positions.at(id).time.value - first - when.value) < 0.06,
                     id.c_str());
        }
    }
}

void TestCourseAlignment::theCameraIsFoundAmongThoseTried() {
    const auto course = swing();
    const auto there = filmed(course, lengthOf(course) + 1.0, [](double t) { return t - 0.5; });
    const double turn = 0.5 * std::numbers::pi;
    const auto found = technique::align(there, course, {2.0 * turn, turn, 0.0, -turn});
    QCOMPARE(found.azimuth, 0.0);
}

void TestCourseAlignment::nothingComesOfTooLittle() {
    const auto course = swing();
    QVERIFY(technique::align({}, course, fromThere).positions.empty());
    const auto there = filmed(course, 1.0, [](double t) { return t; });
    QVERIFY(technique::align(there, {}, fromThere).positions.empty());
    QVERIFY(technique::align(there, course, {}).positions.empty());
    // A finish before the stance is no rep.
    QVERIFY(technique::align(there, course, fromThere, {{"finish", 0.2}, {"stance", 0.8}})
                .positions.empty());
}

/// Players of their own manner and tempo who bring the bat back or move once more afterwards: with
/// the whole rep fewer instants are at the other movement than a detector on its own takes there.
void TestCourseAlignment::aSecondMovementIsNotTakenForTheRep() {
    const auto packs = support::shippedPacks();
    int alone = 0;
    int together = 0;
    int there = 0;
    for (const std::uint32_t seed : {1201U, 1202U, 1203U, 1204U, 1205U, 1206U}) {
        const synth::FilmScene scene(study::filmOfRep(seed, study::Around::side));
        const auto pack = std::find_if(packs.begin(), packs.end(), [&](const technique::Pack& p) {
            return p.id == scene.spec().player.technique;
        });
        if (pack == packs.end()) {
            continue;
        }
        for (const study::Habit habit : {study::Habit::bringsBack, study::Habit::secondMovement}) {
            const study::PlayedRep played = study::playedRep(scene, seed, habit);
            const auto count = [&](const std::map<std::string, model::FoundInstant>& found) {
                constexpr double elsewhere = 0.25; // seconds
                int right = 0;
                for (const auto& [id, truth] : played.positions) {
                    const auto instant = found.find(id);
                    right += instant != found.end() &&
                                     std::abs(played.circumstances.time
                                                  .fieldTimes()[static_cast<std::size_t>(
                                                      instant->second.frame)]
                                                  .value -
                                              truth) < elsewhere
                                 ? 1
                                 : 0;
                }
                return right;
            };
            there += static_cast<int>(played.positions.size());
            alone += count(technique::findPositions(*pack, played.rep, played.circumstances));
            together +=
                count(technique::findPositions(*pack, played.rep, played.circumstances,
                                               prepare::usualCourse(*pack, played.circumstances)));
        }
    }
    QVERIFY(there > 0);
    qInfo("%d of %d alone, %d together", alone, there, together);
    QVERIFY2(
        together > alone,
        qPrintable(QString("%1 of %2 alone, %3 together").arg(alone).arg(there).arg(together)));
    QVERIFY(together >= 0.6 * there);
}

void TestCourseAlignment::withoutUsualMotionDetectorsStand() {
    technique::Pack own;
    own.id = "own_technique";
    QVERIFY(!prepare::usualCourse(own, {}));
}

QTEST_APPLESS_MAIN(TestCourseAlignment)
#include "test_course_alignment.moc"
