#include "coaching/drill_library.h"
#include "support/page.h"
#include "support/test_films.h"
#include "technique/pack/json_file.h"
#include "technique/pack/pack.h"

#include <QFile>
#include <QTest>

#include <algorithm>

using namespace kestrel;

/// What a coach's list of each technique asks for, against the place in the packs that carries it:
/// tests/data/coverage.tsv has the list, docs/coverage.md the table with lines.
class TestCoverage : public QObject {
    Q_OBJECT
  private slots:
    void everyItemIsCarried();

  private:
    /// The line, from 1, of `what` in the top-level list `section` of a pack's file; 0: it is not
    /// there.
    static int lineOf(const QStringList& lines, const QString& section, const QString& what) {
        bool inside = false;
        for (int i = 0; i < lines.size(); ++i) {
            if (lines[i].startsWith("  \"") && !lines[i].startsWith("   ")) {
                inside = lines[i].startsWith("  \"" + section + "\"");
            }
            if (inside && lines[i].contains(what)) {
                return i + 1;
            }
        }
        return 0;
    }
};

void TestCoverage::everyItemIsCarried() {
    const std::map<QString, QString> sections{
        {"P", "positions"}, {"M", "measures"}, {"O", "observations"},
        {"F", "faults"},    {"C", "cautions"}, {"V", "variants"},
        {"T", "shots"},     {"S", "schools"},  {"Q", "sequence"}};
    QFile list(QStringLiteral(KESTREL_TEST_DATA "/coverage.tsv"));
    QVERIFY(list.open(QIODevice::ReadOnly | QIODevice::Text));
    QString page =
        "# What of each technique the packs carry\n\n"
        "Made by `./kestrel pages` from `tests/data/coverage.tsv`; each line is one "
        "thing that a coach of the technique\nlooks for, with the lines of the pack file "
        "that carry it. “Not carried” says what is missing.\n";
    QString pack;
    QStringList lines;
    int carried = 0;
    int missing = 0;
    for (const QString& row : QString::fromUtf8(list.readAll()).split('\n', Qt::SkipEmptyParts)) {
        const QStringList cells = row.split('\t');
        QCOMPARE(cells.size(), 4);
        if (cells[0] != pack) {
            pack = cells[0];
            const auto file = std::filesystem::path(KESTREL_PACKS) / "techniques" /
                              (pack.toStdString() + ".json");
            lines = QString::fromStdString(technique::readText(file)).split('\n');
            page += "\n## " + pack + ".json\n\n| item | carried by |\n|---|---|\n";
        }
        if (cells[1] == "-") {
            ++missing;
            page += "| " + cells[3] + " | **not carried** |\n";
            continue;
        }
        QStringList where;
        const QStringList kinds = cells[1].split(',');
        for (const QString& id : cells[2].split(',')) {
            int line = 0;
            for (const QString& kind : kinds) {
                const QString what = kind == "C" ? id : "\"id\": \"" + id + "\"";
                line = std::max(line, lineOf(lines, sections.at(kind), what));
            }
            QVERIFY2(line > 0, qPrintable(pack + " has no “" + id + "” for: " + cells[3]));
            where << QString("`%1` line %2").arg(id).arg(line);
        }
        ++carried;
        page += "| " + cells[3] + " | " + where.join(", ") + " |\n";
    }
    page += QString("\n%1 of %2 items are carried.\n").arg(carried).arg(carried + missing);
    QVERIFY(missing < 10);
    support::writePage(page, "coverage.md");
}

QTEST_GUILESS_MAIN(TestCoverage)
#include "test_coverage.moc"
