#include "window/window_driver.h"

#include "support/commands.h"
#include "technique/pack/json_file.h"

#include <QComboBox>
#include <QSignalSpy>
#include <QTemporaryDir>

#include <SQLiteCpp/Database.h>

#include <csignal>
#include <fstream>
#include <functional>
#include <sys/resource.h>

using namespace kestrel;
using support::operator""_day;
namespace fs = std::filesystem;

namespace {

/// Everything of a library that edits can change.
struct Content {
    std::vector<model::Player> players;
    std::vector<model::Clip> clips;
    std::vector<model::Rep> reps;
    std::vector<model::PlanChoice> choices;
    std::vector<model::Homework> homework;
    std::vector<model::ReviewScript> scripts;
    std::vector<std::string> files;

    friend bool operator==(const Content&, const Content&) = default;
};

Content contentOf(const records::Library& library) {
    Content content;
    content.players = library.players();
    for (const model::Player& player : content.players) {
        for (const model::Clip& clip : library.clips(player.id)) {
            content.clips.push_back(clip);
            for (const model::Rep& rep : library.reps(clip.id)) {
                content.reps.push_back(rep);
                content.scripts.push_back(library.reviewScript(rep.id));
                const model::VisitKey visit{player.id, clip.filmed, rep.techniqueId};
                content.choices.push_back(library.planChoice(visit));
                content.homework.push_back(library.homework(visit));
            }
        }
    }
    for (const fs::path& file : {library.packFolder() / "mine.json", library.loadRuleFile()}) {
        content.files.push_back(fs::exists(file) ? technique::readText(file) : std::string());
    }
    return content;
}

/// While this stands, nothing can be written to any file, as on a full disk.
class FullDisk {
  public:
    FullDisk() {
        std::signal(SIGXFSZ, SIG_IGN); // so that writing fails instead of ending the program
        getrlimit(RLIMIT_FSIZE, &before_);
        rlimit none = before_;
        none.rlim_cur = 0;
        setrlimit(RLIMIT_FSIZE, &none);
    }
    ~FullDisk() { setrlimit(RLIMIT_FSIZE, &before_); }
    FullDisk(const FullDisk&) = delete;
    FullDisk& operator=(const FullDisk&) = delete;

  private:
    rlimit before_{};
};

struct NamedEdit {
    const char* name;
    std::function<void(desk::Desk&)> work;
};

/// One of each kind of edit on an open, marked pitch.
std::vector<NamedEdit> allEdits() {
    const auto frame = [](desk::Desk& d) { return d.open.rep().positions.begin()->second; };
    return {
        {"position", [](desk::Desk& d) { d.repEdits.setPosition("release", std::nullopt); }},
        {"landmark",
         [=](desk::Desk& d) {
             model::LandmarkPoint point;
             point.px = {10.0, 20.0};
             d.repEdits.setLandmark(frame(d), model::Landmark::leftKnee, point, "Move");
         }},
        {"swap", [=](desk::Desk& d) { d.repEdits.swapSides(frame(d)); }},
        {"take landmarks",
         [](desk::Desk& d) {
             model::LandmarkPoint point;
             point.px = {1.0, 2.0};
             d.repEdits.takeLandmarks({{3, {{model::Landmark::leftHip, point}}}});
         }},
        {"observation",
         [](desk::Desk& d) {
             d.repEdits.setObservation(d.open.pack().observations.front().id, model::Seen::no);
         }},
        {"count",
         [](desk::Desk& d) { d.repEdits.setCount(d.open.pack().measures.front().id, 2.0); }},
        {"nearer end",
         [](desk::Desk& d) {
             d.repEdits.setNearerEnd("release", model::BodyLine::hips, model::Side::left);
         }},
        {"limb fold",
         [](desk::Desk& d) {
             d.repEdits.setLimbFold("release", model::Landmark::leftKnee,
                                    model::LimbFold::together);
         }},
        {"review film",
         [](desk::Desk& d) {
             model::ScriptStep step;
             step.caption = "Look";
             d.repEdits.setReviewScript({step}, "Add a stop");
         }},
        {"clip",
         [](desk::Desk& d) {
             model::Clip clip = d.open.clip();
             clip.title = "Other";
             d.clipEdits.setClip(clip, "Title");
         }},
        {"rep",
         [](desk::Desk& d) {
             model::Rep rep = d.open.rep();
             rep.result = "strike";
             d.clipEdits.setRep(rep, "Result");
         }},
        {"technique", [](desk::Desk& d) { d.clipEdits.setTechnique("bat_swing"); }},
        {"add a rep",
         [](desk::Desk& d) {
             d.clipEdits.addRep({5, 50});
         }},
        {"school",
         [](desk::Desk& d) {
             const technique::SchoolQuestion& question = d.open.pack().schools.front();
             d.clipEdits.setSchool(question, question.options.back().id, desk::ForWhom::player);
         }},
        {"player",
         [](desk::Desk& d) {
             model::Player player = d.open.player();
             player.hand = model::Hand::left;
             d.squadEdits.setPlayer(player, "Hand");
         }},
        {"new player",
         [](desk::Desk& d) {
             model::Player player;
             player.name = "Juno";
             d.squadEdits.addPlayer(player);
         }},
        {"plan",
         [](desk::Desk& d) {
             model::PlanChoice choice = d.visit.choice();
             choice.note = "Well done";
             d.planEdits.setPlanChoice(choice, "Note");
         }},
        {"homework",
         [](desk::Desk& d) {
             model::PlanWish wish;
             wish.weekdays = {1, 3, 5};
             d.planEdits.planHomework(wish, "Plan");
         }},
        {"own pack",
         [](desk::Desk& d) {
             std::string text = d.open.pack().text;
             text.replace(text.find("\"overhand_pitch\""), 16,
                          "\"mine\", \"learned_as\": \"overhand_pitch\"");
             d.packEdits.setOwnPack(text, "Pack");
         }},
        {"load rule",
         [](desk::Desk& d) { d.packEdits.setLoadRule(d.shelf.loadRuleText(), "Rule"); }},
    };
}

} // namespace

/// What can go wrong below the window must neither end it nor lose anything.
class TestMishaps : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void cleanup() { window_.reset(); }
    void everyEditSurvivesALockedLibrary();
    void everyEditSurvivesAFullDisk();
    void theBoxOffersToTryAgain();
    void planIsShownWhileFilmsAreMissing();
    void aDamagedFilmIsNamedByItsClip();
    void squadOpensOnThePlayerOfTheOpenClip();
    void bringingInIsTakenBackBeforeItHasOpened();
    void nudgesInTwoClipsAreTwoEdits();
    void settingsThatCannotBeKeptAreTold();

  private:
    void open(model::ClipId clip) {
        window_->press("station_squad");
        window_->press(QString("openClip_%1").arg(clip.value));
        QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.hasClip() &&
                                     window_->desk().open.clip().id == clip,
                                 support::patientMs);
        window_->waitForPicture();
    }
    /// A marked clip that is the only one with its film: removing it harms no other.
    model::ClipId addMarked(const char* title, model::Day filmed) {
        const fs::path copy = (folder_->filePath(title) + ".mp4").toStdString();
        support::makeFilm({"-i",
                           QString::fromStdString(support::filmFile(support::faulty()).string()),
                           "-c", "copy", "-metadata", QString("title=%1").arg(title)},
                          copy);
        records::Library& library = window_->library();
        const model::PlayerId player = library.players().front().id;
        const auto stored = records::storeFilm(copy, library.clipFolder());
        fs::remove(copy);
        model::Clip clip = records::addClip(library, player, *stored, title, "overhand_pitch");
        clip.captureRate = support::faulty().spec.captureRate;
        clip.view = model::View::openSide;
        clip.filmed = filmed;
        library.save(clip);
        model::Rep rep = library.reps(clip.id).front();
        const model::Rep truth = support::trueRep(support::faulty().spec);
        rep.positions = truth.positions;
        for (const auto& [id, at] : rep.positions) {
            rep.landmarks[at] = truth.landmarks.at(at);
        }
        library.save(rep);
        emit window_->desk().edits.recordsChanged();
        return clip.id;
    }
    [[nodiscard]] std::unique_ptr<SQLite::Database> lock() const {
        auto other = std::make_unique<SQLite::Database>(
            (window_->library().folder() / "library.sqlite").string(), SQLite::OPEN_READWRITE);
        other->exec("BEGIN IMMEDIATE");
        return other;
    }
    void closeProblems() {
        for (QMessageBox* box : window_->main().findChildren<QMessageBox*>("problem")) {
            box->button(QMessageBox::Ok)->click();
        }
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }
    /// Does every edit while `mishap` stands, and then without it.
    template <class Mishap> void doEachEdit(Mishap mishap) {
        for (const NamedEdit& edit : allEdits()) {
            desk::Desk& desk = window_->desk();
            const Content before = contentOf(window_->library());
            const int undoable = desk.edits.stack().count();
            QSignalSpy told(&desk.problems, &desk::Problems::told);
            {
                const auto standing = mishap();
                desk.problems.trying([&] { edit.work(desk); });
                QApplication::processEvents();
            }
            QVERIFY2(told.count() >= 1, edit.name);
            QVERIFY2(contentOf(window_->library()) == before, edit.name);
            QCOMPARE(desk.edits.stack().count(), undoable);
            QVERIFY2(window_->main().findChild<QMessageBox*>("problem") != nullptr, edit.name);
            closeProblems();
            QVERIFY2(desk.edits.tryAgain(), edit.name);
            QVERIFY2(!(contentOf(window_->library()) == before), edit.name);
            QVERIFY2(desk.edits.undo(), edit.name);
            QVERIFY2(contentOf(window_->library()) == before, edit.name);
            QApplication::processEvents();
        }
    }

    std::unique_ptr<QTemporaryDir> folder_;
    std::unique_ptr<support::Window> window_;
    model::ClipId clip_;
};

void TestMishaps::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
}

void TestMishaps::init() {
    folder_ = std::make_unique<QTemporaryDir>();
    window_ = std::make_unique<support::Window>(folder_->filePath("library").toStdString());
    clip_ = support::addMarkedClip(*window_, support::faulty());
    open(clip_);
}

void TestMishaps::everyEditSurvivesALockedLibrary() {
    doEachEdit([this] { return lock(); });
}

void TestMishaps::everyEditSurvivesAFullDisk() {
    doEachEdit([] { return std::make_unique<FullDisk>(); });
}

void TestMishaps::theBoxOffersToTryAgain() {
    auto other = lock();
    window_->desk().repEdits.setPosition("release", std::nullopt);
    QVERIFY(window_->desk().open.rep().positions.contains("release"));
    other.reset();
    auto* box = window_->main().findChild<QMessageBox*>("problem");
    QVERIFY(box != nullptr);
    QVERIFY(box->text().contains("database is locked"));
    QVERIFY(box->informativeText().contains("safe"));
    box->findChild<QPushButton*>("tryAgain")->click();
    QTRY_VERIFY(!window_->desk().open.rep().positions.contains("release"));
    QCOMPARE(window_->desk().edits.stack().count(), 1);
}

void TestMishaps::planIsShownWhileFilmsAreMissing() {
    const model::ClipId sameVisit = addMarked("Same visit", "2026-11-20"_day);
    const model::ClipId before = addMarked("Visit before", "2026-10-10"_day);
    // Something was asked after the visit before, so that this one asks about it.
    open(before);
    window_->press("station_plan");
    QTRY_VERIFY(!window_->desk().visit.review().plan.focusFaultId.empty());
    model::PlanChoice choice;
    choice.focusFaultId = window_->desk().visit.review().plan.focusFaultId;
    window_->desk().planEdits.setPlanChoice(choice, "Focus");
    for (const model::ClipId id : {sameVisit, before}) {
        fs::remove(window_->library().clipFile(*window_->library().clip(id)));
    }
    window_->reopen(folder_->filePath("library").toStdString());
    open(clip_);
    window_->press("station_plan");
    QTRY_VERIFY(window_->text("notJudged").contains("“Same visit” is not in the library"));
    QTRY_VERIFY(window_->text("notJudged").contains("“Visit before” is not in the library"));
    QCOMPARE(window_->desk().visit.review().reps, 1); // the open one counts all the same
    QVERIFY(window_->text("askBackHeading").contains("the focus was “Back leg collapses”"));
    QVERIFY(!window_->text("whyFirst").isEmpty());
    QTRY_VERIFY_WITH_TIMEOUT(window_->find<QPushButton>("savePdf")->isEnabled(),
                             support::patientMs);
    QVERIFY(window_->main().findChild<QMessageBox*>("problem") == nullptr);
    window_->press("station_squad");
    window_->press("station_plan"); // and once more
    QTRY_VERIFY(window_->text("notJudged").contains("“Same visit”"));
}

void TestMishaps::aDamagedFilmIsNamedByItsClip() {
    const model::ClipId other = addMarked("Damaged", "2026-11-20"_day);
    const fs::path file = window_->library().clipFile(*window_->library().clip(other));
    fs::permissions(file, fs::perms::owner_write, fs::perm_options::add);
    std::ofstream(file, std::ios::trunc) << "this is no film any more";
    window_->reopen(folder_->filePath("library").toStdString());
    open(clip_);
    window_->press("station_plan");
    QTRY_VERIFY(window_->text("notJudged").contains("The film of “Damaged” cannot be read"));
    QCOMPARE(window_->desk().visit.review().reps, 1);
}

void TestMishaps::squadOpensOnThePlayerOfTheOpenClip() {
    model::Player first;
    first.name = "Aa comes first";
    window_->library().save(first);
    window_->reopen(folder_->filePath("library").toStdString());
    QVERIFY(window_->text("playerHeading").contains("Mika"));
    auto* players = window_->find<QListWidget>("players");
    players->setCurrentRow(0);
    QVERIFY(window_->text("playerHeading").contains("Aa comes first"));
    window_->desk().open.open(clip_);
    QTRY_VERIFY(window_->text("playerHeading").contains("Mika"));
}

void TestMishaps::bringingInIsTakenBackBeforeItHasOpened() {
    records::Library& library = window_->library();
    const auto stored =
        records::storeFilm(support::filmFile(support::rightHander()), library.clipFolder());
    const model::PlayerId player = library.players().front().id;
    window_->desk().squadEdits.addFilm(player, *stored, "New", "overhand_pitch");
    QCOMPARE(library.clips(player).size(), std::size_t{2});
    QVERIFY(window_->desk().edits.undo()); // its film is still being read
    QCOMPARE(library.clips(player).size(), std::size_t{1});
    QThreadPool::globalInstance()->waitForDone();
    QApplication::processEvents();
    QCOMPARE(window_->desk().open.clip().id, clip_); // what was open stays open
    QVERIFY(window_->desk().edits.redo());
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.clip().title == "New", support::patientMs);
    QVERIFY(window_->desk().edits.undo());
    QVERIFY(!window_->desk().open.hasClip());
}

void TestMishaps::nudgesInTwoClipsAreTwoEdits() {
    const auto nudgeReleaseHand = [this] {
        window_->press("station_bench");
        window_->press("position_release");
        const model::Point2 at =
            model::find(window_->desk().open.rep().landmarks, window_->desk().open.frame(),
                        model::Landmark::rightWrist)
                ->px;
        window_->waitForPicture();
        window_->clickPicture(at, Qt::ControlModifier);
        window_->key(Qt::Key_Up);
        window_->key(Qt::Key_Up);
    };
    const int before = window_->desk().edits.stack().count();
    nudgeReleaseHand();
    QCOMPARE(window_->desk().edits.stack().count(), before + 1);
    open(addMarked("Other", "2026-11-20"_day));
    nudgeReleaseHand(); // the same landmark in a frame of the same number
    QCOMPARE(window_->desk().edits.stack().count(), before + 2);
}

void TestMishaps::settingsThatCannotBeKeptAreTold() {
    const auto other = lock();
    window_->press("station_film");
    QCOMPARE(window_->main().station(), app::MainWindow::film);
    QVERIFY(window_->problem().contains("database is locked"));
}

QTEST_MAIN(TestMishaps)
#include "test_mishaps.moc"
