#include "coaching/plan.h"
#include "coaching/review.h"
#include "support/test_films.h"
#include "words/words.h"

#include <QTest>

using namespace kestrel;

/// What the player takes home.
class TestPlan : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void oneFocusAndAtMostTwoToWatch();
    void cuesAndDrillsBelongToTheFocus();
    void coachMayChooseAnotherFocus();
    void choiceOfNothingKnownIsTheProposal();
    void coachMayChooseDrills();
    void strengthsAreNamed();
    void dosesFollowAge();
    void jsonSaysTheSame();

  private:
    technique::Pack pack_;
    coaching::DrillLibrary drills_;
    coaching::Review review_;
};

void TestPlan::initTestCase() {
    pack_ = support::pitchPack();
    drills_ = support::drills();
    const synth::FilmSpec& spec = support::faulty().spec;
    review_ = coaching::reviewOf(pack_, support::trueRep(spec), support::openSide(spec));
    QVERIFY(review_.findings.faults.size() >= 3);
}

void TestPlan::oneFocusAndAtMostTwoToWatch() {
    QCOMPARE(review_.plan.focusFaultId, review_.findings.faults.front().faultId);
    QCOMPARE(review_.plan.watchFaultIds.size(), std::size_t{2});
    for (const std::string& id : review_.plan.watchFaultIds) {
        QVERIFY(id != review_.plan.focusFaultId);
    }
}

void TestPlan::cuesAndDrillsBelongToTheFocus() {
    const technique::FaultDefinition& focus =
        *technique::findFault(pack_, review_.plan.focusFaultId);
    QCOMPARE(review_.plan.cueTexts, focus.cues);
    QCOMPARE(review_.plan.drillIds, focus.drills);
}

void TestPlan::coachMayChooseAnotherFocus() {
    model::PlanChoice choice;
    choice.focusFaultId = "late_arm";
    const model::Plan plan = coaching::planFor(pack_, drills_, review_.findings, choice);
    QCOMPARE(plan.focusFaultId, std::string("late_arm"));
    QCOMPARE(plan.cueTexts, technique::findFault(pack_, "late_arm")->cues);
    QCOMPARE(plan.watchFaultIds.front(), review_.findings.faults.front().faultId);
}

void TestPlan::choiceOfNothingKnownIsTheProposal() {
    model::PlanChoice choice;
    choice.focusFaultId = "wide_set"; // not found in this rep
    choice.drillIds = {"no_such_drill"};
    const model::Plan plan = coaching::planFor(pack_, drills_, review_.findings, choice);
    QCOMPARE(plan.focusFaultId, review_.findings.faults.front().faultId);
    QVERIFY(!plan.drillIds.empty());
}

void TestPlan::coachMayChooseDrills() {
    const technique::FaultDefinition& focus =
        *technique::findFault(pack_, review_.plan.focusFaultId);
    model::PlanChoice choice;
    choice.drillIds = {focus.drills.back()};
    QCOMPARE(coaching::planFor(pack_, drills_, review_.findings, choice).drillIds, choice.drillIds);
}

void TestPlan::strengthsAreNamed() {
    QVERIFY(!review_.plan.strengthIds.empty());
    QVERIFY(review_.plan.strengthIds.size() <= 3);
    for (const std::string& id : review_.plan.strengthIds) {
        QCOMPARE(support::reading(review_.readings, id).verdict, model::Verdict::inside);
    }
}

void TestPlan::dosesFollowAge() {
    const coaching::Drill& drill = drills_.at("walk_into_throws");
    QCOMPARE(coaching::doseFor(drill, 8), std::string("10 easy throws"));
    QCOMPARE(coaching::doseFor(drill, 12), std::string("15 easy throws"));
    QCOMPARE(coaching::doseFor(drill, 17), std::string("20 throws at half effort"));
    QCOMPARE(coaching::doseFor(drill, std::nullopt), std::string("20 throws at half effort"));
}

void TestPlan::jsonSaysTheSame() {
    const nlohmann::json json = coaching::reviewToJson(pack_, review_, words::plain);
    QCOMPARE(json.at("plan").at("focus").get<std::string>(), review_.plan.focusFaultId);
    QCOMPARE(json.at("faults").size(), review_.findings.faults.size());
    QCOMPARE(json.at("faults")[0].at("evidence")[0].at("verdict").get<std::string>(),
             std::string("outside"));
    QVERIFY(!json.at("why_first").get<std::string>().empty());
    QVERIFY(json.at("cautions").size() >= 3);
}

QTEST_GUILESS_MAIN(TestPlan)
#include "test_plan.moc"
