#include "coaching/visit.h"
#include "support/judged_player.h"
#include "support/page.h"
#include "support/test_films.h"
#include "synth/motion_sheet.h"

#include <QTest>

#include <algorithm>
#include <functional>
#include <map>
#include <set>

using namespace kestrel;

namespace {

/// Dials that are named like a fault which some reading shows.
std::vector<std::string> dialsOf(const technique::Pack& pack) {
    std::vector<std::string> dials;
    for (const auto& [dial, spec] : synth::loadMotionSheet(pack.id).dials) {
        const technique::FaultDefinition* fault = technique::findFault(pack, dial);
        if (fault != nullptr &&
            std::any_of(fault->signs.begin(), fault->signs.end(), [](const technique::Sign& s) {
                return s.is != technique::Sign::Is::denied;
            })) {
            dials.push_back(dial);
        }
    }
    return dials;
}

/// The fault and all that the pack names as its earlier causes.
std::set<std::string> withCauses(const technique::Pack& pack, const std::string& fault) {
    std::set<std::string> causes;
    const std::function<void(const std::string&)> follow = [&](const std::string& id) {
        if (!causes.insert(id).second) {
            return;
        }
        for (const technique::FaultDefinition& f : pack.faults) {
            if (std::find(f.leadsTo.begin(), f.leadsTo.end(), id) != f.leadsTo.end()) {
                follow(f.id);
            }
        }
    };
    follow(fault);
    return causes;
}

/// Whether one reading would have to be beyond both ends of its range: nobody has both faults.
bool contradict(const technique::Pack& pack, const std::string& one, const std::string& other) {
    for (const technique::Sign& a : technique::findFault(pack, one)->signs) {
        for (const technique::Sign& b : technique::findFault(pack, other)->signs) {
            using Is = technique::Sign::Is;
            if (a.measure == b.measure && ((a.is == Is::above && b.is == Is::below) ||
                                           (a.is == Is::below && b.is == Is::above))) {
                return true;
            }
        }
    }
    return false;
}

struct Named {
    std::string focus; ///< empty when no fault was found for certain
    bool right = false;
};

/// The focus of a visit in which a player with two dials turned fully is filmed once from every
/// view that can show one of them.
Named focusOf(const technique::Pack& pack, const std::string& one, const std::string& other) {
    const synth::MotionSheet sheet = synth::loadMotionSheet(pack.id);
    const technique::FaultDefinition& first = *technique::findFault(pack, one);
    const technique::FaultDefinition& second = *technique::findFault(pack, other);
    std::set<model::View> views = support::viewsOf(pack, first);
    const std::set<model::View> more = support::viewsOf(pack, second);
    views.insert(more.begin(), more.end());
    const std::string school = first.school.empty() ? second.school : first.school;
    std::vector<coaching::RepOfVisit> reps;
    for (const model::View view : views) {
        synth::FilmSpec film = support::skilled(pack, view, model::Hand::right, "");
        film.player.dials[one] = sheet.dials.at(one).most;
        film.player.dials[other] = sheet.dials.at(other).most;
        const support::Judged j = support::judged(pack, film, school);
        reps.push_back(
            {model::RepId(static_cast<std::int64_t>(reps.size()) + 1), j.readings, {}, j.schools});
    }
    Named named;
    named.focus = coaching::visitReviewOf(pack, {}, reps, {}).plan.focusFaultId;
    named.right = withCauses(pack, one).contains(named.focus) ||
                  withCauses(pack, other).contains(named.focus);
    return named;
}

} // namespace

/// Players with two faults at once: what the program takes for the one to work on.
class TestFocus : public QObject {
    Q_OBJECT
  private slots:
    void focusIsAFaultThatWasDialled();
};

/// Every fifth pair; where pages are written (support/page.h) all of them, for docs/focus.md.
void TestFocus::focusIsAFaultThatWasDialled() {
    const bool all = support::pagesAreWritten();
    QString page =
        "# The focus named for players with two faults\n\n"
        "Made by `./kestrel pages` (ten minutes). Two dials of the "
        "synthetic player that are named\nlike faults were turned fully at once, the right-handed "
        "player filmed from every view in which a sign of either can\nbe read, true landmarks with "
        "a careful hand's uncertainty; all films together make a visit. The focus is right when it "
        "is\none of the two faults or what the pack names as an earlier cause of one. Faults that "
        "are the two ends of one reading are\nnot paired.\n\n"
        "| technique | pairs | right | without a certain finding | wrong "
        "|\n|---|---|---|---|---|\n";
    int pairs = 0;
    int right = 0;
    int number = 0;
    for (const technique::Pack& pack : support::shippedPacks()) {
        const std::vector<std::string> dials = dialsOf(pack);
        int here = 0;
        int rightHere = 0;
        int without = 0;
        QStringList wrong;
        for (std::size_t i = 0; i < dials.size(); ++i) {
            for (std::size_t k = i + 1; k < dials.size(); ++k) {
                constexpr int shortStep = 5;
                if (contradict(pack, dials[i], dials[k]) || (!all && number++ % shortStep != 0)) {
                    continue;
                }
                const Named named = focusOf(pack, dials[i], dials[k]);
                const QString pair =
                    QString::fromStdString("`" + dials[i] + "` with `" + dials[k] +
                                           "`: " + (named.focus.empty() ? "nothing" : named.focus));
                ++here;
                rightHere += named.right ? 1 : 0;
                without += named.focus.empty() ? 1 : 0;
                if (!named.right) {
                    wrong << pair;
                }
            }
        }
        page += QString("| %1 | %2 | %3 | %4 | %5 |\n")
                    .arg(QString::fromStdString(pack.name))
                    .arg(here)
                    .arg(rightHere)
                    .arg(without)
                    .arg(wrong.isEmpty() ? "–" : wrong.join("; "));
        pairs += here;
        right += rightHere;
    }
    page += QString("\nOf %1 pairs %2 give a right focus (%3 %).\n")
                .arg(pairs)
                .arg(right)
                .arg(100.0 * right / pairs, 0, 'f', 1);
    qInfo("%d of %d pairs give a right focus", right, pairs);
    support::writePage(page, "focus.md");
    constexpr double share = 0.9;
    QVERIFY(pairs > 50);
    QVERIFY2(right >= share * pairs, qPrintable(QString("%1 of %2").arg(right).arg(pairs)));
}

QTEST_GUILESS_MAIN(TestFocus)
#include "test_focus.moc"
