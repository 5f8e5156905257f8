#include "film/frame_hash.h"
#include "film/frame_reader.h"
#include "film/picture.h"
#include "model/input_error.h"
#include "support/film_corpus.h"

#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>

#include <cstdlib>
#include <fstream>
#include <random>
#include <sys/resource.h>
#include <vector>

using namespace kestrel;
namespace fs = std::filesystem;

namespace {

using Bytes = std::vector<char>;

Bytes bytesOf(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
}

/// One kind of damage, chosen by `random`.
Bytes damaged(Bytes bytes, std::mt19937& random) {
    const auto place = [&] { return random() % bytes.size(); };
    switch (random() % 5) {
    case 0: // flipped bits anywhere
        for (int i = 0; i < 1 + static_cast<int>(random() % 40); ++i) {
            bytes[place()] ^= static_cast<char>(1U << random() % 8);
        }
        break;
    case 1: // flipped bits in the first or last 512 bytes, where headers are
        for (int i = 0; i < 6; ++i) {
            const std::size_t near = random() % std::min<std::size_t>(512, bytes.size());
            bytes[random() % 2 == 0 ? near : bytes.size() - 1 - near] = static_cast<char>(random());
        }
        break;
    case 2: // cut off
        bytes.resize(1 + place());
        break;
    case 3: { // a run of zeros or ones
        const std::size_t from = place();
        const std::size_t to = std::min(bytes.size(), from + random() % 4096);
        std::fill(bytes.begin() + static_cast<std::ptrdiff_t>(from),
                  bytes.begin() + static_cast<std::ptrdiff_t>(to),
                  random() % 2 == 0 ? '\0' : static_cast<char>(-1));
        break;
    }
    default: { // a 32-bit field set to an extreme: sizes, rates and times that lie
        const std::size_t at = place();
        const std::uint32_t extreme =
            std::vector<std::uint32_t>{0U, 1U, 0x7FFFFFFFU, 0x80000000U, 0xFFFFFFFFU}[random() % 5];
        for (std::size_t i = 0; i < 4 && at + i < bytes.size(); ++i) {
            bytes[at + i] = static_cast<char>(extreme >> (24 - 8 * i));
        }
    }
    }
    return bytes;
}

/// Opens the film, steps to a few frames and closes it. A message is as good as a frame.
void useFilm(const fs::path& file, std::mt19937& random) {
    try {
        const film::FilmIndex index = film::buildIndex(file);
        film::FrameReader reader(index);
        film::PictureMaker maker(index);
        for (int visit = 0; visit < 4; ++visit) {
            const int frame =
                static_cast<int>(random() % static_cast<unsigned>(index.frameCount()));
            try {
                const AVFrame& decoded = reader.read(frame);
                (void)film::frameHash(decoded);
                (void)maker.make(decoded);
            } catch (const model::InputError&) {
            }
        }
    } catch (const model::InputError&) {
    }
}

} // namespace

/// Damaged films never crash or hang the program. KESTREL_DAMAGED_FILMS sets how many are tried
/// (./kestrel damage runs the long study under the sanitizers).
class TestDamagedFilms : public QObject {
    Q_OBJECT
  private slots:
    void damageIsAMessageOrAFrame();
};

void TestDamagedFilms::damageIsAMessageOrAFrame() {
    const QTemporaryDir folder;
    const fs::path where = folder.path().toStdString();
    std::vector<std::pair<std::string, Bytes>> originals;
    for (const support::CorpusFilm& film : support::filmCorpus()) {
        if (film.keep == 1.0 && film.name != "4K" && film.firstPicture < 0) {
            const fs::path file = support::madeFilm(film, where);
            originals.emplace_back(file.extension().string(), bytesOf(file));
        }
    }
    const int tries = qEnvironmentVariableIntValue("KESTREL_DAMAGED_FILMS");
    const int count = tries > 0 ? tries : 250;
    std::mt19937 random(2026);
    qint64 slowest = 0;
    int slow = 0;
    for (int i = 0; i < count; ++i) {
        const auto& [ending, bytes] = originals[static_cast<std::size_t>(i) % originals.size()];
        const fs::path file = where / ("damaged" + ending);
        const Bytes broken = damaged(bytes, random);
        std::ofstream(file, std::ios::binary)
            .write(broken.data(), static_cast<std::streamsize>(broken.size()));
        QElapsedTimer clock;
        clock.start();
        useFilm(file, random);
        slowest = std::max(slowest, clock.elapsed());
        constexpr qint64 longMs = 2000;
        if (clock.elapsed() > longMs) {
            ++slow;
            qInfo("try %d (%s) took %lld ms", i, ending.c_str(),
                  static_cast<long long>(clock.elapsed()));
        }
        constexpr qint64 hangMs = 20000; // far beyond any film of two seconds, sanitizers included
        QVERIFY2(clock.elapsed() < hangMs, qPrintable(QString("try %1").arg(i)));
    }
    struct rusage usage {};
    getrusage(RUSAGE_SELF, &usage);
    const long megabytes = usage.ru_maxrss / 1024;
    qInfo("%d damaged films, the slowest took %lld ms, %d more than 2 s; %ld MB at most", count,
          static_cast<long long>(slowest), slow, megabytes);
    constexpr long mostMegabytes = 3000; // two of the largest pictures, with the sanitizers' share
    QVERIFY(megabytes < mostMegabytes);
}

QTEST_GUILESS_MAIN(TestDamagedFilms)
#include "test_damaged_films.moc"
