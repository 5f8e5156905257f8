#include "report/filming_card.h"

#include "report/document_pdf.h"
#include "report/fonts.h"
#include "report/palette.h"
#include "technique/judge/film_remarks.h"
#include "technique/pack/roles.h"
#include "words/text.h"
#include "words/words.h"

#include <QCoreApplication>
#include <QPainter>

#include <cmath>
#include <numbers>

namespace kestrel::report {
namespace {

using words::text;

constexpr model::Metres usualHeight(1.55); ///< of a twelve-year-old, when no height is known
constexpr double betterFactor = 2.5;       ///< farther off, zoomed in

/// What stands on it, for translators.
class FilmingCardWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::FilmingCardWords)
};

QString metres(double m) {
    return FilmingCardWords::tr("%1 m").arg(m, 0, 'f', 1);
}

QString row(const QString& what, const QString& how) {
    return QStringLiteral("<tr><td width=\"26%\"><b>%1</b></td><td>%2</td></tr>")
        .arg(what.toHtmlEscaped(), how.toHtmlEscaped());
}

} // namespace

CameraPlace cameraPlace(const technique::Filming& filming, model::Metres playerHeight) {
    constexpr double halfAngle = 30.0 * std::numbers::pi / 180.0;
    CameraPlace place;
    place.nearest = filming.widthBh * playerHeight.value / 2.0 / std::tan(halfAngle);
    place.better = betterFactor * place.nearest;
    place.height = filming.cameraHeightBh * playerHeight.value;
    return place;
}

QImage filmingPlan(const technique::Filming& filming, const CameraPlace& place) {
    constexpr int width = 900;
    constexpr int height = 520;
    QImage image(width, height, QImage::Format_ARGB32_Premultiplied);
    image.fill(QColor(0xFF, 0xFB, 0xF2));
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont font(fontFamily);
    font.setPixelSize(26);
    painter.setFont(font);
    // The target lies to the right; the open side faces the lower edge.
    const QPointF player(330, 190);
    const QPointF target(820, 190);
    painter.setPen(QPen(slate, 3, Qt::DashLine));
    painter.drawLine(player, target);
    painter.setPen(QPen(slate, 3));
    painter.drawLine(target, target + QPointF(-18, -12));
    painter.drawLine(target, target + QPointF(-18, 12));
    painter.drawText(QPointF(target.x() - 70, target.y() - 24), FilmingCardWords::tr("target"));
    painter.setBrush(cream);
    painter.drawEllipse(player, 44.0, 24.0);
    painter.setBrush(slate);
    painter.drawEllipse(player, 17.0, 17.0);
    painter.drawText(QPointF(player.x() - 40, player.y() - 44), FilmingCardWords::tr("player"));

    const auto camera = [&](model::View view, const QColor& colour, const QString& label) {
        QPointF way(0, 1);
        double length = 230;
        switch (view) {
        case model::View::openSide:
            break;
        case model::View::closedSide:
            way = {0, -1};
            length = 130;
            break;
        case model::View::front:
            way = {1, 0};
            length = 330;
            break;
        case model::View::rear:
            way = {-1, 0};
            length = 230;
            break;
        case model::View::overhead:
            length = 0;
            break;
        }
        const QPointF at = player + way * length;
        painter.setPen(QPen(colour, 2, Qt::DotLine));
        painter.drawLine(player, at);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
        painter.drawRoundedRect(QRectF(at.x() - 22, at.y() - 16, 44, 32), 6, 6);
        painter.setPen(colour);
        // Beside the camera, but below it where the line to the target runs.
        const bool onTheLine = view == model::View::front || view == model::View::rear;
        painter.drawText(at + (onTheLine ? QPointF(-60, 46) : QPointF(34, 10)), label);
    };
    if (filming.secondView) {
        camera(*filming.secondView, slate, FilmingCardWords::tr("second view"));
    }
    camera(filming.view, chestnut,
           FilmingCardWords::tr("camera, %1 to %2 away")
               .arg(metres(place.nearest), metres(place.better)));
    return image;
}

QString filmingCardHtml(const technique::Pack& pack, std::optional<model::Metres> playerHeight) {
    const technique::Filming& filming = pack.filming;
    const CameraPlace place = cameraPlace(filming, playerHeight.value_or(usualHeight));
    constexpr double fineDegrees = 2.5;
    const double shutter = technique::exposureForBlur(filming.fastest, fineDegrees);
    QString html =
        QStringLiteral("<h1>%1</h1>")
            .arg(FilmingCardWords::tr("Filming: %1").arg(text(pack.name)).toHtmlEscaped());
    html += QStringLiteral("<p><img src=\"plan:\" width=\"450\" height=\"260\"></p>");
    html += QStringLiteral("<table cellpadding=\"5\" width=\"100%\">");
    html += row(FilmingCardWords::tr("Where from"),
                FilmingCardWords::tr("The %1, square to the line to the target.")
                    .arg(words::inWords(technique::nameOfView(filming.view))));
    html +=
        row(FilmingCardWords::tr("How far"),
            FilmingCardWords::tr("%1 at the nearest. Better %2, zoomed in until the whole movement "
                                 "just fits: angles are then read truer.")
                .arg(metres(place.nearest), metres(place.better)));
    html +=
        row(FilmingCardWords::tr("How high"),
            FilmingCardWords::tr("The lens %1 above the ground, level, on a tripod or a firm rest.")
                .arg(metres(place.height)));
    html +=
        row(FilmingCardWords::tr("In the picture"),
            FilmingCardWords::tr("%1 body heights of ground across, head and feet all the time.")
                .arg(filming.widthBh, 0, 'g', 2));
    html += row(FilmingCardWords::tr("Frames"), FilmingCardWords::tr("%1 a second; at least %2.")
                                                    .arg(filming.goodRate, 0, 'f', 0)
                                                    .arg(filming.lowestRate, 0, 'f', 0));
    html += row(
        FilmingCardWords::tr("Shutter"),
        FilmingCardWords::tr("%1 or shorter, if the camera lets you; else film in bright light.")
            .arg(words::inWords(technique::nameOfShutter(shutter))));
    if (filming.secondView) {
        html += row(FilmingCardWords::tr("Second view"),
                    FilmingCardWords::tr("From the %1, for %2.")
                        .arg(words::inWords(technique::nameOfView(*filming.secondView)),
                             text(filming.secondViewFor)));
    }
    html += row(FilmingCardWords::tr("Start and end"),
                FilmingCardWords::tr("Let the camera run: a second of standing still before each "
                                     "repetition and after it."));
    html += row(FilmingCardWords::tr("Clothes"),
                FilmingCardWords::tr("Short sleeves, no loose jacket; a plain background helps."));
    html += row(
        FilmingCardWords::tr("First"),
        FilmingCardWords::tr("Ask for consent before you film a child. Stand where no ball, bat or "
                             "racket can hit you."));
    html += QStringLiteral("</table>");
    if (!playerHeight) {
        html += QStringLiteral("<p>%1</p>")
                    .arg(FilmingCardWords::tr("Distances are for a player of %1.")
                             .arg(metres(usualHeight.value)));
    }
    return html;
}

void writeFilmingCard(const technique::Pack& pack, std::optional<model::Metres> playerHeight,
                      const std::filesystem::path& file) {
    const CameraPlace place = cameraPlace(pack.filming, playerHeight.value_or(usualHeight));
    writeDocumentPdf(text(pack.name), filmingCardHtml(pack, playerHeight),
                     {{QStringLiteral("plan:"), filmingPlan(pack.filming, place)}}, Paper::a4,
                     file);
}

} // namespace kestrel::report
