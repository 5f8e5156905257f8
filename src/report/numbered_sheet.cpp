#include "report/numbered_sheet.h"

#include "report/face_blur.h"
#include "report/fonts.h"
#include "report/palette.h"
#include "report/position_picture.h"

#include <QCoreApplication>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kestrel::report {
namespace {

/// What stands on it, for translators.
class NumberedSheetWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::NumberedSheetWords)
};

constexpr double cellAspect = 0.85; // upright, as a standing player is

} // namespace

std::vector<NumberedFrame> framesAtPositions(const technique::Pack& pack, const model::Rep& rep) {
    std::vector<NumberedFrame> frames;
    for (const technique::Position& position : pack.positions) {
        const auto frame = model::frameOf(rep, position.id);
        if (!position.event && frame) {
            frames.push_back({*frame, QString::fromStdString(position.name)});
        }
    }
    return frames;
}

std::vector<NumberedFrame> framesEvenly(const model::Rep& rep, const model::ClipTime& time,
                                        int count) {
    const model::FrameSpan span = rep.span.value_or(model::FrameSpan{0, time.frameCount() - 1});
    const int there = span.last - span.first + 1;
    const int wanted = std::clamp(count, std::min(2, there), there);
    std::vector<NumberedFrame> frames;
    const auto& times = time.fieldTimes();
    for (int i = 0; i < wanted; ++i) {
        const int frame =
            wanted == 1 ? span.first
                        : span.first + static_cast<int>(std::lround(static_cast<double>(i) *
                                                                    (there - 1) / (wanted - 1)));
        const double seconds = times[static_cast<std::size_t>(frame)].value -
                               times[static_cast<std::size_t>(span.first)].value;
        frames.push_back({frame, NumberedSheetWords::tr("%1 s").arg(seconds, 0, 'f', 2)});
    }
    return frames;
}

QImage numberedSheet(const NumberedSheet& sheet, const std::vector<NumberedFrame>& frames,
                     const model::LandmarkTrack& track, const std::vector<model::Reading>& readings,
                     const FrameImages& images) {
    const int cell = sheet.cellWidth;
    const int pictureHeight = static_cast<int>(std::lround(cell / cellAspect));
    const int gap = cell / 20;
    QFont font(fontFamily);
    font.setPixelSize(std::max(8, cell / 15));
    const QFontMetrics metrics(font);
    const int titleHeight = metrics.height() + gap / 2;
    const int headingHeight = sheet.heading.isEmpty() ? gap : 2 * metrics.height() + gap;
    const int columns = std::max(1, std::min(sheet.columns, static_cast<int>(frames.size())));
    const int rows = (static_cast<int>(frames.size()) + columns - 1) / columns;
    QImage page(gap + columns * (cell + gap),
                headingHeight + rows * (pictureHeight + titleHeight + gap), QImage::Format_RGB32);
    page.fill(Qt::white);
    QPainter painter(&page);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    QFont large = font;
    large.setPixelSize(font.pixelSize() * 4 / 3);
    large.setBold(true);
    painter.setFont(large);
    painter.setPen(slate);
    painter.drawText(QRect(gap, 0, page.width() - 2 * gap, headingHeight),
                     Qt::AlignLeft | Qt::AlignVCenter, sheet.heading);
    painter.setFont(font);
    for (int i = 0; i < static_cast<int>(frames.size()); ++i) {
        const NumberedFrame& shown = frames[static_cast<std::size_t>(i)];
        const QRect place(gap + i % columns * (cell + gap),
                          headingHeight + i / columns * (pictureHeight + titleHeight + gap), cell,
                          pictureHeight);
        QImage image = images(shown.frame);
        QString missing;
        if (image.isNull()) {
            missing = NumberedSheetWords::tr("This frame cannot be read.");
        } else if (sheet.blurFaces && !blurFace(image, track, shown.frame)) {
            missing = NumberedSheetWords::tr("Left out: the face cannot be found to blur it.");
        }
        if (missing.isEmpty()) {
            const QImage cut = positionPicture(
                image, shown.frame, playerRegion(track, shown.frame, image.size(), cellAspect),
                cell, sheet.constructs ? readings : std::vector<model::Reading>{});
            painter.fillRect(place, Qt::black);
            painter.drawImage(place.topLeft() + QPoint(0, (pictureHeight - cut.height()) / 2), cut);
        } else {
            painter.fillRect(place, cream);
            painter.setPen(nearBlack);
            painter.drawText(place.adjusted(gap, gap, -gap, -gap),
                             Qt::TextWordWrap | Qt::AlignCenter, missing);
        }
        const QRect title(place.left(), place.bottom() + 1, cell, titleHeight);
        painter.setPen(nearBlack);
        painter.drawText(
            title, Qt::AlignLeft | Qt::AlignVCenter,
            metrics.elidedText(NumberedSheetWords::tr("%1  %2").arg(i + 1).arg(shown.title),
                               Qt::ElideRight, cell));
    }
    return page;
}

} // namespace kestrel::report
