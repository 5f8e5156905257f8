#include "film/frame_server.h"
#include "film/picture_reader.h"
#include "support/test_films.h"

#include <QTest>

#include <condition_variable>
#include <mutex>
#include <random>
#include <set>

using namespace kestrel;

namespace {

/// Collects what a server delivers and lets a test wait for a frame.
class Collector {
  public:
    film::FrameServer::Deliver deliver() {
        return
            [this](int frame, const film::PicturePtr& picture, const std::exception_ptr& problem) {
                const std::lock_guard lock(mutex_);
                pictures_[frame] = picture;
                problem_ = problem;
                arrived_.notify_all();
            };
    }
    film::PicturePtr waitFor(int frame) {
        std::unique_lock lock(mutex_);
        arrived_.wait_for(lock, std::chrono::seconds(20),
                          [&] { return pictures_.contains(frame); });
        return pictures_[frame];
    }

  private:
    std::mutex mutex_;
    std::condition_variable arrived_;
    std::map<int, film::PicturePtr> pictures_;
    std::exception_ptr problem_;
};

std::shared_ptr<film::FrameCache> cacheOf(std::size_t bytes) {
    return std::make_shared<film::FrameCache>(bytes);
}

} // namespace

/// The decoder beside the interface: right pictures, ahead of time, inside its bound.
class TestFrameServer : public QObject {
    Q_OBJECT
  private slots:
    void deliversTheExactPicture();
    void readsAheadInTheDirectionOfTravel();
    void staysInsideItsBound();
    void wishesOutsideAreClamped();
    void nearestIsAtHandWhileTheExactOneComes();
    void keyPositionsStayInMemory();
    void severalFilmsShareOneBound();
    void steppingBackIsReadAheadInStretches();
    void aWishBreaksReadingAheadOff();
};

void TestFrameServer::deliversTheExactPicture() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    film::PictureReader reader(index);
    Collector collector;
    film::FrameServer server(index, collector.deliver(),
                             cacheOf(film::FrameServer::defaultCacheBytes));
    for (const int frame : {200, 3, 350, 199}) {
        server.want(frame);
        const film::PicturePtr picture = collector.waitFor(frame);
        QVERIFY(picture);
        QCOMPARE(picture->pixels, reader.read(frame).pixels);
    }
}

void TestFrameServer::readsAheadInTheDirectionOfTravel() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    Collector collector;
    film::FrameServer server(index, collector.deliver(),
                             cacheOf(film::FrameServer::defaultCacheBytes));
    server.want(100);
    QVERIFY(collector.waitFor(100));
    QTRY_VERIFY_WITH_TIMEOUT(server.decoded(110), 10000);
    server.want(99);
    QVERIFY(collector.waitFor(99));
    QTRY_VERIFY_WITH_TIMEOUT(server.decoded(90), 10000);
}

void TestFrameServer::staysInsideItsBound() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    const std::size_t one = static_cast<std::size_t>(index.width) * index.height * 4;
    const std::size_t bound = 10 * one;
    const auto cache = cacheOf(bound);
    Collector collector;
    film::FrameServer server(index, collector.deliver(), cache);
    for (int frame = 0; frame < 60; frame += 3) {
        server.want(frame);
        QVERIFY(collector.waitFor(frame));
        QVERIFY(cache->bytes() <= bound);
    }
    QVERIFY(server.decoded(57));
    QVERIFY(!server.decoded(0));
}

void TestFrameServer::wishesOutsideAreClamped() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    Collector collector;
    film::FrameServer server(index, collector.deliver(),
                             cacheOf(film::FrameServer::defaultCacheBytes));
    server.want(100000);
    QVERIFY(collector.waitFor(index.frameCount() - 1));
    server.want(-5);
    QVERIFY(collector.waitFor(0));
}

void TestFrameServer::nearestIsAtHandWhileTheExactOneComes() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    const std::size_t one = static_cast<std::size_t>(index.width) * index.height * 4;
    Collector collector;
    film::FrameServer server(index, collector.deliver(), cacheOf(64 * one));
    server.want(100);
    QVERIFY(collector.waitFor(100));
    QTRY_VERIFY_WITH_TIMEOUT(server.decoded(101), 10000);
    server.want(140);
    QVERIFY(collector.waitFor(140));
    QCOMPARE(server.nearestCached(100).first, 100);
    QCOMPARE(server.nearestCached(350).first, 140);
    QVERIFY(server.nearestCached(350).second != nullptr);
}

void TestFrameServer::keyPositionsStayInMemory() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    const std::size_t one = static_cast<std::size_t>(index.width) * index.height * 4;
    Collector collector;
    const auto cache = cacheOf(12 * one);
    film::FrameServer server(index, collector.deliver(), cache);
    server.keepAlways({10, 300});
    for (const int frame : {10, 300, 150, 155, 160, 165, 170, 175, 180}) {
        server.want(frame);
        QVERIFY(collector.waitFor(frame));
    }
    QVERIFY(server.decoded(10));
    QVERIFY(server.decoded(300));
    QVERIFY(cache->bytes() <= 12 * one);
    // More than half of the bound is not kept for them.
    std::set<int> many;
    for (int frame = 0; frame < 30; ++frame) {
        many.insert(frame);
    }
    server.keepAlways(many);
    for (int frame = 0; frame < 30; frame += 2) {
        server.want(frame);
        QVERIFY(collector.waitFor(frame));
        QVERIFY(cache->bytes() <= 12 * one);
    }
}

void TestFrameServer::severalFilmsShareOneBound() {
    const film::FilmIndex first = film::buildIndex(support::filmFile(support::rightHander()));
    const film::FilmIndex second = film::buildIndex(support::filmFile(support::leftHander()));
    const std::size_t one = static_cast<std::size_t>(first.width) * first.height * 4;
    const auto cache = cacheOf(20 * one);
    Collector fromFirst;
    Collector fromSecond;
    film::FrameServer server(first, fromFirst.deliver(), cache);
    {
        film::FrameServer other(second, fromSecond.deliver(), cache);
        for (int frame = 30; frame < 90; frame += 4) {
            server.want(frame);
            other.want(2 * frame);
            QVERIFY(fromFirst.waitFor(frame));
            QVERIFY(fromSecond.waitFor(2 * frame));
            QVERIFY(cache->bytes() <= 20 * one);
        }
        // Both keep what is looked at, and each its own film's pictures.
        film::PictureReader firstReader(first);
        film::PictureReader secondReader(second);
        QVERIFY(server.cached(86));
        QVERIFY(other.cached(172));
        QCOMPARE(server.cached(86)->pixels, firstReader.read(86).pixels);
        QCOMPARE(other.cached(172)->pixels, secondReader.read(172).pixels);
    }
    // A film that is closed gives its room back.
    QVERIFY(server.cached(86));
    server.want(86);
    QTRY_VERIFY_WITH_TIMEOUT(server.decoded(90), 10000);
    QVERIFY(cache->bytes() <= 20 * one);
}

void TestFrameServer::steppingBackIsReadAheadInStretches() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    film::PictureReader reader(index);
    Collector collector;
    film::FrameServer server(index, collector.deliver(),
                             cacheOf(film::FrameServer::defaultCacheBytes));
    server.want(300);
    QVERIFY(collector.waitFor(300));
    for (int frame = 299; frame > 200; --frame) {
        server.want(frame);
        const film::PicturePtr picture = collector.waitFor(frame);
        QVERIFY(picture);
        if (frame % 7 == 0) {
            QCOMPARE(picture->pixels, reader.read(frame).pixels);
        }
    }
    // The stretch before is decoded without being asked for.
    QTRY_VERIFY_WITH_TIMEOUT(server.decoded(170), 20000);
}

void TestFrameServer::aWishBreaksReadingAheadOff() {
    const film::FilmIndex index = film::buildIndex(support::filmFile(support::rightHander()));
    film::PictureReader reader(index);
    Collector collector;
    film::FrameServer server(index, collector.deliver(),
                             cacheOf(film::FrameServer::defaultCacheBytes));
    std::mt19937 random(8);
    std::uniform_int_distribution<int> any(0, index.frameCount() - 1);
    for (int visit = 0; visit < 40; ++visit) {
        const int frame = any(random);
        server.want(any(random)); // overtaken at once
        server.want(frame);
        const film::PicturePtr picture = collector.waitFor(frame);
        QVERIFY(picture);
        QCOMPARE(picture->pixels, reader.read(frame).pixels);
    }
}

QTEST_GUILESS_MAIN(TestFrameServer)
#include "test_frame_server.moc"
