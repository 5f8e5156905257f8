#include "window/window_driver.h"

#include "technique/positions/doubt.h"

#include <QComboBox>
#include <QDialog>
#include <QFileDialog>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QThreadPool>
#include <QTimer>

#include <cmath>
#include <random>

using namespace kestrel;
using support::operator""_day;

/// A coach with a new film of a known player: from the Squad to judged key positions and a plan, in
/// the real window, every click, key and choice counted. The bar is 25.
class TestNewClip : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void broughtInAndPlaced();
    void preparedByItself();
    void lookedThrough();
    void judged();
    void planned();
    void closedWhileTheSheetIsStillDrawn();

  private:
    static constexpr int mostActions = 25;

    void press(const QString& button) {
        window_->press(button);
        ++actions_;
    }
    void key(Qt::Key key) {
        window_->key(key);
        ++actions_;
    }
    void goToFrame(int frame) {
        // Stepping there, ten frames at a time where that is shorter.
        while (window_->desk().open.frame() != frame) {
            const int by = frame - window_->desk().open.frame();
            if (std::abs(by) > 5) {
                key(by > 0 ? Qt::Key_Greater : Qt::Key_Less);
            } else {
                key(by > 0 ? Qt::Key_Period : Qt::Key_Comma);
            }
        }
    }
    void answer(const technique::Doubtful& asked);

    const support::TestFilm& film_ = support::faulty();
    const model::Rep truth_ = support::trueRep(film_.spec);
    QTemporaryDir folder_;
    std::unique_ptr<support::Window> window_;
    std::mt19937 random_{5};
    int actions_ = 0;
};

void TestNewClip::initTestCase() {
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    app::applyTheme(*qobject_cast<QApplication*>(QApplication::instance()));
    QVERIFY2(desk::LandmarkSearch::hindrance().isEmpty(),
             qPrintable(desk::LandmarkSearch::hindrance()));
    window_ = std::make_unique<support::Window>(folder_.filePath("library").toStdString());
    model::Player player;
    player.name = "Mika Sorrel";
    player.born = "2014-03-18"_day;
    window_->library().save(player);
    emit window_->desk().edits.recordsChanged();
    window_->desk().preparer.setByItself(true); // as the program does when it starts
}

void TestNewClip::broughtInAndPlaced() {
    QTimer::singleShot(200, [this] {
        auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
        QVERIFY(dialog != nullptr);
        const QString file = QString::fromStdString(support::filmFile(film_).string());
        dialog->findChild<QLineEdit*>("fileNameEdit")->setText(file);
        QTest::keyClick(dialog->findChild<QLineEdit*>("fileNameEdit"), Qt::Key_Return);
        ++actions_; // the film is chosen
    });
    press("squadBringIn");
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.hasClip(), support::patientMs);
    // 120 pictures a second need no question, and where the camera stood the film tells itself.
    QTRY_COMPARE(window_->main().station(), app::MainWindow::bench);
    QTRY_VERIFY_WITH_TIMEOUT(window_->desk().open.study().has_value(), support::patientMs);
}

/// Nothing was asked for: positions, landmarks and the body in space are there all the same.
void TestNewClip::preparedByItself() {
    const QString bringingIn = window_->desk().edits.stack().undoText();
    QTRY_VERIFY_WITH_TIMEOUT(!window_->desk().preparer.isPreparing(), 600000);
    // It is no edit of the coach's, and undo takes back what the coach did last.
    QCOMPARE(window_->desk().edits.stack().undoText(), bringingIn);
    QCOMPARE(window_->desk().edits.stack().redoText(), QString());
    const model::Rep& rep = window_->desk().open.rep();
    const auto& view = window_->desk().open.clip().foundView;
    QVERIFY(view && view->view == model::View::openSide);
    QVERIFY(std::abs(view->off.value) <= 15.0);
    QVERIFY(window_->desk().open.circumstances().body != nullptr);
    QVERIFY(rep.positions.empty());
    for (const technique::Position& position : window_->desk().open.pack().positions) {
        QVERIFY2(rep.found.contains(position.id), position.id.c_str());
        const auto* card =
            window_->find<QToolButton>("position_" + QString::fromStdString(position.id));
        QVERIFY2(card->text().contains("◌") && card->text().contains("±"),
                 qPrintable(card->text()));
    }
    QVERIFY(window_->readingRow("set_head_gather").value(1).contains("±"));
    // Plan and Squad say that nobody has looked at it yet.
    window_->main().goTo(app::MainWindow::plan);
    QVERIFY(window_->find<QLabel>("provisional")->isVisible());
    QVERIFY(window_->text("provisional").contains("1 rep."));
    window_->main().goTo(app::MainWindow::squad);
    QVERIFY(
        window_->text("clipState_" + QString::number(rep.clipId.value)).contains("Provisional"));
    window_->main().goTo(app::MainWindow::bench);
}

/// What a coach does who knows where everything is: Enter for what is right, a click or the right
/// frame for what is not.
void TestNewClip::answer(const technique::Doubtful& asked) {
    desk::Desk& desk = window_->desk();
    QCOMPARE(desk.open.frame(), asked.frame);
    if (!asked.landmark) {
        const technique::Position& position =
            *technique::findPosition(desk.open.pack(), asked.positionId);
        const int right = truth_.positions.at(asked.positionId);
        const double tolerated =
            std::max(2.0, position.lastsMs / 1000.0 * film_.spec.captureRate / 2.0);
        QVERIFY(window_->text("placingAsk").startsWith("Is this"));
        if (std::abs(asked.frame - right) <= tolerated) {
            key(Qt::Key_Return);
        } else {
            goToFrame(right);
            key(Qt::Key_P);
            key(Qt::Key_N);
        }
        QVERIFY2(desk.open.rep().positions.contains(asked.positionId), asked.positionId.c_str());
        return;
    }
    std::normal_distribution<double> click(0.0, model::placedPointSd);
    const model::Point2 right = truth_.landmarks.at(asked.frame).at(*asked.landmark).px;
    const model::Point2 put =
        model::find(desk.open.rep().landmarks, asked.frame, *asked.landmark)->px;
    if (length(put - right) <= model::confirmedPointSd) {
        key(Qt::Key_Return);
    } else {
        window_->waitForPicture();
        window_->clickPicture(right + model::Point2{click(random_), click(random_)});
        ++actions_;
    }
    QCOMPARE(model::find(desk.open.rep().landmarks, asked.frame, *asked.landmark)->source,
             model::Source::placed);
}

void TestNewClip::lookedThrough() {
    desk::Desk& desk = window_->desk();
    key(Qt::Key_N);
    constexpr int toThePlan = 1;
    while (actions_ < mostActions - toThePlan) {
        const auto doubts =
            technique::doubtsOf(desk.open.pack(), desk.open.rep(), desk.open.circumstances());
        if (doubts.empty()) {
            break;
        }
        answer(doubts.front());
    }
    QVERIFY2(actions_ <= mostActions - toThePlan, qPrintable(QString::number(actions_)));
}

void TestNewClip::judged() {
    desk::Desk& desk = window_->desk();
    // Every position is there, and none is off by more than it lasts or two frames.
    for (const technique::Position& position : desk.open.pack().positions) {
        const auto frame = model::frameOf(desk.open.rep(), position.id);
        QVERIFY2(frame.has_value(), position.id.c_str());
        const double miss = std::abs(*frame - truth_.positions.at(position.id));
        const double tolerated = std::max(2.0, position.lastsMs / 1000.0 * film_.spec.captureRate);
        QVERIFY2(miss <= tolerated,
                 qPrintable(QString("%1: %2 frames").arg(position.id.c_str()).arg(miss)));
    }
    // No verdict that is certain is wrong: inside where the truth is outside, or the reverse.
    const auto truth = technique::evaluate(desk.open.pack(), truth_, support::openSide(film_.spec));
    int certain = 0;
    for (const model::Reading& reading : desk.open.review().readings) {
        const model::Reading& right = support::reading(truth, reading.measureId);
        if (!reading.value || !right.value || !right.range) {
            continue;
        }
        const bool inside = right.range->low.value_or(*right.value) <= *right.value &&
                            right.range->high.value_or(*right.value) >= *right.value;
        if (reading.verdict == model::Verdict::inside ||
            reading.verdict == model::Verdict::outside) {
            ++certain;
            QVERIFY2((reading.verdict == model::Verdict::inside) == inside,
                     qPrintable(QString("%1: %2 ± %3, truly %4")
                                    .arg(reading.measureId.c_str())
                                    .arg(*reading.value)
                                    .arg(reading.u95)
                                    .arg(*right.value)));
        }
    }
    qInfo("%d actions up to here; %d verdicts are certain", actions_, certain);
    QVERIFY2(certain >= 8, qPrintable(QString::number(certain)));
}

void TestNewClip::planned() {
    press("station_plan");
    QCOMPARE(window_->main().station(), app::MainWindow::plan);
    const std::string& focus = window_->desk().open.review().plan.focusFaultId;
    QVERIFY(film_.spec.player.dials.contains(focus)); // a fault that this player was given
    QVERIFY(!window_->desk().open.review().plan.drillIds.empty());
    QVERIFY(!window_->find<QLabel>("provisional")->isVisible()); // it has been looked at
    QVERIFY2(actions_ <= mostActions, qPrintable(QString::number(actions_)));
}

void TestNewClip::closedWhileTheSheetIsStillDrawn() {
    // The Plan has just begun to draw the take-home sheet.
    QVERIFY(QThreadPool::globalInstance()->activeThreadCount() > 0);
    window_.reset();
    QCOMPARE(QThreadPool::globalInstance()->activeThreadCount(), 0);
}

QTEST_MAIN(TestNewClip)
#include "test_new_clip.moc"
