#include "model/input_error.h"
#include "report/film_images.h"
#include "report/fonts.h"
#include "report/take_home_files.h"
#include "report/take_home_html.h"
#include "support/commands.h"
#include "support/day.h"
#include "support/test_films.h"

#include <QFile>
#include <QGuiApplication>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

using namespace kestrel;
using support::operator""_day;

/// The sheet that goes home.
class TestTakeHome : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void saysWhatThePlayerNeeds();
    void picturesFollowThePositions();
    void htmlStandsAlone();
    void textIsEscaped();
    void pdfHoldsTheSameWords();
    void noFaultIsSaidKindly();
    void chosenFocusSaysSo();
    void placeThatCannotBeWrittenIsAMessage();

  private:
    report::SheetMaterial materialOf(const support::TestFilm& film,
                                     const model::PlanChoice& choice = {}) {
        const film::FilmIndex index = film::buildIndex(support::filmFile(film));
        const technique::Circumstances c = support::openSide(film.spec);
        report::SheetMaterial material;
        material.pack = pack_;
        material.drills = drills_;
        material.circumstances = c;
        material.doseAge = c.ageYears;
        material.choice = choice;
        material.player.name = "Mika <Sorrel> & Co";
        material.shown.clip.filmed = "2026-11-20"_day;
        material.shown.clip.title = "Pitch 1";
        material.shown.rep = support::trueRep(film.spec);
        material.shown.readings = technique::evaluate(pack_, material.shown.rep, c);
        material.shown.images = report::filmImages(index);
        material.reps = {{model::RepId(1), material.shown.readings, {}, c.schools}};
        material.visit = coaching::visitReviewOf(pack_, drills_, material.reps, choice);
        material.today = "2026-11-21"_day;
        return material;
    }
    report::TakeHome sheetOf(const support::TestFilm& film, const model::PlanChoice& choice = {}) {
        return report::takeHomeOf(materialOf(film, choice));
    }
    QString path(const char* name) const { return folder_.path() + "/" + name; }
    static QString htmlOf(const report::TakeHome& sheet) {
        return report::takeHomeHtml(sheet, [](std::size_t n) { return QString("p%1").arg(n); });
    }

    technique::Pack pack_;
    coaching::DrillLibrary drills_;
    QTemporaryDir folder_;
};

void TestTakeHome::initTestCase() {
    report::loadFonts();
    pack_ = support::pitchPack();
    drills_ = support::drills();
}

void TestTakeHome::saysWhatThePlayerNeeds() {
    const report::TakeHome sheet = sheetOf(support::faulty());
    QCOMPARE(sheet.focus, QString("Back leg collapses"));
    QVERIFY(sheet.cues.size() >= 2);
    QCOMPARE(sheet.drills.size(), std::size_t{3});
    QVERIFY(sheet.watch.size() <= 2);
    QVERIFY(!sheet.strengths.isEmpty());
    QVERIFY(sheet.cautions.join(' ').contains("clinician"));
    QCOMPARE(sheet.drills.back().dose, QString("15 easy throws")); // age 12
    QVERIFY(!htmlOf(sheet).contains(QChar(0xB0)));                 // words for a child: no degrees
}

void TestTakeHome::picturesFollowThePositions() {
    const report::TakeHome sheet = sheetOf(support::faulty());
    QStringList titles;
    for (const report::TakeHomePicture& picture : sheet.pictures) {
        titles << picture.title;
        QVERIFY(picture.image.width() > 200);
    }
    QCOMPARE(titles, (QStringList{"Set", "Lift top", "Hands part", "Stride", "Foot plant",
                                  "Lay-back", "Release", "Finish"}));
    QVERIFY(sheet.pictures[3].caption.startsWith("Work on:")); // the stride, where the focus starts
}

void TestTakeHome::htmlStandsAlone() {
    report::writeHtml(sheetOf(support::faulty()), path("sheet.html").toStdString());
    QFile file(path("sheet.html"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QString html = QString::fromUtf8(file.readAll());
    QCOMPARE(html.count("<img "), 8);
    QCOMPARE(html.count("src=\"data:image/jpeg;base64,"), 8);
    QVERIFY(!html.contains("http:") && !html.contains("https:"));
    QVERIFY(!html.contains("file:"));
    QVERIFY(html.contains("Back leg collapses"));
    QVERIFY(html.contains("Filmed on 20 November 2026"));
}

void TestTakeHome::textIsEscaped() {
    const QString html = htmlOf(sheetOf(support::faulty(), {"", {}, "Five < six & \"seven\"", {}}));
    QVERIFY(html.contains("Mika &lt;Sorrel&gt; &amp; Co"));
    QVERIFY(html.contains("Five &lt; six &amp;"));
    QVERIFY(!html.contains("<Sorrel>"));
}

void TestTakeHome::pdfHoldsTheSameWords() {
    report::writePdf(sheetOf(support::faulty()), report::Paper::a4,
                     path("sheet.pdf").toStdString());
    // poppler as an independent reader
    const support::Outcome words = support::run("pdftotext", {"-layout", path("sheet.pdf"), "-"});
    QCOMPARE(words.exitCode, 0);
    const QString text = QString::fromUtf8(words.out);
    for (const char* part : {"Mika <Sorrel> & Co", "Back leg collapses", "Low-roof glides"}) {
        QVERIFY2(text.contains(part), part);
    }
    const support::Outcome pictures = support::run("pdfimages", {"-list", path("sheet.pdf")});
    QVERIFY(pictures.out.count("image ") >= 8);
    const support::Outcome info = support::run("pdfinfo", {path("sheet.pdf")});
    QVERIFY(info.out.contains("A4"));
}

void TestTakeHome::noFaultIsSaidKindly() {
    const report::TakeHome sheet = sheetOf(support::rightHander());
    QVERIFY(sheet.focus.isEmpty());
    QVERIFY(htmlOf(sheet).contains("nothing that needs to change"));
}

void TestTakeHome::chosenFocusSaysSo() {
    const report::TakeHome sheet = sheetOf(support::faulty(), {"late_arm", {}, "", {}});
    QCOMPARE(sheet.focus, QString("Late arm"));
    QVERIFY(sheet.whyFirst.contains("coach chose"));
}

void TestTakeHome::placeThatCannotBeWrittenIsAMessage() {
    const report::TakeHome sheet = sheetOf(support::rightHander());
    QVERIFY_EXCEPTION_THROWN(report::writeHtml(sheet, "/nowhere/sheet.html"), model::InputError);
    QVERIFY_EXCEPTION_THROWN(report::writePdf(sheet, report::Paper::a4, "/nowhere/sheet.pdf"),
                             model::InputError);
}

QTEST_MAIN(TestTakeHome)
#include "test_take_home.moc"
