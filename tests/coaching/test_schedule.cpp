#include "coaching/schedule.h"
#include "model/input_error.h"
#include "support/day.h"
#include "support/test_films.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>
#include <map>
#include <set>

using namespace kestrel;
using support::operator""_day;
using coaching::Drill;
using coaching::DrillPlace;
using model::Day;

namespace {

Drill made(const std::string& id, DrillPlace place, int minutes, bool throws = false,
           std::vector<std::string> equipment = {}) {
    Drill drill;
    drill.id = id;
    drill.name = id;
    drill.place = place;
    drill.doses = {{9, "few"}, {std::nullopt, "many"}};
    drill.minutes = minutes;
    drill.throws = throws;
    drill.equipment = std::move(equipment);
    return drill;
}

const Day monday = "2026-11-30"_day;

} // namespace

/// The dated homework.
class TestSchedule : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void daysAreTheWishedOnes();
    void noSessionIsLongerThanWished();
    void wayGoesFromHomeToTheField();
    void everyDrillIsUsed();
    void noThrowsOnRestDays();
    void noThrowsOnFollowingDays();
    void movedDayIsKept();
    void whatIsDoneStays();
    void missedDrillsComeBack();
    void whatCannotBeDoneIsSaid();
    void dosesFollowAge();
    void aDrillThatComesBackStepsUp();
    void ruleGivesRest_data();
    void ruleGivesRest();
    void wrongRuleIsRefused_data();
    void wrongRuleIsRefused();
    void shippedDrillsGiveAPlanForEveryFault();
    void searchNarrows();

  private:
    coaching::Schedule plan(const model::PlanWish& wish, const model::Homework& before = {},
                            Day today = "2026-11-29"_day) const {
        return coaching::scheduleOf(drills_, ids_, wish, rule_, 12, today, before);
    }
    static model::PlanWish threeDays() {
        model::PlanWish wish;
        wish.weekdays = {1, 3, 6};
        wish.nextVisit = "2026-12-28"_day;
        return wish;
    }
    static std::set<Day> daysOf(const model::Homework& homework) {
        std::set<Day> days;
        for (const auto& item : homework) {
            days.insert(item.day);
        }
        return days;
    }

    coaching::DrillLibrary drills_;
    std::vector<std::string> ids_{"mirror", "wall", "throws"};
    coaching::LoadRule rule_;
};

void TestSchedule::initTestCase() {
    drills_ = {{"mirror", made("mirror", DrillPlace::home, 5)},
               {"wall", made("wall", DrillPlace::aid, 6, false, {"wall"})},
               {"throws", made("throws", DrillPlace::field, 8, true, {"ball"})}};
    rule_ = coaching::exampleLoadRule(KESTREL_PACKS);
}

void TestSchedule::daysAreTheWishedOnes() {
    const coaching::Schedule s = plan(threeDays());
    const std::set<Day> days = daysOf(s.homework);
    // 30 November 2026 is a Monday; four weeks of three days, the visit's own day not among them.
    QCOMPARE(days.size(), std::size_t{12});
    QCOMPARE(*days.begin(), monday);
    QCOMPARE(*days.rbegin(), Day("2026-12-26"_day));
    for (Day day : days) {
        QVERIFY(threeDays().weekdays.contains(*model::weekdayOf(day)));
    }
}

void TestSchedule::noSessionIsLongerThanWished() {
    for (const int minutes : {8, 11, 13, 20}) {
        model::PlanWish wish = threeDays();
        wish.minutes = minutes;
        std::map<Day, int> all;
        for (const auto& item : plan(wish).homework) {
            all[item.day] += item.minutes;
        }
        QVERIFY(!all.empty());
        for (const auto& [day, took] : all) {
            QVERIFY2(took <= minutes, day.iso().c_str());
        }
    }
}

void TestSchedule::wayGoesFromHomeToTheField() {
    const coaching::Schedule s = plan(threeDays());
    model::Stage reached = model::Stage::learn;
    for (const auto& item : s.homework) {
        QVERIFY(item.stage >= reached); // never back
        reached = item.stage;
        if (item.stage == model::Stage::learn) {
            QVERIFY(item.drillId != "throws");
        }
    }
    QCOMPARE(reached, model::Stage::play);
    const auto last = s.homework.back().day;
    QVERIFY(std::any_of(s.homework.begin(), s.homework.end(), [&](const auto& item) {
        return item.day == last && item.drillId == "throws";
    }));
}

void TestSchedule::everyDrillIsUsed() {
    model::PlanWish wish = threeDays();
    wish.minutes = 8; // never two at once
    std::set<std::string> used;
    for (const auto& item : plan(wish).homework) {
        used.insert(item.drillId);
    }
    QCOMPARE(used.size(), std::size_t{3});
}

void TestSchedule::noThrowsOnRestDays() {
    model::PlanWish wish = threeDays();
    wish.weekdays = {1, 2, 3, 4, 5, 6, 7};
    wish.throwsOn = {{5, 40}}; // Friday's game: two days of rest at twelve
    const coaching::Schedule s = plan(wish);
    int throws = 0;
    for (const auto& item : s.homework) {
        if (item.drillId == "throws") {
            ++throws;
            const int day = *model::weekdayOf(item.day);
            QVERIFY2(day != 5 && day != 6 && day != 7, item.day.iso().c_str());
        }
    }
    QVERIFY(throws >= 4);
    QVERIFY(s.restDays.contains("2026-12-05"_day)); // a Saturday
    QVERIFY(std::any_of(s.remarks.begin(), s.remarks.end(),
                        [](const model::Message& r) { return r.id == "plan.throws_kept_off"; }));
}

void TestSchedule::noThrowsOnFollowingDays() {
    model::PlanWish wish = threeDays();
    wish.weekdays = {1, 2, 3, 4, 5, 6, 7};
    Day before;
    for (const auto& item : plan(wish).homework) {
        if (item.drillId == "throws") {
            QVERIFY(before.empty() || *model::daysBetween(before, item.day) >= 2);
            before = item.day;
        }
    }
    QVERIFY(!before.empty());
}

void TestSchedule::movedDayIsKept() {
    model::PlanWish wish = threeDays();
    const model::Homework first = plan(wish).homework;
    wish.moved = {{"2026-12-02"_day, "2026-12-03"_day}};
    const std::set<Day> days = daysOf(plan(wish, first).homework);
    QVERIFY(!days.contains("2026-12-02"_day));
    QVERIFY(days.contains("2026-12-03"_day));
    QCOMPARE(days.size(), std::size_t{12});
}

void TestSchedule::whatIsDoneStays() {
    model::Homework first = plan(threeDays()).homework;
    first.front().doneOn = first.front().day;
    const model::HomeworkItem done = first.front();
    model::PlanWish fewer = threeDays();
    fewer.weekdays = {4};
    const model::Homework second = plan(fewer, first, "2026-12-08"_day).homework;
    QCOMPARE(second.front(), done);
    for (const auto& item : second) {
        if (item.day > "2026-12-08"_day) {
            QCOMPARE(*model::weekdayOf(item.day), 4);
        } else {
            QVERIFY(std::find(first.begin(), first.end(), item) != first.end());
        }
    }
}

void TestSchedule::missedDrillsComeBack() {
    // Only the mirror was ever planned, and the days have gone by: the others still come.
    model::Homework before;
    for (const model::Day day : {"2026-11-30"_day, "2026-12-02"_day, "2026-12-05"_day}) {
        before.push_back({day, "mirror", 5, "many", model::Stage::learn, {}});
    }
    model::PlanWish wish = threeDays();
    wish.minutes = 8;
    std::set<std::string> ahead;
    for (const auto& item : plan(wish, before, "2026-12-06"_day).homework) {
        if (item.day > "2026-12-06"_day) {
            ahead.insert(item.drillId);
        }
    }
    QVERIFY(ahead.contains("wall") && ahead.contains("throws"));
}

void TestSchedule::whatCannotBeDoneIsSaid() {
    model::PlanWish wish = threeDays();
    wish.lacks = {"wall"};
    wish.fieldDrills = false;
    coaching::Schedule s = plan(wish);
    for (const auto& item : s.homework) {
        QCOMPARE(item.drillId, std::string("mirror"));
    }
    QCOMPARE(s.remarks.size(), std::size_t{2});
    wish.minutes = 3;
    s = plan(wish);
    QVERIFY(s.homework.empty());
    QCOMPARE(s.remarks.back().id, std::string("plan.no_drill"));
    wish = threeDays();
    wish.weekdays.clear();
    QCOMPARE(plan(wish).remarks.back().id, std::string("plan.no_day"));
}

void TestSchedule::dosesFollowAge() {
    const auto dose = [&](int age) {
        return coaching::scheduleOf(drills_, ids_, threeDays(), rule_, age, "2026-11-29"_day, {})
            .homework.front()
            .dose;
    };
    QCOMPARE(dose(8), std::string("few"));
    QCOMPARE(dose(14), std::string("many"));
}

void TestSchedule::aDrillThatComesBackStepsUp() {
    coaching::DrillLibrary drills = drills_;
    drills.at("mirror").progression = "Close your eyes.";
    const auto planned = [&](const model::Homework& before, Day today) {
        return coaching::scheduleOf(drills, {"mirror"}, threeDays(), rule_, 12, today, before)
            .homework;
    };
    const model::Homework homework = planned({}, "2026-11-29"_day);
    QVERIFY(homework.size() > 6);
    for (const auto& item : homework) {
        QCOMPARE(item.dose, std::string("many"));
        QCOMPARE(words::inWords(coaching::doseOf(homework, item, drills)),
                 item.stage == model::Stage::learn ? QString("many") : QString("many, stepped up"));
    }
    // What was begun before it is planned anew is not begun again.
    const auto settled = std::find_if(homework.begin(), homework.end(), [](const auto& item) {
        return item.stage == model::Stage::settle;
    });
    const model::Homework anew = planned(homework, settled->day);
    QCOMPARE(anew, homework);
}

void TestSchedule::ruleGivesRest_data() {
    QTest::addColumn<int>("age");
    QTest::addColumn<int>("throws");
    QTest::addColumn<int>("days");
    QTest::newRow("few") << 12 << 19 << 0;
    QTest::newRow("some") << 12 << 20 << 1;
    QTest::newRow("many") << 12 << 36 << 2;
    QTest::newRow("most") << 12 << 90 << 3;
    QTest::newRow("small child") << 8 << 30 << 2;
    QTest::newRow("grown") << 30 << 30 << 1;
    QTest::newRow("age not known: the most careful") << -1 << 45 << 3;
}

void TestSchedule::ruleGivesRest() {
    QFETCH(int, age);
    QFETCH(int, throws);
    QFETCH(int, days);
    const std::optional<int> known = age < 0 ? std::nullopt : std::optional(age);
    QCOMPARE(coaching::restDaysAfter(rule_, known, throws), days);
}

void TestSchedule::wrongRuleIsRefused_data() {
    QTest::addColumn<QString>("bands");
    QTest::addColumn<QString>("reason");
    const QString rest = R"("rest": [{"from_throws": 20, "days": 1}])";
    QTest::newRow("nobody older") << "[{\"age_to\": 12, " + rest + "}]"
                                  << "everybody older";
    QTest::newRow("wrong order") << "[{\"age_to\": 14, " + rest + "}, {\"age_to\": 10, " + rest +
                                        "}, {" + rest + "}]"
                                 << "youngest to the oldest";
    QTest::newRow("everybody first") << "[{" + rest + "}, {" + rest + "}]"
                                     << "youngest to the oldest";
    QTest::newRow("no rest") << "[{\"rest\": []}]"
                             << "/bands/0/rest";
    QTest::newRow("cut off") << "[{"
                             << "well-formed";
}

void TestSchedule::wrongRuleIsRefused() {
    QFETCH(QString, bands);
    QFETCH(QString, reason);
    const QString rule =
        R"({"format": 1, "name": "Ours", "basis": "league", "bands": )" + bands + "}";
    try {
        (void)coaching::loadRuleFromText(rule.toStdString(), "load_rule.json",
                                         coaching::loadRuleSchema(KESTREL_PACKS));
        QFAIL("taken");
    } catch (const model::InputError& error) {
        QVERIFY2(words::inWords(error.happened()).contains(reason),
                 qPrintable(words::inWords(error)));
    }
}

/// Every fault of every pack gets a plan in the usual time, and keeps to it.
void TestSchedule::shippedDrillsGiveAPlanForEveryFault() {
    const coaching::DrillLibrary shipped = support::drills();
    model::PlanWish wish = coaching::usualWish();
    wish.nextVisit = "2026-12-28"_day;
    int faults = 0;
    for (const technique::Pack& pack : support::shippedPacks()) {
        for (const technique::FaultDefinition& fault : pack.faults) {
            const coaching::Schedule s =
                coaching::scheduleOf(shipped, fault.drills, wish, rule_, 11, "2026-11-29"_day, {});
            const std::set<Day> days = daysOf(s.homework);
            QVERIFY2(days.size() == 12, (pack.id + " " + fault.id).c_str());
            ++faults;
        }
    }
    QVERIFY(faults > 100);
}

void TestSchedule::searchNarrows() {
    const coaching::DrillLibrary shipped = support::drills();
    coaching::DrillSearch search;
    QCOMPARE(coaching::searchDrills(shipped, search).size(), shipped.size());
    search.place = DrillPlace::home;
    search.equipment = "";
    search.mostMinutes = 4;
    const auto few = coaching::searchDrills(shipped, search);
    QVERIFY(!few.empty() && few.size() < shipped.size() / 2);
    for (const Drill* drill : few) {
        QVERIFY(drill->place == DrillPlace::home && drill->equipment.empty() &&
                drill->minutes <= 4);
    }
    search = {};
    search.words = "MIRROR knee";
    for (const Drill* drill : coaching::searchDrills(shipped, search)) {
        QString all = QString::fromStdString(drill->name + drill->setUp);
        for (const std::string& step : drill->steps) {
            all += QString::fromStdString(step);
        }
        QVERIFY(all.contains("mirror", Qt::CaseInsensitive));
        QVERIFY(all.contains("knee", Qt::CaseInsensitive));
    }
    const technique::Pack pack = support::pitchPack();
    search = {};
    search.fault = technique::findFault(pack, "late_arm");
    QCOMPARE(coaching::searchDrills(shipped, search).size(), search.fault->drills.size());
    search.equipment = "towel";
    for (const Drill* drill : coaching::searchDrills(shipped, search)) {
        QVERIFY(std::find(drill->equipment.begin(), drill->equipment.end(), "towel") !=
                drill->equipment.end());
    }
}

QTEST_GUILESS_MAIN(TestSchedule)
#include "test_schedule.moc"
