#include "report/comparison_sheet.h"

#include "report/face_blur.h"
#include "report/fonts.h"
#include "report/html.h"
#include "report/pair_picture.h"
#include "report/palette.h"
#include "words/measured.h"
#include "words/text.h"
#include "words/words.h"

#include <QAbstractTextDocumentLayout>
#include <QCoreApplication>
#include <QPainter>
#include <QTextDocument>
#include <QUrl>

#include <algorithm>
#include <cmath>

namespace kestrel::report {
namespace {

using words::text;

/// What stands on it, for translators.
class ComparisonWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::ComparisonWords)
};

constexpr int cellWidth = 560; ///< pixels of each picture
constexpr int cellHeight = 560;
constexpr int shownWidth = 165;      ///< on paper: both pictures, and what differs beside them
constexpr double heightShare = 0.64; ///< of a picture, a standing height
constexpr std::size_t toldAtEach = 3;
constexpr std::size_t toldInAll = 4;

/// Key positions that both have, in the pack's order; events, which have no picture of their own,
/// are left out.
std::vector<const technique::Position*> sharedPositions(const ComparisonMaterial& m) {
    std::vector<const technique::Position*> shared;
    for (const technique::Position& position : m.pack.positions) {
        if (!position.event && model::frameOf(m.here.filmed.rep, position.id) &&
            model::frameOf(m.there.filmed.rep, position.id)) {
            shared.push_back(&position);
        }
    }
    return shared;
}

std::vector<coaching::Difference> at(const std::vector<coaching::Difference>& differences,
                                     const std::string& positionId, bool onlyTold) {
    std::vector<coaching::Difference> there;
    std::copy_if(differences.begin(), differences.end(), std::back_inserter(there),
                 [&](const coaching::Difference& d) {
                     return d.positionId == positionId && (d.told() || !onlyTold);
                 });
    return there;
}

/// The readings of those measures.
std::vector<model::Reading> readingsOf(const std::vector<model::Reading>& readings,
                                       const std::vector<coaching::Difference>& differences) {
    std::vector<model::Reading> chosen;
    for (const model::Reading& reading : readings) {
        if (std::any_of(differences.begin(), differences.end(),
                        [&](const auto& d) { return d.measureId == reading.measureId; })) {
            chosen.push_back(reading);
        }
    }
    return chosen;
}

/// One rep's picture at a frame, cut to the player.
QImage cellOf(const ComparedRep& rep, int frame, const std::vector<model::Reading>& lines,
              bool mirrored, bool blurFaces) {
    QImage cell(cellWidth, cellHeight, QImage::Format_RGB32);
    cell.fill(nearBlack);
    QPainter painter(&cell);
    QImage image = rep.filmed.images(frame);
    const auto player = standingPlayer(rep.filmed.rep.landmarks, rep.bodyHeightPx);
    QString missing;
    if (image.isNull()) {
        missing = ComparisonWords::tr("This frame cannot be read.");
    } else if (blurFaces && !blurFace(image, rep.filmed.rep.landmarks, frame)) {
        missing = ComparisonWords::tr("Left out: the face cannot be found to blur it.");
    } else if (!player) {
        missing = ComparisonWords::tr("The player's landmarks are not known.");
    }
    if (!missing.isEmpty()) {
        cell.fill(cream);
        QFont font(fontFamily);
        constexpr int pixels = 26;
        font.setPixelSize(pixels);
        painter.setFont(font);
        painter.setPen(nearBlack);
        painter.drawText(cell.rect(), Qt::AlignCenter | Qt::TextWordWrap, missing);
        return cell;
    }
    PairSide side;
    side.picture = image;
    side.pictureSize = QSizeF(image.size());
    side.frame = frame;
    side.landmarks = &rep.filmed.rep.landmarks;
    side.player = *player;
    side.hand = rep.hand;
    side.readings = lines;
    ConstructStyle style;
    // The picture is printed small: lines and numbers must still be read there.
    style.lineWidth = cellWidth / 160.0;
    style.fontPixels = cellWidth / 18.0;
    paintSide(painter, QRectF(cell.rect()), side,
              standingMap(side, QRectF(cell.rect()), heightShare, mirrored), style);
    return cell;
}

QString row(const QStringList& cells, const char* tag) {
    QString html = "<tr>";
    for (const QString& cell : cells) {
        html += QStringLiteral("<%1 align=\"left\" valign=\"top\">%2</%1>").arg(tag, cell);
    }
    return html + "</tr>\n";
}

QString sentences(const ComparisonMaterial& m, const std::vector<coaching::Difference>& there) {
    QStringList lines;
    for (const model::Message& told :
         coaching::toldDifferences(m.pack, there, m.than, toldAtEach)) {
        lines << escaped(words::inWords(told));
    }
    return "<p>" + lines.join("<br>") + "</p>\n";
}

/// A row with the pictures of both at a position, which join `pictures`, and what differs there.
QString pairAt(const ComparisonMaterial& m, const technique::Position& position, int number,
               DocumentPictures& pictures) {
    const auto told = at(m.differences, position.id, true);
    const auto picture = [&](const ComparedRep& rep, bool mirrored, const char* which) {
        const int frame = *model::frameOf(rep.filmed.rep, position.id);
        const QString address =
            QStringLiteral("pair:%1-%2").arg(QString::fromStdString(position.id), which);
        pictures.emplace_back(address, cellOf(rep, frame, readingsOf(rep.filmed.readings, told),
                                              mirrored, m.blurFaces));
        return QStringLiteral("<img src=\"%1\" width=\"%2\" height=\"%3\" alt=\"%4\"><br>%4")
            .arg(address)
            .arg(shownWidth)
            .arg(shownWidth * cellHeight / cellWidth)
            .arg(escaped(rep.title));
    };
    const QString title =
        QStringLiteral("<b>%1  %2</b>").arg(number).arg(escaped(text(position.name)));
    const auto cell = [](const char* width, const QString& html) {
        return QStringLiteral("<td width=\"%1\" valign=\"top\">%2</td>").arg(width, html);
    };
    return "<tr>" + cell("33%", picture(m.here, false, "here")) +
           cell("33%", picture(m.there, m.mirrored, "there")) +
           cell("34%", title + (told.empty() ? QString() : sentences(m, told))) + "</tr>\n";
}

QString faultNames(const technique::Pack& pack, const std::vector<std::string>& ids) {
    QStringList names;
    for (const std::string& id : ids) {
        const technique::FaultDefinition* fault = technique::findFault(pack, id);
        names << text(fault == nullptr ? id : fault->name);
    }
    return names.join(", ");
}

} // namespace

ComparisonSheet comparisonSheetOf(const ComparisonMaterial& m) {
    ComparisonSheet sheet;
    sheet.title = ComparisonWords::tr("%1: %2, %3 beside %4")
                      .arg(m.playerName, text(m.pack.name), m.here.title, m.there.title);
    QString body =
        QStringLiteral("<h1 style=\"color:%1\">%2</h1>\n").arg(slate.name(), escaped(sheet.title));
    for (const auto& [words, ids] :
         {std::pair(ComparisonWords::tr("Only in %1:").arg(m.here.title), &m.faults.onlyHere),
          std::pair(ComparisonWords::tr("In both:"), &m.faults.inBoth),
          std::pair(ComparisonWords::tr("Only in %1:").arg(m.there.title), &m.faults.onlyThere)}) {
        if (!ids->empty()) {
            body += labelled(words, faultNames(m.pack, *ids));
        }
    }
    body +=
        list(words::inWords(coaching::toldDifferences(m.pack, m.differences, m.than, toldInAll)));
    // A row of pictures must not be parted by the end of a page.
    constexpr int onFirstPage = 3;
    constexpr int onPage = 4;
    int number = 0;
    for (const technique::Position* position : sharedPositions(m)) {
        const bool newPage = number >= onFirstPage && (number - onFirstPage) % onPage == 0;
        body += QStringLiteral("<table cellspacing=\"4\" width=\"100%\" style=\"%1\">")
                    .arg(newPage ? "page-break-before:always" : "");
        body += pairAt(m, *position, ++number, sheet.pictures) + "</table>\n";
    }
    body += heading(ComparisonWords::tr("All readings of both"));
    body += "<table cellspacing=\"0\" cellpadding=\"3\" width=\"100%\">" +
            row({ComparisonWords::tr("Position"), ComparisonWords::tr("Reading"),
                 escaped(m.here.title), escaped(m.there.title), ComparisonWords::tr("Difference")},
                "th");
    for (const coaching::Difference& d : m.differences) {
        if (!d.read()) {
            continue;
        }
        const QString by = words::valueText(d.by, d.u95, d.unit);
        body += row({escaped(text(technique::findPosition(m.pack, d.positionId)->name)),
                     escaped(text(technique::findMeasure(m.pack, d.measureId)->name)),
                     words::valueText(*d.here, d.unit), words::valueText(*d.there, d.unit),
                     d.told() ? "<b>" + by + "</b>" : "≈ " + by},
                    "td");
    }
    body += "</table>\n";
    sheet.html = documentHtml(sheet.title, body);
    return sheet;
}

QImage pictureOf(const ComparisonSheet& sheet, int width) {
    QTextDocument document;
    QFont font(fontFamily);
    constexpr int pixels = 13;
    font.setPixelSize(pixels);
    document.setDefaultFont(font);
    for (const auto& [address, image] : sheet.pictures) {
        document.addResource(QTextDocument::ImageResource, QUrl(address), image);
    }
    document.setHtml(sheet.html);
    constexpr double layoutWidth = 660.0; // two pictures and their room
    document.setTextWidth(layoutWidth);
    const double scale = width / layoutWidth;
    QImage picture(width, static_cast<int>(std::ceil(document.size().height() * scale)),
                   QImage::Format_RGB32);
    picture.fill(Qt::white);
    QPainter painter(&picture);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.scale(scale, scale);
    document.drawContents(&painter);
    return picture;
}

std::string differencesCsv(const technique::Pack& pack,
                           const std::vector<coaching::Difference>& differences) {
    const auto quoted = [](const std::string& cell) {
        std::string inside;
        for (const char c : cell) {
            inside += c == '"' ? "\"\"" : std::string(1, c);
        }
        return "\"" + inside + "\"";
    };
    const auto number = [](const std::optional<double>& value) {
        return value ? QString::number(*value, 'g', 8).toStdString() : std::string();
    };
    std::string csv = "position,measure,name,unit,here,there,difference,u95\n";
    for (const coaching::Difference& d : differences) {
        csv += d.positionId + "," + d.measureId + "," +
               quoted(technique::findMeasure(pack, d.measureId)->name) + "," +
               std::string(name(d.unit)) + "," + number(d.here) + "," + number(d.there) + "," +
               (d.read() ? number(d.by) : "") + "," + (d.read() ? number(d.u95) : "") + "\n";
    }
    return csv;
}

model::ReviewScript comparisonScript(const ComparisonMaterial& m, const model::ClipTime& time) {
    const auto shared = sharedPositions(m);
    if (shared.size() < 2) {
        return {};
    }
    const model::RepId other = m.there.filmed.rep.id;
    constexpr double slow = 0.25;
    constexpr double momentS = 0.3; // before the first and after the last
    model::ReviewScript script;
    const auto run = [&](int first, int last, double speed) {
        if (last > first) {
            model::ScriptStep step;
            step.kind = model::ScriptStep::Kind::run;
            step.first = first;
            step.last = last;
            step.speed = speed;
            step.besideRep = other;
            script.push_back(step);
        }
    };
    const auto frameAfter = [&](int frame, double seconds) {
        const double from = time.fieldTimes()[static_cast<std::size_t>(frame)].value;
        return model::frameAtFieldTime(time, model::Seconds(from + seconds));
    };
    std::vector<std::pair<int, const technique::Position*>> stops;
    for (const technique::Position* position : shared) {
        stops.emplace_back(*model::frameOf(m.here.filmed.rep, position->id), position);
    }
    std::stable_sort(stops.begin(), stops.end(),
                     [](const auto& a, const auto& b) { return a.first < b.first; });
    const int start = frameAfter(stops.front().first, -momentS);
    const int end = frameAfter(stops.back().first, momentS);
    run(start, end, 1.0);
    int reached = start;
    for (const auto& [frame, position] : stops) {
        run(reached, frame, slow);
        model::ScriptStep step;
        step.first = frame;
        step.positionId = position->id;
        step.besideRep = other;
        const auto told = ordered(m.pack, at(m.differences, position->id, true),
                                  coaching::DifferenceOrder::bySize, {});
        step.caption = position->name;
        if (!told.empty()) {
            step.measureId = told.front().measureId;
            step.caption =
                words::plain(coaching::toldDifferences(m.pack, {told.front()}, m.than, 1).front());
        }
        constexpr double lettersASecond = 15.0; // as a child reads
        step.seconds =
            std::max(2.0, 1.5 + static_cast<double>(step.caption.size()) / lettersASecond);
        script.push_back(step);
        reached = frame;
    }
    run(reached, end, slow);
    return script;
}

} // namespace kestrel::report
