#pragma once

#include "model/reading.h"
#include "model/review_script.h"
#include "report/film_images.h"
#include "report/review_timeline.h"

#include <QImage>
#include <QString>

#include <filesystem>
#include <functional>
#include <map>
#include <optional>
#include <vector>

/// A review film: its pictures, and its files.
namespace kestrel::report {

/// A film the review shows pictures of.
struct ReviewSource {
    model::Rep rep;
    std::vector<model::Reading> readings;
    FrameImages images;
    /// The same at most reviewWidth wide, for the film's whole picture; null: images are taken.
    FrameImages fitted = {};
    QString title = {}; ///< over the picture when two stand side by side
};

struct ReviewFilm {
    model::ReviewScript script;
    model::ClipTime time; ///< of the rep's clip
    ReviewSource shown;
    std::map<model::RepId, ReviewSource> beside; ///< by rep id
    std::filesystem::path voiceFolder;
    bool blurFaces = false;
};

/// Pictures a second of every review film: what phones play without a hitch.
inline constexpr int reviewRate = 30;

/// Most pixels across.
inline constexpr int reviewWidth = 1280;

/// Size of the pictures: the film's, at most reviewWidth wide, with a strip for the caption below,
/// so that words never lie on the player. Both even.
QSize reviewSize(QSize film);

/// Paints pictures of a review film. Not thread-safe; keeps the last film pictures it decoded.
class ReviewPainter {
  public:
    /// `film` has to outlive the painter. A frame whose face is to be blurred and cannot be found
    /// is painted as a grey field that says so.
    explicit ReviewPainter(const ReviewFilm& film);

    [[nodiscard]] QSize size() const { return size_; }
    [[nodiscard]] QImage paint(const TimelineFrame& at);
    /// Where a picture point of the film is painted when it stands alone.
    [[nodiscard]] QTransform pictureToPaint() const;

  private:
    [[nodiscard]] QImage decoded(const ReviewSource& source, int frame, bool whole);
    void paintSource(QPainter& painter, const ReviewSource& source, int frame, const QRectF& where,
                     const model::ScriptStep& step, bool main);

    const ReviewFilm& film_;
    QSize filmSize_;
    QSize size_;
    QRectF pictureArea_;
    struct Decoded {
        int frame = -1;
        QImage image;
    };
    /// The strip with a step's caption.
    const QImage& strip(std::size_t stepNumber);

    /// By source, and whether it was decoded to be shown whole.
    std::map<std::pair<const ReviewSource*, bool>, Decoded> last_;
    QImage strip_; ///< the one painted last, with its words
    std::string stripWords_;
};

/// Called with the share done, of 1; returns false to break off.
using ExportProgress = std::function<bool(double share)>;

/// Writes the film as MP4 with the captions painted in, and beside it the captions as .srt and
/// .vtt of the same name; with the voices of its steps when there are any. Returns false, and
/// leaves no file, when it was broken off. Throws model::InputError when a file cannot be written
/// or a voice cannot be read. Needs a QGuiApplication.
bool exportReviewFilm(const ReviewFilm& film, const std::filesystem::path& file,
                      const ExportProgress& progress);

} // namespace kestrel::report
