#include "window/window_driver.h"

#include "support/true_evidence.h"
#include "track/files/evidence_file.h"

#include <QCheckBox>
#include <QTemporaryDir>

using namespace kestrel;

/// Films prepared by themselves, in the real window: when that begins, gives way, stops and is
/// switched off. What comes out of it is the business of test_new_clip.
class TestPreparing : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void itBeginsByItself();
    void aSearchThatIsAskedForGoesFirst();
    void itGoesOnAfterwards();
    void whatIsStoppedIsNotBegunAgain();
    void askedForItBegins();
    void onceTheRateIsSaidTheViewIsFound();
    void switchedOffItStaysOff();

  private:
    [[nodiscard]] desk::Desk& desk() { return window_->desk(); }
    [[nodiscard]] bool isPreparing() { return desk().preparer.isPreparing(); }

    QTemporaryDir folder_;
    std::unique_ptr<support::Window> window_;
    QString undo_;
};

void TestPreparing::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
    QVERIFY(desk::LandmarkSearch::hindrance().isEmpty());
    window_ = std::make_unique<support::Window>(folder_.filePath("library").toStdString());
    const model::ClipId clip = support::addClip(*window_, support::rightHander());
    desk().open.open(clip);
    QTRY_VERIFY_WITH_TIMEOUT(desk().open.hasClip(), support::patientMs);
    undo_ = desk().edits.stack().undoText();
    QVERIFY(!isPreparing()); // only the program that was started begins it
}

void TestPreparing::itBeginsByItself() {
    desk().preparer.setByItself(true);
    QVERIFY(isPreparing());
    QCOMPARE(desk().preparer.underWay(), std::optional(desk().open.clip().id));
    window_->main().goTo(app::MainWindow::squad);
    const QString state = "clipState_" + QString::number(desk().open.clip().id.value);
    QTRY_VERIFY_WITH_TIMEOUT(window_->text(state).startsWith("Being prepared: "),
                             support::patientMs);
    QVERIFY(window_->find<QPushButton>("prepareFilms")->text().startsWith("Stop preparing"));
}

void TestPreparing::aSearchThatIsAskedForGoesFirst() {
    desk().search.propose();
    QVERIFY(desk().search.isSearching());
    QVERIFY(!isPreparing());
}

void TestPreparing::itGoesOnAfterwards() {
    desk().search.cancel();
    QTRY_VERIFY(isPreparing());
}

void TestPreparing::whatIsStoppedIsNotBegunAgain() {
    // On the Bench the button that proposes landmarks stops it, too.
    window_->main().goTo(app::MainWindow::bench);
    QTRY_VERIFY_WITH_TIMEOUT(
        window_->find<QPushButton>("proposeLandmarks")->text().startsWith("Stop"),
        support::patientMs);
    window_->press("proposeLandmarks");
    QVERIFY(!isPreparing());
    emit desk().edits.recordsChanged(); // as when another film comes in
    QVERIFY(!isPreparing());
    QCOMPARE(desk().preparer.waiting(), 1);
    QVERIFY(desk().open.rep().found.empty());
    QCOMPARE(desk().edits.stack().undoText(), undo_);
}

void TestPreparing::askedForItBegins() {
    window_->main().goTo(app::MainWindow::squad);
    window_->press("prepareFilms");
    QVERIFY(isPreparing());
    window_->press("prepareFilms");
    QVERIFY(!isPreparing());
}

/// A film that could be slow motion is prepared without its speed; once that is said the film tells
/// from where it was taken, and key positions are found.
void TestPreparing::onceTheRateIsSaidTheViewIsFound() {
    const synth::FilmScene scene(support::rightHander().spec);
    const model::ClipId id = desk().open.clip().id;
    const model::RepId rep = desk().open.rep().id;
    window_->library().setEvidence(rep, track::toBytes(support::trueEvidence(scene, 3)));
    model::Clip clip = desk().open.clip();
    clip.view.reset();
    window_->library().save(clip);
    clip.captureRate = 2.0 * scene.spec().captureRate;
    desk().clipEdits.setClip(clip, "Say the rate");
    clip.captureRate = scene.spec().captureRate;
    desk().clipEdits.setClip(clip, "Say the rate");
    const auto found = window_->library().clip(id)->foundView;
    QVERIFY(found.has_value());
    QCOMPARE(found->view, model::View::openSide);
    QVERIFY(desk().open.circumstances().viewIsFound);
    QVERIFY(desk().open.rep().found.contains("release"));
    window_->main().goTo(app::MainWindow::film);
    QVERIFY2(window_->text("viewHelp").contains("By how the player moves: open side"),
             qPrintable(window_->text("viewHelp")));
    // What the coach says counts before it.
    window_->press("view_front");
    QVERIFY(!desk().open.circumstances().viewIsFound);
    QCOMPARE(desk().open.circumstances().view, std::optional(model::View::front));
    window_->main().goTo(app::MainWindow::squad);
}

void TestPreparing::switchedOffItStaysOff() {
    auto* byItself = window_->find<QCheckBox>("prepareByItself");
    QVERIFY(byItself->isChecked());
    byItself->click();
    QVERIFY(!desk().preparer.isByItself());
    QCOMPARE(desk().settings.get("prepare_by_itself"), std::string("no"));
    window_->reopen(folder_.filePath("library").toStdString());
    QVERIFY(!window_->find<QCheckBox>("prepareByItself")->isChecked());
}

QTEST_MAIN(TestPreparing)
#include "test_preparing.moc"
