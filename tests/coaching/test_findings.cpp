#include "coaching/findings.h"
#include "coaching/review.h"
#include "support/made_readings.h"
#include "support/test_films.h"

#include <QTest>

#include <algorithm>

using namespace kestrel;
using model::Verdict;
using support::madeReading;

namespace {

std::vector<std::string> ids(const std::vector<model::Fault>& faults) {
    std::vector<std::string> list;
    for (const model::Fault& fault : faults) {
        list.push_back(fault.faultId);
    }
    return list;
}

bool has(const std::vector<std::string>& list, const std::string& id) {
    return std::find(list.begin(), list.end(), id) != list.end();
}

} // namespace

/// What readings mean.
class TestFindings : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { pack_ = support::pitchPack(); }
    void everySignGivesItsFault_data();
    void everySignGivesItsFault();
    void edgeIsOnlyWatched();
    void insideIsAStrength();
    void unreadableIsNothing();
    void confidenceGrowsWithDistance();
    void earliestCauseComesFirst();
    void safetyComesFirst();
    void causeOfASafetyFaultComesBeforeIt();
    void chainsRunThroughFaultsThatAreNotThere();
    void observationAnsweredNoIsAFault();
    void schoolsDecideWhatIsAFault();
    void dialledFaultsAreFound();
    void skilledPitchHasNoFault();
    void eachDialGivesItsFault_data();
    void eachDialGivesItsFault();

  private:
    model::Findings find(const std::vector<model::Reading>& readings,
                         const std::map<std::string, model::Seen>& observations = {},
                         const std::set<std::string>& schools = {}) const {
        return coaching::findingsOf(pack_, readings, observations, schools);
    }
    technique::Pack pack_;
};

void TestFindings::everySignGivesItsFault_data() {
    QTest::addColumn<QString>("measure");
    QTest::addColumn<double>("value");
    QTest::addColumn<QString>("fault");
    const auto row = [](const char* measure, double value, const char* fault) {
        QTest::newRow(fault) << QString(measure) << value << QString(fault);
    };
    row("set_feet_apart", 1.8, "wide_set");
    row("set_head_gather", 0.25, "no_gather");
    row("lift_posture_change", 20.0, "posture_rock");
    row("lift_head_over_pivot", 0.2, "drift");
    row("leg_after_hips", -150.0, "leg_before_hips");
    row("hands_after_hips", 200.0, "late_hand_break");
    row("stride_trail_knee", 80.0, "back_leg_collapse");
    row("stride_hips_lead", -0.1, "upper_body_first");
    row("stride_glove_elbow", 175.0, "glove_arm_locked");
    row("plant_stride_length", 0.4, "short_stride");
    row("plant_forearm", -5.0, "late_arm");
    row("plant_pelvis_tilt", 20.0, "tilt_not_undone");
    row("release_knee_change", -20.0, "soft_front_leg");
    row("release_glove", 0.5, "glove_drops");
    row("release_trunk_lean", 5.0, "upright_finish");
    row("finish_hand_below_knee", -0.2, "hand_short_of_knee");
    row("finish_balance", 0.1, "falls_off");
}

void TestFindings::everySignGivesItsFault() {
    QFETCH(QString, measure);
    QFETCH(double, value);
    QFETCH(QString, fault);
    const auto findings =
        find({madeReading(pack_, measure.toStdString(), value, std::abs(value) * 0.02)});
    QCOMPARE(ids(findings.faults), std::vector{fault.toStdString()});
    QCOMPARE(findings.faults.front().evidence.size(), std::size_t{1});
    QVERIFY(findings.watch.empty());
    QVERIFY(findings.strengths.empty());
}

void TestFindings::edgeIsOnlyWatched() {
    // 23° where 25° is good, measured to 4°: never called a fault.
    const auto findings = find({madeReading(pack_, "release_trunk_lean", 23.0, 4.0)});
    QVERIFY(findings.faults.empty());
    QCOMPARE(ids(findings.watch), std::vector<std::string>{"upright_finish"});
    QCOMPARE(findings.watch.front().confidence, model::Confidence::possible);
    // At the other limit it is the other direction, which no fault names.
    QVERIFY(find({madeReading(pack_, "release_trunk_lean", 46.0, 4.0)}).watch.empty());
}

void TestFindings::insideIsAStrength() {
    const auto findings = find({madeReading(pack_, "plant_lead_knee", 47.0, 5.0)});
    QCOMPARE(findings.strengths.size(), std::size_t{1});
    QCOMPARE(findings.strengths.front().measureId, std::string("plant_lead_knee"));
    QVERIFY(findings.whyFirst.empty());
}

void TestFindings::unreadableIsNothing() {
    model::Reading r = madeReading(pack_, "release_trunk_lean", 5.0, 1.0);
    r.value.reset();
    r.verdict = Verdict::unreadable;
    const auto findings = find({r});
    QVERIFY(findings.faults.empty() && findings.watch.empty() && findings.strengths.empty());
}

void TestFindings::confidenceGrowsWithDistance() {
    QCOMPARE(find({madeReading(pack_, "release_trunk_lean", 20.0, 4.0)}).faults.front().confidence,
             model::Confidence::likely);
    QCOMPARE(find({madeReading(pack_, "release_trunk_lean", 10.0, 4.0)}).faults.front().confidence,
             model::Confidence::sure);
}

void TestFindings::earliestCauseComesFirst() {
    // Back-leg collapse leads to an upright finish, which leads to the hand stopping short.
    const auto findings = find({madeReading(pack_, "finish_hand_below_knee", -0.4, 0.02),
                                madeReading(pack_, "release_trunk_lean", 0.0, 2.0),
                                madeReading(pack_, "stride_head_drop", 0.10, 0.02)});
    QCOMPARE(ids(findings.faults), (std::vector<std::string>{"back_leg_collapse", "upright_finish",
                                                             "hand_short_of_knee"}));
    QCOMPARE(findings.faults[0].leadsTo,
             (std::vector<std::string>{"hand_short_of_knee", "upright_finish"}));
    QCOMPARE(findings.faults[2].comesFrom,
             (std::vector<std::string>{"back_leg_collapse", "upright_finish"}));
    QCOMPARE(findings.whyFirst.id, std::string("first.cause"));
}

void TestFindings::safetyComesFirst() {
    const auto findings = find({madeReading(pack_, "set_feet_apart", 2.0, 0.05),
                                madeReading(pack_, "plant_abduction", 130.0, 3.0),
                                madeReading(pack_, "plant_forearm", -30.0, 3.0)});
    QVERIFY(has(ids(findings.faults), "strain_posture"));
    // The late arm leads to the strain posture and is what has to change; the wide set waits.
    QCOMPARE(findings.faults.front().faultId, std::string("late_arm"));
    QCOMPARE(ids(findings.faults)[1], std::string("strain_posture"));
    QCOMPARE(findings.whyFirst.id, std::string("first.leads_to_safety"));
    QVERIFY(findings.cautions.front().find("clinician") != std::string::npos);
}

void TestFindings::causeOfASafetyFaultComesBeforeIt() {
    const auto findings = find({madeReading(pack_, "hands_after_hips", 200.0, 8.0),
                                madeReading(pack_, "plant_abduction", 130.0, 3.0),
                                madeReading(pack_, "plant_forearm", -30.0, 3.0)});
    QCOMPARE(findings.faults.front().faultId, std::string("late_hand_break"));
}

void TestFindings::chainsRunThroughFaultsThatAreNotThere() {
    // Late hand break → (late arm, not seen) → strain … and upright finish.
    const auto findings = find({madeReading(pack_, "hands_after_hips", 200.0, 8.0),
                                madeReading(pack_, "release_trunk_lean", 0.0, 2.0)});
    QCOMPARE(findings.faults.front().leadsTo, std::vector<std::string>{"upright_finish"});
}

void TestFindings::observationAnsweredNoIsAFault() {
    using model::Seen;
    QCOMPARE(ids(find({}, {{"eyes_on_target", Seen::no}}).faults),
             std::vector<std::string>{"late_eyes"});
    QVERIFY(find({}, {{"eyes_on_target", Seen::yes}}).faults.empty());
    QVERIFY(find({}, {{"eyes_on_target", Seen::notVisible}}).faults.empty());
    const auto findings = find({}, {{"eyes_on_target", Seen::no}});
    QCOMPARE(findings.faults.front().confidence, model::Confidence::sure);
    QCOMPARE(findings.faults.front().denials, std::vector<std::string>{"eyes_on_target"});
}

void TestFindings::schoolsDecideWhatIsAFault() {
    const std::vector<model::Reading> soft{madeReading(pack_, "release_knee_change", -20.0, 3.0)};
    QVERIFY(has(ids(find(soft).faults), "soft_front_leg"));
    QVERIFY(!has(ids(find(soft, {}, {"fold"}).faults), "soft_front_leg"));
}

void TestFindings::dialledFaultsAreFound() {
    const synth::FilmSpec& spec = support::faulty().spec;
    const auto review = coaching::reviewOf(pack_, support::trueRep(spec), support::openSide(spec));
    const auto found = ids(review.findings.faults);
    for (const char* id : {"late_arm", "back_leg_collapse", "upright_finish"}) {
        QVERIFY2(has(found, id), id);
    }
    QCOMPARE(review.plan.focusFaultId, std::string("back_leg_collapse"));
}

void TestFindings::skilledPitchHasNoFault() {
    for (const support::TestFilm* film : {&support::rightHander(), &support::leftHander()}) {
        const auto review =
            coaching::reviewOf(pack_, support::trueRep(film->spec), support::openSide(film->spec));
        QVERIFY2(review.findings.faults.empty(),
                 review.findings.faults.empty() ? ""
                                                : review.findings.faults.front().faultId.c_str());
        QVERIFY(review.findings.strengths.size() >= 8);
        QVERIFY(review.plan.focusFaultId.empty());
        QVERIFY(!review.plan.strengthIds.empty());
    }
}

void TestFindings::eachDialGivesItsFault_data() {
    QTest::addColumn<double>("late");
    QTest::addColumn<double>("drop");
    QTest::addColumn<double>("upright");
    QTest::addColumn<QStringList>("expected");
    QTest::newRow("late arm") << 70.0 << 0.0 << 0.0 << QStringList{"late_arm"};
    QTest::newRow("back leg") << 0.0 << 0.06 << 0.0 << QStringList{"back_leg_collapse"};
    // The chest that stays up keeps the hand from passing the knee: its own consequence.
    QTest::newRow("upright") << 0.0 << 0.0 << 24.0
                             << QStringList{"hand_short_of_knee", "upright_finish"};
}

void TestFindings::eachDialGivesItsFault() {
    QFETCH(double, late);
    QFETCH(double, drop);
    QFETCH(double, upright);
    QFETCH(QStringList, expected);
    synth::FilmSpec spec = support::rightHander().spec;
    spec.player.dials = {
        {"late_arm", late}, {"back_leg_collapse", drop}, {"upright_finish", upright}};
    const auto review = coaching::reviewOf(pack_, support::trueRep(spec), support::openSide(spec));
    QStringList found;
    for (const std::string& id : ids(review.findings.faults)) {
        found << QString::fromStdString(id);
    }
    found.sort();
    QCOMPARE(found, expected);
}

QTEST_GUILESS_MAIN(TestFindings)
#include "test_findings.moc"
