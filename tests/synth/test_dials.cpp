#include "study/dial_study.h"
#include "support/motions.h"

#include <cmath>

using namespace kestrel;

/// The fault dials must do what they say, and little else.
class TestDials : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void movesItsQuantityByTheAmount_data() { techniqueRows(); }
    void movesItsQuantityByTheAmount();
    void leavesTheRestAlone_data() { techniqueRows(); }
    void leavesTheRestAlone();
    void worksForEveryBodyAndHand();
    void twoDialsAddUp();
    void unknownDialIsRefused();

  private:
    void techniqueRows();

    std::map<std::string, study::DialStudy> studies_;
};

void TestDials::initTestCase() {
    for (const std::string& technique : support::techniquesToStudy()) {
        synth::PlayerSpec player;
        player.technique = technique;
        try {
            studies_.emplace(technique, study::studyDials(player));
        } catch (const std::exception& e) {
            QFAIL((technique + ": " + e.what()).c_str());
        }
    }
}

void TestDials::techniqueRows() {
    QTest::addColumn<std::string>("technique");
    for (const auto& [technique, study] : studies_) {
        QTest::newRow(technique.c_str()) << technique;
    }
}

void TestDials::movesItsQuantityByTheAmount() {
    QFETCH(std::string, technique);
    const study::DialStudy& study = studies_.at(technique);
    QVERIFY(study.effects.size() >= 9);
    double before = 0.0;
    for (const study::DialEffect& effect : study.effects) {
        const double most = study.sheet.dials.at(effect.dial).most;
        QVERIFY2(std::abs(effect.moved - effect.amount) < 0.002 * most,
                 qPrintable(QString("%1: asked %2, moved %3")
                                .arg(QString::fromStdString(effect.dial))
                                .arg(effect.amount)
                                .arg(effect.moved)));
        QVERIFY(effect.amount < 0.3 * most || effect.moved > before);
        before = effect.moved;
    }
}

void TestDials::leavesTheRestAlone() {
    QFETCH(std::string, technique);
    const study::DialStudy& study = studies_.at(technique);
    for (const study::DialEffect& effect : study.effects) {
        const auto& allowed = study.sheet.dials.at(effect.dial).alsoMoves;
        for (const auto& [quantity, moved] : effect.others) {
            QVERIFY2(std::find(allowed.begin(), allowed.end(), quantity) != allowed.end(),
                     qPrintable(QString("%1 at %2 moves %3 by %4, naturally %5")
                                    .arg(QString::fromStdString(effect.dial))
                                    .arg(effect.amount)
                                    .arg(QString::fromStdString(quantity))
                                    .arg(moved)
                                    .arg(study.natural.at(quantity))));
        }
    }
}

void TestDials::worksForEveryBodyAndHand() {
    for (const auto& build : {synth::Build{1.25, synth::AgeBand::under10, synth::Sex::female},
                              synth::Build{1.90, synth::AgeBand::adult, synth::Sex::male}}) {
        for (const auto& [technique, study] : studies_) {
            synth::PlayerSpec spec;
            spec.technique = technique;
            spec.build = build;
            spec.hand = model::Hand::left;
            const synth::PlayerMotion clean(spec);
            for (const auto& [id, dial] : study.sheet.dials) {
                spec.dials = {{id, 0.5 * dial.most}};
                double moved = 0.0;
                try {
                    moved = synth::PlayerMotion(spec).quantity(dial.quantity) -
                            clean.quantity(dial.quantity);
                } catch (const std::exception& e) {
                    QFAIL((technique + ": " + e.what()).c_str());
                }
                QVERIFY2(std::abs(dial.direction * moved - 0.5 * dial.most) < 0.002 * dial.most,
                         (technique + " " + id).c_str());
            }
        }
    }
}

void TestDials::twoDialsAddUp() {
    // Faults that have nothing to do with each other are both there when both are dialled.
    synth::PlayerSpec spec;
    const synth::PlayerMotion clean(spec);
    spec.dials = {{"late_arm", 50.0}, {"back_leg_collapse", 0.05}};
    const synth::PlayerMotion both(spec);
    QVERIFY(std::abs(both.quantity("arm_up_after_plant") - clean.quantity("arm_up_after_plant") -
                     50.0) < 5.0);
    QVERIFY(std::abs(both.quantity("stride_head_drop") - clean.quantity("stride_head_drop") -
                     0.05) < 0.005);
}

void TestDials::unknownDialIsRefused() {
    synth::PlayerSpec spec;
    spec.dials = {{"no_such_dial", 1.0}};
    QVERIFY_EXCEPTION_THROWN(synth::PlayerMotion{spec}, std::invalid_argument);
    spec.dials.clear();
    spec.variant = "no_such_variant";
    QVERIFY_EXCEPTION_THROWN(synth::PlayerMotion{spec}, std::invalid_argument);
}

QTEST_GUILESS_MAIN(TestDials)
#include "test_dials.moc"
