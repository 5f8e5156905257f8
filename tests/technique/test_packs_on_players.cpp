#include "coaching/findings.h"
#include "support/test_films.h"
#include "synth/motion_sheet.h"
#include "synth/placed_by_hand.h"
#include "technique/kinds/measure_kind.h"

#include "support/judged_player.h"
#include "support/page.h"
#include "words/words.h"

#include <QTest>

#include <algorithm>
#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace kestrel;
using support::Judged;
using support::judged;
using support::skilled;
using support::viewsOf;

namespace {

/// Faults whose dial, turned fully, leaves their reading at the edge of its range: what points out
/// of the picture hides how large it is, and one view can only raise the suspicion. The coach
/// looks then.
const std::set<std::pair<std::string, std::string>>& onlySuspected() {
    static const std::set<std::pair<std::string, std::string>> faults{
        {"bat_swing", "arm_bar"}, // its other sign is the coach's eye
        {"snap_shot", "top_hand_glued"},
        {"underspin_backhand", "collapsed_elbow"},
        {"jump_shot", "stiff_landing"}, // its dial stays inside the range
        {"jump_shot", "tight_elbow"},
        {"tennis_serve", "stiff_legs"},
        {"tennis_serve", "one_legged_push"},
        {"tennis_serve", "foot_fault"}, // needs the court itself marked: test_on_ground
    };
    return faults;
}

QString said(const model::Reading& r) {
    return QString("%1 = %2 ± %3%4")
        .arg(QString::fromStdString(r.measureId))
        .arg(r.value.value_or(NAN))
        .arg(r.u95)
        .arg(r.range ? QString(", good %1 to %2")
                           .arg(r.range->low.value_or(-INFINITY))
                           .arg(r.range->high.value_or(INFINITY))
                     : QString());
}

} // namespace

/// Every pack that ships, on the synthetic player of its technique.
class TestPacksOnPlayers : public QObject {
    Q_OBJECT
  private slots:
    void everyPositionIsKnownOfThePlayer_data() { perPack(); }
    void everyPositionIsKnownOfThePlayer();
    void theSkilledPlayerIsInside_data() { perPackViewAndHand(); }
    void theSkilledPlayerIsInside();
    void readingsHoldTheTruth_data() { perPackViewAndHand(); }
    void readingsHoldTheTruth();
    void aDialledFaultIsFound_data() { perPack(); }
    void aDialledFaultIsFound();
    void confusionTable();

  private:
    /// What was found with a dial turned, over all views, and what was read of its signs.
    struct DialResult {
        std::set<std::string> found;
        QString seen;
    };
    using DialResults = std::map<std::string, DialResult>;
    static DialResults turnDials(const technique::Pack& p);
    std::map<std::string, DialResults> results_; ///< by pack; kept for the table
    static const technique::Pack& pack(const QString& id) {
        static const std::vector<technique::Pack> packs = support::shippedPacks();
        return *std::find_if(packs.begin(), packs.end(),
                             [&](const auto& p) { return p.id == id.toStdString(); });
    }
    static void perPack() {
        QTest::addColumn<QString>("id");
        for (const technique::Pack& p : support::shippedPacks()) {
            QTest::newRow(p.id.c_str()) << QString::fromStdString(p.id);
        }
    }
    static void perPackViewAndHand() {
        QTest::addColumn<QString>("id");
        QTest::addColumn<int>("view");
        QTest::addColumn<bool>("left");
        for (const technique::Pack& p : support::shippedPacks()) {
            std::set<model::View> views;
            for (const technique::Measure& m : p.measures) {
                views.insert(m.views.begin(), m.views.end());
            }
            for (const model::View view : views) {
                for (const bool left : {false, true}) {
                    QTest::addRow("%s, %s, %s", p.id.c_str(), name(view).data(),
                                  left ? "left" : "right")
                        << QString::fromStdString(p.id) << static_cast<int>(view) << left;
                }
            }
        }
    }
};

void TestPacksOnPlayers::everyPositionIsKnownOfThePlayer() {
    QFETCH(QString, id);
    const synth::FilmScene scene(skilled(pack(id), pack(id).filming.view, model::Hand::right, ""));
    const auto positions = synth::truePositions(scene);
    int last = -1;
    for (const technique::Position& position : pack(id).positions) {
        QVERIFY2(positions.contains(position.id), position.id.c_str());
        if (!position.event) {
            QVERIFY2(positions.at(position.id) >= last, position.id.c_str());
            last = positions.at(position.id);
        }
    }
}

void TestPacksOnPlayers::theSkilledPlayerIsInside() {
    QFETCH(QString, id);
    QFETCH(int, view);
    QFETCH(bool, left);
    const technique::Pack& p = pack(id);
    std::vector<std::string> variants{""};
    for (const technique::Variant& v : p.variants) {
        variants.push_back(v.id);
    }
    QStringList outside;
    for (const std::string& variant : variants) {
        const Judged j = judged(p, skilled(p, static_cast<model::View>(view),
                                           left ? model::Hand::left : model::Hand::right, variant));
        for (const model::Reading& r : j.readings) {
            if (r.verdict == model::Verdict::outside) {
                outside << QString::fromStdString(variant) + " " + said(r);
            }
        }
    }
    QVERIFY2(outside.isEmpty(), qPrintable(outside.join("\n")));
}

void TestPacksOnPlayers::readingsHoldTheTruth() {
    QFETCH(QString, id);
    QFETCH(int, view);
    QFETCH(bool, left);
    const technique::Pack& p = pack(id);
    const Judged j = judged(p, skilled(p, static_cast<model::View>(view),
                                       left ? model::Hand::left : model::Hand::right, ""));
    QStringList missed;
    int read = 0;
    for (const model::Reading& r : j.readings) {
        const auto want = j.truth.find(r.measureId);
        if (!r.value || want == j.truth.end()) {
            continue;
        }
        ++read;
        if (std::abs(*r.value - want->second) > r.u95) {
            missed << said(r) + QString(", true %1").arg(want->second);
        }
    }
    qInfo("%d readings compared", read);
    QVERIFY(read > 0);
    QVERIFY2(missed.isEmpty(), qPrintable(missed.join("\n")));
}

/// The faults that hang together with one by the pack's chains, either way, itself among them.
static std::set<std::string> chainOf(const technique::Pack& p, const std::string& fault) {
    std::set<std::string> chain;
    const std::function<void(const std::string&, bool)> follow = [&](const std::string& id,
                                                                     bool onwards) {
        chain.insert(id);
        for (const technique::FaultDefinition& f : p.faults) {
            const bool linked =
                onwards ? std::find(technique::findFault(p, id)->leadsTo.begin(),
                                    technique::findFault(p, id)->leadsTo.end(),
                                    f.id) != technique::findFault(p, id)->leadsTo.end()
                        : std::find(f.leadsTo.begin(), f.leadsTo.end(), id) != f.leadsTo.end();
            if (linked) {
                follow(f.id, onwards);
            }
        }
    };
    follow(fault, true);
    follow(fault, false);
    return chain;
}

TestPacksOnPlayers::DialResults TestPacksOnPlayers::turnDials(const technique::Pack& p) {
    DialResults results;
    const synth::MotionSheet sheet = synth::loadMotionSheet(p.id);
    for (const auto& [dial, spec] : sheet.dials) {
        const technique::FaultDefinition* fault = technique::findFault(p, dial);
        if (fault == nullptr ||
            std::all_of(fault->signs.begin(), fault->signs.end(), [](const technique::Sign& s) {
                return s.is == technique::Sign::Is::denied;
            })) {
            continue;
        }
        DialResult& result = results[dial];
        for (const model::View view : viewsOf(p, *fault)) {
            synth::FilmSpec film = skilled(p, view, model::Hand::right, "");
            film.player.dials[dial] = spec.most;
            const Judged j = judged(p, film, fault->school);
            for (const model::Fault& f : j.findings.faults) {
                result.found.insert(f.faultId);
            }
            for (const technique::Sign& s : fault->signs) {
                if (s.is != technique::Sign::Is::denied) {
                    const auto r = std::find_if(
                        j.readings.begin(), j.readings.end(),
                        [&](const auto& reading) { return reading.measureId == s.measure; });
                    result.seen += "\n      " + said(*r) +
                                   (r->missing ? " " + words::inWords(r->missing->why) : "");
                }
            }
        }
    }
    return results;
}

/// A dial whose name is a fault's turned up fully gives that finding.
void TestPacksOnPlayers::aDialledFaultIsFound() {
    QFETCH(QString, id);
    const technique::Pack& p = pack(id);
    QStringList missed;
    const DialResults results = turnDials(p);
    for (const auto& [dial, result] : results) {
        const bool found = result.found.contains(dial);
        if (found == onlySuspected().contains({p.id, dial})) { // the list is no longer than it must
            missed << QString::fromStdString(dial) + (found ? " is found" : ":" + result.seen);
        }
    }
    results_[p.id] = results;
    qInfo("%d dials turned", static_cast<int>(results.size()));
    QVERIFY2(missed.isEmpty(), qPrintable(missed.join("\n")));
}

/// What each dial makes the program find, over all views; docs/confusion.md is made from it.
void TestPacksOnPlayers::confusionTable() {
    QString page =
        "# Which findings each fault dial gives\n\n"
        "Made by `./kestrel pages`. Each dial that is named\nlike a fault was turned alone and "
        "fully on the skilled right-handed "
        "player, filmed from every view in which a sign of\nthe fault can be read, true landmarks; "
        "what the program then finds *for certain* stands here. “In its chain” are\nfindings that "
        "the pack names as cause or consequence; “beside it” are others, most of them consequences "
        "of the body\n(docs/dials.md tells what a dial moves along with its own quantity). A dial "
        "without its own finding leaves the\nreading at the edge of its range.\n";
    int dials = 0;
    int own = 0;
    int without = 0;
    for (const technique::Pack& p : support::shippedPacks()) {
        const auto known = results_.find(p.id);
        const DialResults results = known == results_.end() ? turnDials(p) : known->second;
        page += "\n## " + QString::fromStdString(p.name) + "\n\n" +
                "| dial | its own finding | in its chain | beside it |\n|---|---|---|---|\n";
        for (const auto& [dial, result] : results) {
            const std::set<std::string> chain = chainOf(p, dial);
            QStringList inChain;
            QStringList beside;
            for (const std::string& found : result.found) {
                if (found != dial) {
                    (chain.contains(found) ? inChain : beside)
                        << "`" + QString::fromStdString(found) + "`";
                }
            }
            ++dials;
            own += result.found.contains(dial) ? 1 : 0;
            without += beside.isEmpty() ? 1 : 0;
            page +=
                QString("| `%1` | %2 | %3 | %4 |\n")
                    .arg(QString::fromStdString(dial), result.found.contains(dial) ? "yes" : "no",
                         inChain.isEmpty() ? "–" : inChain.join(", "),
                         beside.isEmpty() ? "–" : beside.join(", "));
        }
    }
    page +=
        QString("\nOf %1 dials %2 give their own finding, and %3 give nothing beside it and its "
                "chain.\n")
            .arg(dials)
            .arg(own)
            .arg(without);
    // Of 100 dials at least so many give their own finding, and nothing beside it and its chain.
    constexpr int ownOfHundred = 90;
    constexpr int aloneOfHundred = 90;
    QVERIFY2(100 * own >= ownOfHundred * dials,
             qPrintable(QString("%1 of %2").arg(own).arg(dials)));
    QVERIFY2(100 * without >= aloneOfHundred * dials,
             qPrintable(QString("%1 of %2").arg(without).arg(dials)));
    support::writePage(page, "confusion.md");
}

QTEST_GUILESS_MAIN(TestPacksOnPlayers)
#include "test_packs_on_players.moc"
