#pragma once

#include "report/review_film.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include <memory>

namespace kestrel::app {

/// Shows a review film: one of its pictures, or all of them in time. Pictures are painted off the
/// interface thread; one that comes too late is left out.
class FilmPreview : public QWidget {
    Q_OBJECT
  public:
    explicit FilmPreview(QWidget* parent = nullptr);

    /// Another film, or null for none. Stops playing.
    void setFilm(std::shared_ptr<const report::ReviewFilm> film);
    /// Shows the first picture of a step.
    void showStep(std::size_t step);
    void play();
    void stop();
    [[nodiscard]] bool isPlaying() const { return timer_.isActive(); }
    /// Length of the film.
    [[nodiscard]] model::Seconds length() const;
    /// The picture shown last; for tests.
    [[nodiscard]] const QImage& image() const { return image_; }

  signals:
    void stepReached(int step);
    void stopped();
    /// The coach clicked a spot of the player's film, in its pixels.
    void spotClicked(const QPointF& at);

  protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    [[nodiscard]] QSize sizeHint() const override;

  private:
    /// The film with its painter, shared with the thread that paints.
    struct Painting;

    void want(std::size_t number);
    void paintNext();
    [[nodiscard]] QRectF imageArea() const;

    std::shared_ptr<Painting> painting_;
    std::vector<report::TimelineFrame> timeline_;
    QImage image_;
    QTransform pictureToPaint_;
    bool painted_ = true; ///< nothing is being painted
    std::optional<std::size_t> wanted_;
    std::size_t shown_ = 0;
    QTimer timer_;
    QElapsedTimer clock_;
    std::size_t playedFrom_ = 0;
    int step_ = -1;
};

} // namespace kestrel::app
