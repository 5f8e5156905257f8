#pragma once

#include "film/film_index.h"

#include <QImage>
#include <QObject>

#include <condition_variable>
#include <map>
#include <mutex>
#include <set>
#include <thread>

namespace kestrel::app {

/// Small pictures of frames, made on a thread of its own so that the frame looked at never waits.
class Thumbnails : public QObject {
    Q_OBJECT
  public:
    explicit Thumbnails(QObject* parent = nullptr);
    ~Thumbnails() override;

    /// Starts anew with another film; nothing is made until pictures are asked for.
    void setFilm(const film::FilmIndex& index);

    /// The thumbnail of a frame when it is there; otherwise null, and ready() when it has been
    /// made.
    QImage at(int frame);

    /// Whether pictures that were asked for are still being made.
    [[nodiscard]] bool busy();

  signals:
    void ready(int frame);

  private:
    void run();

    std::mutex mutex_;
    std::condition_variable wake_;
    film::FilmIndex index_;
    int generation_ = 0; ///< which film; results of an earlier one are dropped
    std::map<int, QImage> made_;
    std::set<int> wanted_;
    bool making_ = false;
    bool stop_ = false;
    std::thread thread_;
};

} // namespace kestrel::app
