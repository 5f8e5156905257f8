#include "window/window_driver.h"

#include "app/packs/document_editor.h"
#include "app/packs/pack_reader.h"
#include "app/packs/packs_station.h"
#include "app/shared/clip_map.h"

#include <QComboBox>
#include <QLineEdit>
#include <QMessageBox>
#include <QPlainTextEdit>
#include <QTemporaryDir>

#include <fstream>

using namespace kestrel;
using technique::Pointer;
namespace fs = std::filesystem;

/// Packs read, changed, made and carried in the window; schools chosen on the Bench.
class TestPacksStation : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance())); }
    void init() {
        window_.reset();
        folder_ = std::make_unique<QTemporaryDir>();
        window_ = std::make_unique<support::Window>(folder_->filePath("library").toStdString());
    }
    void cleanupTestCase() { window_.reset(); }

    void packIsReadInOrder();
    void changedRangeLeavesOldReviewsAlone();
    void mistakeIsToldAndNotKept();
    void measureIsAddedWithLiveCheck();
    void ownTechniqueIsMadeAndUsed();
    void brokenFileChangesNothing();
    void exportedPackComesBack();
    void spoiltOwnPackDoesNotStopTheProgram();
    void schoolIsChosenForARepAVisitAPlayer();
    void curvesStandBelowTheFilm();
    void ownDrillServesAnOwnFault();
    void leagueRuleReplacesTheExample();

  private:
    desk::Desk& desk() { return window_->desk(); }
    app::DocumentEditor& editor() { return *window_->main().findChild<app::DocumentEditor*>(); }
    void openMarked() {
        const model::ClipId clip = support::addMarkedClip(*window_, support::faulty());
        window_->press(QString("openClip_%1").arg(clip.value));
        window_->waitForPicture();
    }
    void toPacks(const std::string& id) {
        window_->press("station_packs");
        window_->main().packsStation().choosePack(id);
    }
    const technique::Pack& newest(const std::string& id) {
        const auto& packs = desk().shelf.packs();
        const auto found = std::find_if(packs.begin(), packs.end(),
                                        [&](const technique::Pack& p) { return p.id == id; });
        if (found == packs.end()) {
            qFatal("no pack %s", id.c_str());
        }
        return *found;
    }
    /// "/measures/7" for a measure of the pitch.
    Pointer measurePlace(const std::string& id) {
        const auto& measures = newest("overhand_pitch").measures;
        const auto found = std::find_if(measures.begin(), measures.end(),
                                        [&](const auto& m) { return m.id == id; });
        return Pointer("/measures") / static_cast<std::size_t>(found - measures.begin());
    }
    void type(const QString& field, const QString& text) {
        auto* line = window_->find<QLineEdit>(field);
        line->setFocus();
        line->selectAll();
        QTest::keyClicks(line, text);
        QTest::keyClick(line, Qt::Key_Return);
        support::Window::settle(); // the form is built anew after the field's own event
    }
    void choose(const QString& field, const QString& text) {
        auto* box = window_->find<QComboBox>(field);
        box->setCurrentIndex(box->findText(text));
        QVERIFY(box->currentIndex() >= 0);
        emit box->activated(box->currentIndex());
        support::Window::settle();
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
};

void TestPacksStation::packIsReadInOrder() {
    toPacks("overhand_pitch");
    const technique::Pack& pack = newest("overhand_pitch");
    const QString page = window_->main().packsStation().reader().toPlainText();
    qsizetype at = 0;
    for (const technique::Position& position : pack.positions) {
        const qsizetype next = page.indexOf(QString::fromStdString(position.definition), at);
        QVERIFY2(next >= at, position.id.c_str());
        at = next;
    }
    for (const technique::FaultDefinition& fault : pack.faults) {
        QVERIFY2(page.contains(QString::fromStdString(fault.cues.front())), fault.id.c_str());
    }
    for (const std::string& caution : pack.cautions) {
        QVERIFY(page.contains(QString::fromStdString(caution)));
    }
    // Pictures of positions and bands of ranges are there once the player is drawn.
    QTRY_VERIFY_WITH_TIMEOUT(!window_->main().packsStation().reader().busy(), 120000);
    const QString html = window_->main().packsStation().reader().toHtml();
    QVERIFY(html.contains("position:foot_plant"));
    QVERIFY(html.contains("range:plant_forearm"));
}

void TestPacksStation::changedRangeLeavesOldReviewsAlone() {
    openMarked();
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));
    toPacks("overhand_pitch");
    window_->main().packsStation().choosePage(app::PacksStation::change);
    editor().choose(measurePlace("plant_forearm") / "ranges" / 0);
    QVERIFY(window_->text("liveCheck").contains("outside"));
    type("limitLow", "-400");
    type("limitHigh", "400");
    QVERIFY(desk().shelf.isOwnPack("overhand_pitch"));
    QCOMPARE(newest("overhand_pitch")
                 .measures[std::stoul(measurePlace("plant_forearm").back())]
                 .ranges[0]
                 .good.low,
             std::optional(-400.0));
    QVERIFY(window_->text("liveCheck").contains("inside"));

    // The review stands as it was, and says so.
    window_->press("station_bench");
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));
    QVERIFY(window_->text("packEdition").contains("changed since this rep was judged"));
    window_->press("judgeAnew");
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("inside"));
    QVERIFY(!window_->find("judgeAnew")->isVisible());
    window_->press("undo");
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));

    // Another program start finds the same; the shipped pack comes back whole.
    const std::string library = folder_->filePath("library").toStdString();
    window_->reopen(library);
    QTRY_VERIFY_WITH_TIMEOUT(desk().open.hasClip(), support::patientMs);
    window_->waitForPicture();
    window_->press("station_bench");
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));
    toPacks("overhand_pitch");
    window_->press("backToShipped");
    QVERIFY(!desk().shelf.isOwnPack("overhand_pitch"));
    QCOMPARE(newest("overhand_pitch").text, desk().shelf.shippedPack("overhand_pitch")->text);
    window_->press("undo");
    QVERIFY(desk().shelf.isOwnPack("overhand_pitch"));
}

void TestPacksStation::mistakeIsToldAndNotKept() {
    toPacks("overhand_pitch");
    const std::string before = newest("overhand_pitch").text;
    window_->main().packsStation().choosePage(app::PacksStation::change);
    editor().choose(measurePlace("plant_forearm"));
    auto* at = window_->find<QComboBox>("field_at");
    at->lineEdit()->setText("nowhere");
    emit at->lineEdit()->editingFinished();
    support::Window::settle();
    QVERIFY(window_->text("packProblem").contains("there is no position “nowhere”"));
    QVERIFY(window_->text("packProblem").contains("/at"));
    QCOMPARE(newest("overhand_pitch").text, before);
    QVERIFY(!desk().shelf.isOwnPack("overhand_pitch"));
    window_->press("dropChange");
    QVERIFY(!window_->find("packProblem")->isVisible());
    editor().choose(measurePlace("plant_forearm"));
    QCOMPARE(window_->find<QComboBox>("field_at")->currentText(), QString("foot_plant"));
}

void TestPacksStation::measureIsAddedWithLiveCheck() {
    openMarked();
    toPacks("overhand_pitch");
    const std::size_t count = newest("overhand_pitch").measures.size();
    window_->main().packsStation().choosePage(app::PacksStation::change);
    editor().choose(Pointer("/measures"));
    window_->press("addPart");
    QVERIFY(window_->find("packProblem")->isVisible()); // not whole yet
    QCOMPARE(editor().chosen(), Pointer("/measures") / count);
    type("field_id", "my_knee");
    type("field_name", "My knee");
    type("field_plain", "how bent your front knee is");
    choose("field_at", "foot_plant");
    choose("field_kind", "flexion");
    for (const char* points : {"field_points", "field_views"}) {
        const QWidget* holder = window_->find(points);
        auto* lines = holder->findChild<QPlainTextEdit*>();
        if (lines == nullptr) {
            lines = window_->find<QPlainTextEdit>(points);
        }
        lines->setPlainText(QString(points) == "field_points" ? "lead_hip\nlead_knee\nlead_ankle"
                                                              : "open_side");
        lines->setFocus();
        window_->find("packTree")->setFocus();
        support::Window::settle();
    }
    QVERIFY2(!window_->find("packProblem")->isVisible(), qPrintable(window_->text("packProblem")));
    QCOMPARE(newest("overhand_pitch").measures.size(), count + 1);
    QVERIFY2(window_->text("liveCheck").contains("±"), qPrintable(window_->text("liveCheck")));
}

void TestPacksStation::ownTechniqueIsMadeAndUsed() {
    openMarked();
    toPacks("overhand_pitch");
    window_->main().packsStation().copyAs("Club throw");
    QVERIFY(desk().shelf.isOwnPack("club_throw"));
    QCOMPARE(newest("club_throw").basedOn, std::string("overhand_pitch"));
    window_->main().packsStation().copyAs("Club throw");
    QVERIFY(window_->problem().contains("already"));
    // It is offered for films, and the Bench goes by it.
    window_->press("station_film");
    auto* technique = window_->find<QComboBox>("technique");
    const int row = technique->findData("club_throw");
    QVERIFY(row >= 0);
    technique->setCurrentIndex(row);
    emit technique->activated(row);
    QCOMPARE(desk().open.pack().id, std::string("club_throw"));
    window_->press("station_bench");
    window_->press("position_foot_plant");
    QVERIFY(window_->readingRow("plant_forearm")[2].contains("outside"));
}

void TestPacksStation::brokenFileChangesNothing() {
    window_->press("station_packs");
    const fs::path file = folder_->filePath("broken.json").toStdString();
    std::ofstream(file) << "{ \"id\": \"x\", ";
    window_->main().packsStation().importFrom(file);
    const QString said = window_->problem();
    QVERIFY2(said.contains("broken.json") && said.contains("line"), qPrintable(said));
    auto document = technique::documentOf(newest("bat_swing").text, "bat_swing.json");
    document["id"] = "other_swing";
    document["measures"][0]["kind"] = "no_such_kind";
    std::ofstream(file) << technique::textOf(document);
    window_->main().packsStation().importFrom(file);
    const QString kind = window_->problem();
    QVERIFY2(kind.contains("/measures/0/kind") && kind.contains("no_such_kind"), qPrintable(kind));
    QVERIFY(!desk().shelf.isOwnPack("other_swing"));
}

void TestPacksStation::exportedPackComesBack() {
    toPacks("bat_swing");
    const fs::path file = folder_->filePath("out.json").toStdString();
    window_->main().packsStation().exportTo(file);
    const technique::Pack shipped = *desk().shelf.shippedPack("bat_swing");
    window_->main().packsStation().importFrom(file);
    QVERIFY(desk().shelf.isOwnPack("bat_swing"));
    QCOMPARE(newest("bat_swing").text, shipped.text);
    window_->press("undo");
    QVERIFY(!desk().shelf.isOwnPack("bat_swing"));
}

void TestPacksStation::spoiltOwnPackDoesNotStopTheProgram() {
    toPacks("bat_swing");
    window_->main().packsStation().copyAs("Spoilt");
    QVERIFY(desk().shelf.isOwnPack("spoilt"));
    const fs::path library = folder_->filePath("library").toStdString();
    std::ofstream(library / "packs" / "spoilt.json") << "no longer JSON";
    window_->reopen(library);
    const auto& packs = desk().shelf.packs();
    QVERIFY(
        std::none_of(packs.begin(), packs.end(), [](const auto& p) { return p.id == "spoilt"; }));
    QVERIFY(packs.size() >= 11);
}

void TestPacksStation::schoolIsChosenForARepAVisitAPlayer() {
    openMarked();
    window_->press("position_stride");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("outside"));
    window_->press("schoolsButton");
    auto* dialog = window_->main().findChild<QDialog*>("schoolDialog");
    QVERIFY(dialog != nullptr);
    const auto boxWith = [&](const QString& option) -> QComboBox* {
        for (QComboBox* box : dialog->findChildren<QComboBox*>()) {
            if (box->objectName().startsWith("choose_") && box->isVisible() &&
                box->findData(option) >= 0) {
                return box;
            }
        }
        return nullptr;
    };
    const auto answer = [&](const QString& option) {
        // The questions are asked anew after each answer: a coach waits until they are there.
        QTRY_VERIFY2(boxWith(option) != nullptr, "no such school");
        QComboBox* box = boxWith(option);
        const int row = box->findData(option);
        box->setCurrentIndex(row);
        emit box->activated(row);
    };
    auto* forWhom = dialog->findChild<QComboBox*>("schoolForWhom");
    const auto chooseFor = [&](desk::ForWhom whom) {
        forWhom->setCurrentIndex(forWhom->findData(static_cast<int>(whom)));
    };
    chooseFor(desk::ForWhom::rep);
    answer("drive");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("inside"));
    auto* changes = dialog->findChild<QLabel*>("schoolChanges");
    QVERIFY2(changes->text().contains("outside") && changes->text().contains("inside"),
             qPrintable(changes->text()));
    QVERIFY(desk().open.rep().schools.contains("drive"));
    QVERIFY(desk().open.player().schools.empty());
    QApplication::processEvents();
    chooseFor(desk::ForWhom::visit);
    answer("tall");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("outside"));
    QVERIFY(desk().open.rep().schools.empty()); // the nearer choice is forgotten
    QVERIFY(desk().open.clip().schools.contains("tall"));
    QApplication::processEvents();
    chooseFor(desk::ForWhom::player);
    answer("drive");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("inside"));
    QVERIFY(desk().open.clip().schools.empty());
    dialog->close();
    window_->press("undo");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("outside"));
    window_->press("undo");
    QVERIFY(window_->readingRow("stride_head_drop")[2].contains("inside"));
}

void TestPacksStation::curvesStandBelowTheFilm() {
    const model::ClipId clip = support::addClip(*window_, support::faulty());
    model::Rep rep = window_->library().reps(clip).front();
    const model::Rep truth = support::trueRep(support::faulty().spec);
    rep.positions = truth.positions;
    rep.landmarks = truth.landmarks;
    for (auto& [frame, points] : rep.landmarks) {
        for (auto& [landmark, point] : points) {
            point.sdPx = 1.5;
        }
    }
    window_->library().save(rep);
    emit desk().edits.recordsChanged();
    window_->press(QString("openClip_%1").arg(clip.value));
    window_->waitForPicture();
    QVERIFY(!window_->find("curvesPlot")->isVisible());
    window_->press("curvesButton");
    QVERIFY(window_->find("curvesPlot")->isVisible());
    const QString says = window_->text("curvesSay");
    for (const char* part : {"1 Hips", "2 Shoulders", "Hand"}) {
        QVERIFY2(says.contains(part), qPrintable(says));
    }
    QVERIFY2(says.contains("later") || says.contains("can't be separated"), qPrintable(says));
    // A click on the axis goes to the frame; the chosen reading runs through the film.
    auto* plot = window_->find("curvesPlot");
    QTest::mouseClick(plot, Qt::LeftButton, Qt::NoModifier, {plot->width() / 2, 60});
    const model::FrameSpan inView = window_->find<app::ClipMap>("clipMap")->inView();
    QVERIFY(std::abs(desk().open.frame() - (inView.first + inView.last) / 2) <= 2);
    // The map is brought to what the curves cover, from Foot plant to Release.
    QVERIFY(inView.last - inView.first < desk().open.index().frameCount() / 2);
    auto* what = window_->find<QComboBox>("curvesOf");
    const auto choose = [&](const char* item) {
        what->setCurrentIndex(what->findText(item));
        emit what->activated(what->currentIndex());
    };
    choose("Accelerations");
    QVERIFY2(window_->text("curvesSay").contains("heights/s²") &&
                 window_->text("curvesSay").contains("is braked by"),
             qPrintable(window_->text("curvesSay")));
    choose("Chosen reading");
    QVERIFY(window_->text("curvesSay").contains("Choose a reading"));
    window_->press("position_foot_plant");
    window_->clickReading("plant_stride_length");
    QVERIFY2(window_->text("curvesSay").contains("from frame to frame"),
             qPrintable(window_->text("curvesSay")));
    window_->key(Qt::Key_V);
    QVERIFY(!window_->find("curvesPlot")->isVisible());
}

void TestPacksStation::ownDrillServesAnOwnFault() {
    window_->press("station_packs");
    auto* list = window_->find<QListWidget>("packs");
    list->setCurrentRow(list->count() - 1);
    QVERIFY(window_->main().packsStation().reader().toPlainText().contains("no drills"));
    window_->main().packsStation().choosePage(app::PacksStation::change);
    editor().choose(Pointer("/drills"));
    window_->press("addPart");
    // The smallest drill is whole but for its words: it is kept, under a name to be changed.
    QVERIFY2(!window_->find("packProblem")->isVisible(), qPrintable(window_->text("packProblem")));
    type("field_id", "my_drill");
    type("field_name", "My drill");
    QVERIFY(desk().shelf.drills().contains("my_drill"));
    QCOMPARE(desk().shelf.drills().at("my_drill").name, std::string("My drill"));
    // A fault of a pack may name it now; while one does, the drill cannot go.
    toPacks("bat_swing");
    editor().choose(Pointer("/faults/0"));
    auto* lines = window_->find("field_drills")->findChild<QPlainTextEdit*>();
    lines->setPlainText(lines->toPlainText() + "\nmy_drill");
    lines->setFocus();
    window_->find("packTree")->setFocus();
    support::Window::settle();
    const auto& drills = newest("bat_swing").faults[0].drills;
    QVERIFY(std::find(drills.begin(), drills.end(), "my_drill") != drills.end());
    list->setCurrentRow(list->count() - 1);
    editor().choose(Pointer("/drills/0"));
    window_->press("removePart");
    QVERIFY(window_->text("packProblem").contains("there is no drill “my_drill”"));
    QVERIFY(desk().shelf.drills().contains("my_drill"));
    window_->press("dropChange");
    // A name that ships cannot be taken.
    editor().choose(Pointer("/drills/0"));
    type("field_id", QString::fromStdString(support::drills().begin()->first));
    QVERIFY(window_->text("packProblem").contains("already"));
}

void TestPacksStation::leagueRuleReplacesTheExample() {
    window_->press("station_packs");
    window_->main().packsStation().choosePack("*load_rule");
    QVERIFY(window_->main().packsStation().reader().toPlainText().contains("Example rule"));
    QVERIFY(!window_->find("backToShipped")->isVisible());
    const int example = coaching::restDaysAfter(desk().shelf.loadRule(), 12, 20);
    QCOMPARE(example, 1);
    window_->main().packsStation().choosePage(app::PacksStation::change);
    editor().choose(Pointer());
    type("field_name", "Our league");
    editor().choose(Pointer("/bands/1/rest/0"));
    type("field_days", "4");
    QCOMPARE(desk().shelf.loadRule().name, std::string("Our league"));
    QCOMPARE(coaching::restDaysAfter(desk().shelf.loadRule(), 12, 20), 4);
    // A rule that says nothing of grown players is not kept.
    editor().choose(Pointer("/bands/2"));
    type("field_age_to", "40");
    QVERIFY(window_->text("packProblem").contains("everybody older"));
    QCOMPARE(desk().shelf.loadRule().bands.back().ageTo, std::optional<int>());
    window_->press("dropChange");
    // It is there after the program is closed, and the example comes back with undo for it.
    window_->reopen(folder_->filePath("library").toStdString());
    QCOMPARE(desk().shelf.loadRule().name, std::string("Our league"));
    window_->press("station_packs");
    window_->main().packsStation().choosePack("*load_rule");
    window_->press("backToShipped");
    QVERIFY(desk().shelf.loadRule().name.starts_with("Example"));
    window_->press("undo");
    QCOMPARE(coaching::restDaysAfter(desk().shelf.loadRule(), 12, 20), 4);
}

QTEST_MAIN(TestPacksStation)
#include "test_packs_station.moc"
