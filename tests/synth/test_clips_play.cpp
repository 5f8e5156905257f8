#include "support/commands.h"
#include "support/motions.h"
#include "synth/film_edit.h"
#include "synth/outfits.h"

#include <QFileInfo>
#include <QTemporaryDir>

using namespace kestrel;

/// A clip of every technique, in every container, from every view: the ffmpeg command plays it to
/// the end without a word and counts the frames that were filmed.
class TestClipsPlay : public QObject {
    Q_OBJECT
  private slots:
    void playsWithoutComplaint_data();
    void playsWithoutComplaint();
};

void TestClipsPlay::playsWithoutComplaint_data() {
    QTest::addColumn<std::string>("technique");
    QTest::addColumn<int>("view");
    QTest::addColumn<QString>("ending");
    const std::vector<QString> endings{"mp4", "mov", "mkv", "webm", "avi"};
    const std::vector<model::View> views{model::View::openSide, model::View::closedSide,
                                         model::View::front, model::View::rear,
                                         model::View::overhead};
    // Each technique meets each view and each container once; over the techniques, all pairs.
    std::size_t turn = 0;
    for (const std::string& technique : support::techniquesToStudy()) {
        for (std::size_t i = 0; i < views.size(); ++i) {
            const QString& ending = endings[(i + turn) % endings.size()];
            QTest::newRow(qPrintable(QString("%1 %2 %3")
                                         .arg(QString::fromStdString(technique))
                                         .arg(name(views[i]).data())
                                         .arg(ending)))
                << technique << static_cast<int>(views[i]) << ending;
        }
        ++turn;
    }
}

void TestClipsPlay::playsWithoutComplaint() {
    QFETCH(std::string, technique);
    QFETCH(int, view);
    QFETCH(QString, ending);
    const QTemporaryDir folder;
    synth::FilmSpec spec;
    spec.player.technique = technique;
    spec.outfit = synth::outfitFor(technique, 0);
    spec.camera.view = static_cast<model::View>(view);
    spec.camera.distanceM = 5.0;
    spec.width = 160;
    spec.height = 120;
    spec.captureRate = 30.0;
    spec.fileRate = {30, 1};
    spec.fromS = -0.2;
    spec.toS = 0.1;
    const QString file = folder.filePath("clip." + ending);
    QVERIFY(synth::renderFilm(synth::FrameRenderer(spec), file.toStdString()));
    const auto played = support::run("ffmpeg", {"-v", "warning", "-i", file, "-f", "null", "-"});
    QCOMPARE(played.exitCode, 0);
    QCOMPARE(played.err, QByteArray());
    const auto counted =
        support::run("ffprobe", {"-v", "error", "-count_frames", "-select_streams", "v", "-of",
                                 "csv=p=0", "-show_entries", "stream=nb_read_frames", file});
    QCOMPARE(counted.out.trimmed().split(',').first(), QByteArray("10"));
}

QTEST_GUILESS_MAIN(TestClipsPlay)
#include "test_clips_play.moc"
