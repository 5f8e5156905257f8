#include "coaching/schedule.h"
#include "report/fonts.h"
#include "report/homework_calendar.h"
#include "report/numbered_sheet.h"
#include "report/take_home_files.h"
#include "report/take_home_html.h"
#include "support/commands.h"
#include "support/day.h"
#include "support/reading_level.h"
#include "support/test_films.h"
#include "words/words.h"

#include <libical/ical.h>

#include <QDir>
#include <QFile>
#include <QGuiApplication>
#include <QTemporaryDir>
#include <QTest>
#include <QTextDocument>

#include <cmath>
#include <map>
#include <memory>
#include <set>

using namespace kestrel;
using support::operator""_day;

/// Everything on paper besides what the take-home sheet says: files as others read them, the
/// coach's report, numbered pictures, calendar, and how hard the words are.
class TestSheets : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void htmlIsValid_data() { kinds(); }
    void htmlIsValid();
    void opensInABrowser_data() { kinds(); }
    void opensInABrowser();
    void pdfPagesAreOfTheChosenPaper();
    void coachReportSaysEverything();
    void thenAndNowStandSideBySide();
    void weekPlanIsOnTheSheet();
    void blurredSheetShowsNoFace();
    void numberedSheetHasItsFrames();
    void framesEvenlyCoverTheRep();
    void calendarIsReadByLibical();
    void everyFaultsSheetReadsForATwelveYearOld();

  private:
    static void kinds() {
        QTest::addColumn<bool>("full");
        QTest::newRow("take-home") << false;
        QTest::newRow("full report") << true;
    }
    report::SheetMaterial material() const {
        const support::TestFilm& film = support::faulty();
        const technique::Circumstances c = support::openSide(film.spec);
        report::SheetMaterial m;
        m.pack = pack_;
        m.drills = drills_;
        m.player.name = "Mika Sorrel";
        m.circumstances = c;
        m.doseAge = c.ageYears;
        m.shown.clip.filmed = "2026-11-20"_day;
        m.shown.clip.title = "Pitch 1";
        m.shown.clip.captureRate = 60.0;
        m.shown.rep = support::trueRep(film.spec);
        m.shown.rep.title = "Rep 1";
        m.shown.readings = technique::evaluate(pack_, m.shown.rep, c);
        m.shown.images = report::filmImages(film::buildIndex(support::filmFile(film)));
        m.choice.findings["upright_finish"] = {true, "he was told to", false, false, "", ""};
        m.choice.note = "See you < soon >";
        m.reps = {{model::RepId(1), m.shown.readings, {}, c.schools},
                  {model::RepId(2), m.shown.readings, {}, c.schools}};
        m.visit = coaching::visitReviewOf(pack_, drills_, m.reps, m.choice);
        model::PlanWish wish = coaching::usualWish();
        wish.nextVisit = "2026-12-18"_day;
        m.nextVisit = wish.nextVisit;
        m.homework =
            coaching::scheduleOf(drills_, m.visit.plan.drillIds, wish,
                                 coaching::exampleLoadRule(KESTREL_PACKS), 12, "2026-11-20"_day, {})
                .homework;
        m.today = "2026-11-21"_day;
        return m;
    }
    QString written(bool full) const {
        const QString file = path(full ? "full.html" : "home.html");
        if (full) {
            report::writeHtml(report::coachReportOf(material()), file.toStdString());
        } else {
            report::writeHtml(report::takeHomeOf(material()), file.toStdString());
        }
        return file;
    }
    QString path(const char* name) const { return folder_.path() + "/" + name; }
    static QString content(const QString& file) {
        QFile f(file);
        return f.open(QIODevice::ReadOnly) ? QString::fromUtf8(f.readAll()) : QString();
    }

    technique::Pack pack_;
    coaching::DrillLibrary drills_;
    QTemporaryDir folder_;
};

void TestSheets::initTestCase() {
    report::loadFonts();
    QCoreApplication::setApplicationVersion("9.8.7");
    pack_ = support::pitchPack();
    drills_ = support::drills();
}

void TestSheets::htmlIsValid() {
    QFETCH(bool, full);
    const QString file = written(full);
    const support::Outcome tidy = support::run("tidy", {"-errors", "-quiet", "-utf8", file});
    QVERIFY2(tidy.exitCode == 0, tidy.err.left(2000).constData());
    const QString html = content(file);
    QVERIFY(!html.contains("http:") && !html.contains("https:") && !html.contains("file:"));
    QVERIFY(!html.contains("<script") && !html.contains("<link"));
}

void TestSheets::opensInABrowser() {
    QFETCH(bool, full);
    const QString file = written(full);
    const QString picture = path(full ? "full.png" : "home.png");
    const support::Outcome browser = support::run(
        "chromium", {"--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars",
                     "--user-data-dir=" + path("browser"), "--window-size=900,1200",
                     "--screenshot=" + picture, "file://" + file});
    QCOMPARE(browser.exitCode, 0);
    const QImage page(picture);
    QCOMPARE(page.size(), QSize(900, 1200));
    // There is a picture of the player, and there are dark letters on white.
    int green = 0;
    int dark = 0;
    int white = 0;
    for (int y = 0; y < page.height(); ++y) {
        for (int x = 0; x < page.width(); ++x) {
            const QColor c = page.pixelColor(x, y);
            green += c.green() > c.red() + 20 && c.green() > c.blue() + 20 ? 1 : 0;
            dark += qGray(c.rgb()) < 80 ? 1 : 0;
            white += qGray(c.rgb()) > 250 ? 1 : 0;
        }
    }
    QVERIFY2(green > 10000, qPrintable(QString::number(green)));
    QVERIFY(dark > 5000);
    QVERIFY(white > 200000);
}

void TestSheets::pdfPagesAreOfTheChosenPaper() {
    const report::TakeHome home = report::takeHomeOf(material());
    const report::CoachReport full = report::coachReportOf(material());
    for (const auto& [paper, size] : {std::pair(report::Paper::a4, "595 x 842 pts (A4)"),
                                      std::pair(report::Paper::letter, "612 x 792 pts (letter)")}) {
        report::writePdf(home, paper, path("home.pdf").toStdString());
        report::writePdf(full, paper, path("full.pdf").toStdString());
        for (const char* file : {"home.pdf", "full.pdf"}) {
            const support::Outcome info = support::run("pdfinfo", {path(file)});
            QVERIFY2(info.out.contains(size), info.out.constData());
            // Every page as a picture, and something on each.
            QCOMPARE(
                support::run("pdftoppm", {"-r", "40", "-png", path(file), path("page")}).exitCode,
                0);
            const QStringList pages =
                QDir(folder_.path()).entryList({"page-*.png"}, QDir::Files, QDir::Name);
            QVERIFY(pages.size() >= 2 && pages.size() <= 9);
            for (const QString& name : pages) {
                const QImage page(folder_.filePath(name));
                int ink = 0;
                for (int y = 0; y < page.height(); ++y) {
                    for (int x = 0; x < page.width(); ++x) {
                        ink += qGray(page.pixel(x, y)) < 200 ? 1 : 0;
                    }
                }
                QVERIFY2(ink > 200, qPrintable(name));
                QFile::remove(folder_.filePath(name));
            }
        }
    }
}

void TestSheets::coachReportSaysEverything() {
    const report::SheetMaterial m = material();
    QTextDocument document;
    document.setHtml(report::coachReportOf(m).html);
    const QString text = document.toPlainText();
    for (const model::Reading& reading : m.shown.readings) {
        const technique::Measure& measure = *technique::findMeasure(pack_, reading.measureId);
        QVERIFY2(text.contains(QString::fromStdString(measure.name)), measure.id.c_str());
        if (!reading.value) {
            QVERIFY(text.contains(words::inWords(reading.missing->why)));
        }
    }
    for (const char* part :
         {"in 2 of 2 reps", "Dismissed by the coach", "he was told to", "Stay tall", "9.8.7",
          "version", "open side", "60 pictures a second", "clinician", "See you < soon >",
          "18 December 2026", "half the 95 % interval"}) {
        QVERIFY2(text.contains(QString::fromUtf8(part)), part);
    }
    QVERIFY(!report::coachReportOf(m).pictures.empty());
}

void TestSheets::thenAndNowStandSideBySide() {
    report::SheetMaterial m = material();
    QVERIFY(report::takeHomeOf(m).beforeAndAfter.empty());
    m.earlier = m.shown;
    m.earlier->clip.filmed = "2026-10-17"_day;
    const report::TakeHome sheet = report::takeHomeOf(m);
    QCOMPARE(sheet.beforeAndAfter.size(), std::size_t{2});
    QCOMPARE(sheet.beforeAndAfter[0].title, QString("Then: 17 October 2026"));
    const QString html =
        report::takeHomeHtml(sheet, [](std::size_t n) { return QStringLiteral("p%1").arg(n); });
    QVERIFY(html.contains(QString("src=\"p%1\"").arg(sheet.pictures.size() + 1)));
    m.pose = QImage(30, 20, QImage::Format_RGB32);
    const report::TakeHome withPose = report::takeHomeOf(m);
    QCOMPARE(report::picturesOf(withPose).size(), report::picturesOf(sheet).size() + 1);
    QVERIFY(report::takeHomeHtml(withPose, [](std::size_t n) {
                return QStringLiteral("p%1").arg(n);
            }).contains(QString("src=\"p%1\"").arg(sheet.pictures.size() + 2)));
}

void TestSheets::weekPlanIsOnTheSheet() {
    const report::SheetMaterial m = material();
    const report::TakeHome sheet = report::takeHomeOf(m);
    std::set<model::Day> days;
    for (const auto& item : m.homework) {
        days.insert(item.day);
    }
    QCOMPARE(sheet.week.size(), days.size());
    const QString html =
        report::takeHomeHtml(sheet, [](std::size_t n) { return QString::number(n); });
    QCOMPARE(html.count(QStringLiteral("☐")), static_cast<int>(m.homework.size()));
    QVERIFY(html.contains("Saturday, 21 November"));
    QVERIFY(html.contains("Next time, on 18 December 2026, we ask"));
}

void TestSheets::blurredSheetShowsNoFace() {
    report::SheetMaterial m = material();
    const auto clear = report::takeHomeOf(m).pictures;
    m.blurFaces = true;
    const auto blurred = report::takeHomeOf(m).pictures;
    QCOMPARE(blurred.size(), clear.size());
    for (std::size_t i = 0; i < clear.size(); ++i) {
        QVERIFY(blurred[i].image != clear[i].image);
    }
    m.shown.rep.landmarks.clear();
    QVERIFY(report::takeHomeOf(m).pictures.empty()); // rather none than a face
}

void TestSheets::numberedSheetHasItsFrames() {
    const report::SheetMaterial m = material();
    const auto frames = report::framesAtPositions(pack_, m.shown.rep);
    QCOMPARE(frames.size(), std::size_t{8});
    report::NumberedSheet sheet;
    sheet.heading = "Mika";
    sheet.cellWidth = 200;
    int decoded = 0;
    const report::FrameImages counting = [&](int frame) {
        ++decoded;
        return m.shown.images(frame);
    };
    const QImage page =
        report::numberedSheet(sheet, frames, m.shown.rep.landmarks, m.shown.readings, counting);
    QCOMPARE(decoded, 8);
    QCOMPARE(page.width(), 10 + 4 * 210);
    sheet.constructs = false;
    const QImage plain = report::numberedSheet(sheet, frames, m.shown.rep.landmarks,
                                               m.shown.readings, m.shown.images);
    QCOMPARE(plain.size(), page.size());
    QVERIFY(plain != page);
    QCOMPARE(plain,
             report::numberedSheet(sheet, frames, m.shown.rep.landmarks, {}, m.shown.images));
}

void TestSheets::framesEvenlyCoverTheRep() {
    const report::SheetMaterial m = material();
    const model::ClipTime& time = m.circumstances.time;
    model::Rep rep = m.shown.rep;
    rep.span = model::FrameSpan{10, 50};
    const auto frames = report::framesEvenly(rep, time, 9);
    QCOMPARE(frames.size(), std::size_t{9});
    for (std::size_t i = 0; i < frames.size(); ++i) {
        QCOMPARE(frames[i].frame, 10 + 5 * static_cast<int>(i));
    }
    QCOMPARE(frames.front().title, QString("0.00 s"));
    rep.span = model::FrameSpan{10, 12};
    QCOMPARE(report::framesEvenly(rep, time, 40).size(), std::size_t{3});
}

void TestSheets::calendarIsReadByLibical() {
    const report::SheetMaterial m = material();
    const model::VisitKey visit{model::PlayerId(3), "2026-11-20"_day, pack_.id};
    const std::string text =
        report::homeworkCalendar("Mika, “the” Sorrel; Co", pack_.name, visit, m.homework,
                                 m.nextVisit, drills_, "2026-11-21"_day);
    const std::unique_ptr<icalcomponent, decltype(&icalcomponent_free)> calendar(
        icalparser_parse_string(text.c_str()), &icalcomponent_free);
    QVERIFY(calendar != nullptr);
    QCOMPARE(icalcomponent_count_errors(calendar.get()), 0);
    QVERIFY(icalrestriction_check(calendar.get()) != 0);
    std::map<std::string, std::set<std::string>> wanted; // by day: names of drills
    for (const auto& item : m.homework) {
        wanted[item.day.iso()].insert(drills_.at(item.drillId).name);
    }
    std::set<std::string> uids;
    std::size_t sessions = 0;
    for (icalcomponent* event =
             icalcomponent_get_first_component(calendar.get(), ICAL_VEVENT_COMPONENT);
         event != nullptr;
         event = icalcomponent_get_next_component(calendar.get(), ICAL_VEVENT_COMPONENT)) {
        uids.insert(icalcomponent_get_uid(event));
        const icaltimetype start = icalcomponent_get_dtstart(event);
        QVERIFY(start.is_date != 0);
        const QString day = QString::asprintf("%04d-%02d-%02d", start.year, start.month, start.day);
        const QString summary = QString::fromUtf8(icalcomponent_get_summary(event));
        QVERIFY(summary.startsWith("Mika, “the” Sorrel; Co"));
        if (summary.contains("film again")) {
            QCOMPARE(day, QString("2026-12-18"));
            continue;
        }
        ++sessions;
        const QString description = QString::fromUtf8(icalcomponent_get_description(event));
        for (const std::string& drill : wanted.at(day.toStdString())) {
            QVERIFY(description.contains(QString::fromStdString(drill)));
        }
    }
    QCOMPARE(sessions, wanted.size());
    QCOMPARE(uids.size(), wanted.size() + 1);
    for (const QByteArray& line : QByteArray::fromStdString(text).split('\n')) {
        QVERIFY(line.size() <= 76); // 75 bytes and the carriage return
    }
    QCOMPARE(report::homeworkCalendar("Mika, “the” Sorrel; Co", pack_.name, visit, m.homework,
                                      m.nextVisit, drills_, "2026-11-21"_day),
             text);
}

/// The words of the sheet for every fault of every pack.
void TestSheets::everyFaultsSheetReadsForATwelveYearOld() {
    QCOMPARE(support::syllables("throwing"), 2);
    QCOMPARE(support::syllables("elbow"), 2);
    QCOMPARE(support::syllables("side"), 1);
    QCOMPARE(support::syllables("banana"), 3);
    // The formula's own limits: short sentences of short words, and a hard one.
    QVERIFY(support::readingGrade("The cat sat. It ran up the hill.") < 1.0);
    QVERIFY(support::readingGrade("Biomechanical investigations of musculoskeletal coordination "
                                  "necessitate considerable methodological sophistication.") >
            15.0);
    double hardest = 0.0;
    double sum = 0.0;
    int sheets = 0;
    QStringList tooHard;
    for (const technique::Pack& pack : support::shippedPacks()) {
        for (const technique::FaultDefinition& fault : pack.faults) {
            report::SheetMaterial m;
            m.pack = pack;
            m.drills = drills_;
            m.player.name = "Mika Sorrel";
            m.shown.images = [](int) { return QImage(); };
            m.circumstances.ageYears = 12;
            m.choice.findings[fault.id].added = true;
            m.visit = coaching::visitReviewOf(pack, drills_, {}, m.choice);
            m.homework = coaching::scheduleOf(drills_, fault.drills, coaching::usualWish(),
                                              coaching::exampleLoadRule(KESTREL_PACKS), 12,
                                              "2026-11-20"_day, {})
                             .homework;
            const report::TakeHome sheet = report::takeHomeOf(m);
            QCOMPARE(sheet.focus, QString::fromStdString(fault.name));
            // Only what is prose: headings and the table of days would make it look easier.
            QStringList prose{sheet.focusMeaning, sheet.whyFirst};
            prose << sheet.cues << sheet.nextQuestions << sheet.cautions;
            for (const report::TakeHomeDrill& drill : sheet.drills) {
                prose << drill.setUp << drill.steps << drill.feel << drill.mistake << drill.next
                      << drill.caution;
            }
            const double grade = support::readingGrade(prose.join("\n"));
            hardest = std::max(hardest, grade);
            sum += grade;
            ++sheets;
            constexpr double twelveYears = 6.9; // in the seventh grade, not over it
            if (grade > twelveYears) {
                tooHard << QString("%1 %2: %3")
                               .arg(QString::fromStdString(pack.id),
                                    QString::fromStdString(fault.id))
                               .arg(grade, 0, 'f', 1);
            }
        }
    }
    qInfo("%d sheets, grade %.1f on average, %.1f at most", sheets, sum / sheets, hardest);
    QVERIFY2(tooHard.isEmpty(), qPrintable(tooHard.join("\n")));
}

QTEST_MAIN(TestSheets)
#include "test_sheets.moc"
