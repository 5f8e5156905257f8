#include "report/review_film.h"

#include "film/sound.h"
#include "film/video_writer.h"
#include "model/input_error.h"
#include "report/construct_painter.h"
#include "report/document_pdf.h"
#include "report/face_blur.h"
#include "report/fonts.h"
#include "report/palette.h"
#include "report/position_picture.h"

#include <QCoreApplication>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <future>

namespace kestrel::report {
namespace {

/// What stands on it, for translators.
class ReviewFilmWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::ReviewFilmWords)
};

constexpr double captionShare = 0.13; // of the picture's height: two lines of words

int even(double value) {
    return 2 * static_cast<int>(std::lround(value / 2));
}

/// Height of the player's film in the review film; the caption stands below.
int pictureHeight(QSize film) {
    return even(film.height() * std::min(1.0, static_cast<double>(reviewWidth) / film.width()));
}

QFont fontOf(double pixels) {
    QFont font(fontFamily);
    font.setPixelSize(std::max(8, static_cast<int>(std::lround(pixels))));
    return font;
}

/// The largest font, up to `most` pixels, in which the words fit.
QFont fittingFont(const QString& words, const QRectF& room, double most) {
    double pixels = most;
    constexpr double least = 9.0;
    while (pixels > least) {
        const QRectF needed = QFontMetricsF(fontOf(pixels))
                                  .boundingRect(room, Qt::TextWordWrap | Qt::AlignCenter, words);
        if (needed.height() <= room.height() && needed.width() <= room.width()) {
            break;
        }
        pixels -= 1.0;
    }
    return fontOf(pixels);
}

std::vector<model::Reading> readingOf(const ReviewSource& source, const std::string& measure) {
    std::vector<model::Reading> readings;
    std::copy_if(source.readings.begin(), source.readings.end(), std::back_inserter(readings),
                 [&](const model::Reading& r) { return r.measureId == measure; });
    return readings;
}

/// The voices where their steps begin, one after the other over the film; empty without voices.
std::vector<float> voicesOf(const ReviewFilm& film, const std::vector<TimelineFrame>& timeline) {
    std::vector<float> sound;
    for (std::size_t n = 0; n < timeline.size(); ++n) {
        const bool begins = n == 0 || timeline[n].step != timeline[n - 1].step;
        const std::string& voice = film.script[timeline[n].step].voice;
        if (!begins || voice.empty()) {
            continue;
        }
        const std::vector<float> samples = film::readSound(film.voiceFolder / voice);
        const std::size_t start = n * film::soundRate / reviewRate;
        sound.resize(std::max(sound.size(), start + samples.size()), 0.0F);
        std::transform(samples.begin(), samples.end(),
                       sound.begin() + static_cast<std::ptrdiff_t>(start),
                       sound.begin() + static_cast<std::ptrdiff_t>(start),
                       [](float a, float b) { return a + b; });
    }
    sound.resize(std::min(sound.size(), timeline.size() * film::soundRate / reviewRate));
    return sound;
}

/// A file beside another with another ending.
std::filesystem::path beside(std::filesystem::path file, const char* ending) {
    return file.replace_extension(ending);
}

} // namespace

QSize reviewSize(QSize film) {
    const double scale = std::min(1.0, static_cast<double>(reviewWidth) / film.width());
    const int height = pictureHeight(film);
    return {even(film.width() * scale), height + even(height * captionShare)};
}

ReviewPainter::ReviewPainter(const ReviewFilm& film) : film_(film) {
    const int first = film.script.empty() ? 0 : film.script.front().first;
    filmSize_ = film.shown.images(first).size();
    if (filmSize_.isEmpty()) {
        constexpr QSize unknown(640, 480); // a first frame that is damaged
        filmSize_ = unknown;
    }
    size_ = reviewSize(filmSize_);
    pictureArea_ = QRectF(0, 0, size_.width(), pictureHeight(filmSize_));
}

QTransform ReviewPainter::pictureToPaint() const {
    return QTransform::fromScale(pictureArea_.width() / filmSize_.width(),
                                 pictureArea_.height() / filmSize_.height());
}

QImage ReviewPainter::decoded(const ReviewSource& source, int frame, bool whole) {
    Decoded& last = last_[{&source, whole}];
    if (last.frame != frame) {
        last.frame = frame;
        last.image = whole && source.fitted ? source.fitted(frame) : source.images(frame);
        const double scale =
            whole ? static_cast<double>(last.image.width()) / filmSize_.width() : 1.0;
        if (!last.image.isNull() && film_.blurFaces &&
            !blurFace(last.image, source.rep.landmarks, frame, scale)) {
            last.image = {};
        }
    }
    return last.image;
}

void ReviewPainter::paintSource(QPainter& painter, const ReviewSource& source, int frame,
                                const QRectF& where, const model::ScriptStep& step, bool main) {
    // Alone the whole picture is shown; beside another what is round the player.
    const bool alone = !step.besideRep.stored();
    const QImage image = decoded(source, frame, alone);
    if (image.isNull()) {
        painter.fillRect(where, slate);
        painter.setPen(Qt::white);
        painter.setFont(fontOf(where.height() / 24));
        const QString why =
            film_.blurFaces ? ReviewFilmWords::tr("Left out: the face cannot be found to blur it.")
            : main          ? ReviewFilmWords::tr("This frame cannot be read.")
                            : ReviewFilmWords::tr("The other film does not show this moment.");
        painter.drawText(where, Qt::AlignCenter | Qt::TextWordWrap, why);
        return;
    }
    const QRectF region = alone ? QRectF(QPointF(), QSizeF(filmSize_))
                                : playerRegion(source.rep.landmarks, frame, image.size(),
                                               where.width() / where.height());
    if (alone && image.size() == where.size().toSize()) {
        painter.drawImage(where.topLeft().toPoint(), image); // copied, not scaled
    } else {
        painter.drawImage(where, image, alone ? QRectF(image.rect()) : region);
    }
    const QTransform map =
        QTransform::fromTranslate(-region.x(), -region.y()) *
        QTransform::fromScale(where.width() / region.width(), where.height() / region.height()) *
        QTransform::fromTranslate(where.x(), where.y());
    ConstructStyle style;
    constexpr double lineShare = 1.0 / 320;
    constexpr double fontShare = 1.0 / 30;
    style.lineWidth = pictureArea_.height() * lineShare;
    style.fontPixels = pictureArea_.height() * fontShare;
    if (!step.measureId.empty()) {
        paintConstructs(painter, constructsOn(frame, readingOf(source, step.measureId)), map,
                        style);
    }
    if (main && step.pointer) {
        const QPointF spot = map.map(QPointF(step.pointer->x, step.pointer->y));
        const double radius = pictureArea_.height() / 16;
        painter.setBrush(Qt::NoBrush);
        for (const auto& [colour, width] :
             {std::pair(nearBlack, 3.0), std::pair(cream, 1.6)}) { // light on a dark edge
            painter.setPen(QPen(colour, width * style.lineWidth));
            painter.drawEllipse(spot, radius, radius);
        }
    }
    if (!alone) {
        painter.setFont(fontOf(style.fontPixels));
        const QRectF label(where.x(), where.y(), where.width(), 2 * style.fontPixels);
        painter.fillRect(label, QColor(nearBlack.red(), nearBlack.green(), nearBlack.blue(), 170));
        painter.setPen(Qt::white);
        painter.drawText(label, Qt::AlignCenter, source.title);
    }
}

const QImage& ReviewPainter::strip(std::size_t stepNumber) {
    const std::string& caption = film_.script[stepNumber].caption;
    if (strip_.isNull() || stripWords_ != caption) {
        stripWords_ = caption;
        strip_ = QImage(size_.width(), size_.height() - static_cast<int>(pictureArea_.height()),
                        QImage::Format_RGB32);
        strip_.fill(nearBlack);
        QPainter painter(&strip_);
        painter.setRenderHint(QPainter::Antialiasing);
        const double margin = strip_.height() / 10.0;
        const QRectF room =
            QRectF(strip_.rect()).adjusted(2 * margin, margin, -2 * margin, -margin);
        const QString words = QString::fromStdString(caption);
        constexpr double ofStrip = 0.36; // two lines with their spacing
        painter.setFont(fittingFont(words, room, strip_.height() * ofStrip));
        painter.setPen(cream);
        painter.drawText(room, Qt::TextWordWrap | Qt::AlignCenter, words);
    }
    return strip_;
}

QImage ReviewPainter::paint(const TimelineFrame& at) {
    const model::ScriptStep& step = film_.script[at.step];
    QImage page(size_, QImage::Format_RGB32);
    page.fill(nearBlack);
    QPainter painter(&page);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const auto other = film_.beside.find(step.besideRep);
    if (step.besideRep.stored() && other != film_.beside.end()) {
        // A stop at a position shows that position; other frames what matches them in time.
        auto frame = model::frameOf(other->second.rep, step.positionId);
        if (!frame) {
            frame = matchingFrame(film_.shown.rep, at.frame, other->second.rep);
        }
        const double half = pictureArea_.width() / 2;
        painter.setClipRect(QRectF(0, 0, half - 1, pictureArea_.height()));
        paintSource(painter, other->second, frame.value_or(-1),
                    QRectF(0, 0, half - 1, pictureArea_.height()), step, false);
        painter.setClipRect(QRectF(half + 1, 0, half - 1, pictureArea_.height()));
        paintSource(painter, film_.shown, at.frame,
                    QRectF(half + 1, 0, half - 1, pictureArea_.height()), step, true);
        painter.setClipping(false);
    } else {
        model::ScriptStep alone = step;
        alone.besideRep = {};
        paintSource(painter, film_.shown, at.frame, pictureArea_, alone, true);
    }
    painter.drawImage(0, size_.height() - strip(at.step).height(), strip(at.step));
    return page;
}

bool exportReviewFilm(const ReviewFilm& film, const std::filesystem::path& file,
                      const ExportProgress& progress) {
    const std::vector<TimelineFrame> timeline = timelineOf(film.script, film.time, reviewRate);
    const std::vector<float> voices = voicesOf(film, timeline);
    ReviewPainter painter(film);
    try {
        constexpr int quality = 20; // lines and letters stay sharp
        film::VideoWriter writer(file, painter.size().width(), painter.size().height(),
                                 {reviewRate, 1}, quality, {0, !voices.empty()});
        std::size_t soundDone = 0;
        // The next picture is painted while this one is encoded.
        const auto paintedFrom = [&](std::size_t from) {
            while (from < timeline.size() && from > 0 && timeline[from] == timeline[from - 1]) {
                ++from;
            }
            return from < timeline.size()
                       ? std::async(std::launch::async,
                                    [&painter, at = timeline[from]] { return painter.paint(at); })
                       : std::future<QImage>();
        };
        std::future<QImage> next = paintedFrom(0);
        for (std::size_t n = 0; n < timeline.size(); ++n) {
            if (progress && !progress(static_cast<double>(n) / timeline.size())) {
                return false; // the writer removes what it has written
            }
            if (n > 0 && timeline[n] == timeline[n - 1]) {
                writer.writeAgain();
            } else {
                const QImage page = next.get();
                next = paintedFrom(n + 1);
                writer.write(page.width(), page.height(), page.constBits(),
                             static_cast<int>(page.bytesPerLine()));
            }
            const std::size_t upTo =
                std::min(voices.size(), (n + 1) * film::soundRate / reviewRate);
            if (upTo > soundDone) {
                writer.writeSound({voices.data() + soundDone, upTo - soundDone});
                soundDone = upTo;
            }
        }
        writer.finish();
    } catch (const model::InputError&) {
        throw; // the film that is shown cannot be read
    } catch (const std::runtime_error& error) {
        throw model::InputError(
            model::message("file.unwritable_because", file.string(), error.what()),
            model::message("safe.all_in_library"), model::message("todo.other_folder"));
    }
    const std::vector<CaptionSpan> captions = captionsOf(film.script, timeline, reviewRate);
    saveWhole(beside(file, ".srt"), QByteArray::fromStdString(subRip(captions)));
    saveWhole(beside(file, ".vtt"), QByteArray::fromStdString(webVtt(captions)));
    return true;
}

} // namespace kestrel::report
