#include "report/take_home_html.h"

#include "report/palette.h"

#include <QCoreApplication>
#include <QDate>
#include <QLocale>

#include <algorithm>

namespace kestrel::report {
namespace {

QString tr(const char* s) {
    return QCoreApplication::translate("TakeHome", s);
}

QString escaped(const QString& s) {
    return s.toHtmlEscaped();
}

QString heading(const QString& s) {
    return QStringLiteral("<h2 style=\"color:%1\">%2</h2>\n").arg(chestnut.name(), escaped(s));
}

QString paragraph(const QString& s) {
    return s.isEmpty() ? QString() : QStringLiteral("<p>%1</p>\n").arg(escaped(s));
}

QString labelled(const QString& label, const QString& s) {
    return s.isEmpty() ? QString()
                       : QStringLiteral("<p><b>%1</b> %2</p>\n").arg(escaped(label), escaped(s));
}

QString list(const QStringList& items, const char* tag = "ul") {
    QString html = QStringLiteral("<%1>").arg(tag);
    for (const QString& item : items) {
        html += QStringLiteral("<li>%1</li>").arg(escaped(item));
    }
    return html + QStringLiteral("</%1>\n").arg(tag);
}

QString pictures(const TakeHome& sheet, const PictureAddress& address) {
    constexpr std::size_t across = 4;
    constexpr int shownWidth = 132;
    QString html = QStringLiteral("<table width=\"100%\" cellpadding=\"4\">");
    for (std::size_t start = 0; start < sheet.pictures.size(); start += across) {
        html += "<tr>";
        for (std::size_t i = start; i < std::min(start + across, sheet.pictures.size()); ++i) {
            const TakeHomePicture& p = sheet.pictures[i];
            html +=
                QStringLiteral("<td width=\"25%\" valign=\"top\"><img src=\"%1\" width=\"%5\" "
                               "height=\"%6\" alt=\"%2\"><br><b>%3 %2</b><br>%4</td>")
                    .arg(address(i), escaped(p.title), QString::number(i + 1), escaped(p.caption))
                    .arg(shownWidth)
                    .arg(shownWidth * p.image.height() / std::max(1, p.image.width()));
        }
        html += "</tr>";
    }
    return html + "</table>\n";
}

QString drill(const TakeHomeDrill& d) {
    QString html = QStringLiteral("<h3>%1</h3>\n").arg(escaped(d.name));
    const QString needs = d.equipment.isEmpty() ? QString() : tr(" You need: %1.").arg(d.equipment);
    html += QStringLiteral("<p><b>%1</b> · %2 · %3.%4</p>\n")
                .arg(escaped(d.dose), escaped(tr("%1 minutes").arg(d.minutes)), escaped(d.place),
                     escaped(needs));
    html += paragraph(d.setUp);
    html += list(d.steps, "ol");
    html += labelled(tr("Feels right when:"), d.feel);
    html += labelled(tr("Watch out for:"), d.mistake);
    html += labelled(tr("When it is easy:"), d.next);
    html += labelled(tr("Take care:"), d.caution);
    return html;
}

QString readings(const TakeHome& sheet) {
    QString html = QStringLiteral("<table width=\"100%\" cellpadding=\"3\" border=\"0\"><tr>");
    for (const QString& title : {tr("Position"), tr("Measure"), tr("Reading (95 %)"), tr("Range"),
                                 tr("Basis"), tr("Verdict")}) {
        html += QStringLiteral("<th align=\"left\">%1</th>").arg(escaped(title));
    }
    html += "</tr>";
    for (const TakeHomeReading& r : sheet.readings) {
        // A reason is a sentence: it takes the room of the figures that are not there.
        const QString figures =
            r.kind == model::Verdict::unreadable
                ? QStringLiteral("<td colspan=\"3\">%1</td>").arg(escaped(r.value))
                : QStringLiteral("<td>%1</td><td>%2</td><td>%3</td>")
                      .arg(escaped(r.value), escaped(r.range), escaped(r.basis));
        html +=
            QStringLiteral("<tr><td>%1</td><td>%2</td>%3<td style=\"color:%4\">%5&nbsp;%6</td>"
                           "</tr>\n")
                .arg(escaped(r.position), escaped(r.name), figures, verdictColour(r.kind).name(),
                     QString::fromUtf8(verdictSign(r.kind)), escaped(r.verdict));
    }
    return html + "</table>\n";
}

} // namespace

QString takeHomeHtml(const TakeHome& sheet, const PictureAddress& pictureAddress) {
    QString body;
    body += QStringLiteral("<h1 style=\"color:%1\">%2</h1>\n")
                .arg(slate.name(), escaped(tr("%1: %2").arg(sheet.player, sheet.technique)));
    body += paragraph(
        sheet.filmed.isEmpty()
            ? QString()
            : tr("Filmed on %1.")
                  .arg(QLocale(QLocale::English)
                           .toString(QDate::fromString(sheet.filmed, Qt::ISODate), "d MMMM yyyy")));
    body += pictures(sheet, pictureAddress);
    if (!sheet.strengths.isEmpty()) {
        body += heading(tr("Keep doing this"));
        body += list(sheet.strengths);
    }
    if (sheet.focus.isEmpty()) {
        body += heading(tr("Your focus"));
        body += paragraph(tr("The film shows nothing that needs to change now. Keep playing the "
                             "way you do, and film again at your next visit."));
    } else {
        body += heading(tr("Your one focus: %1").arg(sheet.focus));
        body += paragraph(sheet.focusMeaning);
        body += paragraph(sheet.whyFirst);
        body += QStringLiteral("<p><b>%1</b></p>\n")
                    .arg(escaped(tr("Think of one of these as you move:")));
        QStringList cues;
        for (const QString& cue : sheet.cues) {
            cues << tr("“%1”").arg(cue);
        }
        body += list(cues);
        body += heading(tr("Your drills"));
        for (const TakeHomeDrill& d : sheet.drills) {
            body += drill(d);
        }
    }
    if (!sheet.watch.isEmpty()) {
        body += heading(tr("Keep an eye on"));
        body += paragraph(tr("Nothing to change yet; we look at these again next time."));
        body += list(sheet.watch);
    }
    if (!sheet.note.isEmpty()) {
        body += heading(tr("From your coach"));
        body += paragraph(sheet.note);
    }
    body += heading(tr("Take care"));
    body += list(sheet.cautions);
    body += QStringLiteral("<h2 style=\"color:%1;page-break-before:always\">%2</h2>\n")
                .arg(chestnut.name(), escaped(tr("For the coach")));
    body += paragraph(tr("Judged by: %1. A reading is “inside”, “edge” or “outside” only as far as "
                         "its 95 % interval allows.")
                          .arg(sheet.schools));
    body += readings(sheet);
    return QStringLiteral("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">"
                          "<title>%1</title><style>body{font-family:'B612',sans-serif;"
                          "color:%2;background:#ffffff} td,th{font-size:small} "
                          "div{max-width:46em;margin-left:auto;margin-right:auto}"
                          "</style></head><body><div>\n%3</div></body></html>\n")
        .arg(escaped(sheet.player), nearBlack.name(), body);
}

} // namespace kestrel::report
