#include "report/take_home_html.h"

#include "report/html.h"
#include "report/palette.h"

#include <QCoreApplication>

#include <algorithm>

namespace kestrel::report {
namespace {

/// What stands on it, for translators.
class TakeHomeWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::TakeHomeWords)
};

/// `first` is the number of the first of them among all pictures of the sheet.
QString pictures(const std::vector<TakeHomePicture>& shown, std::size_t first, bool numbered,
                 const PictureAddress& address) {
    constexpr std::size_t across = 4;
    constexpr int shownWidth = 118; // four of them with their room fill a page
    QString html = QStringLiteral("<table width=\"100%\" cellpadding=\"4\" summary=\"%1\">")
                       .arg(escaped(TakeHomeWords::tr("Pictures")));
    for (std::size_t start = 0; start < shown.size(); start += across) {
        html += "<tr>";
        for (std::size_t i = start; i < std::min(start + across, shown.size()); ++i) {
            const TakeHomePicture& p = shown[i];
            html += QStringLiteral("<td width=\"25%\" valign=\"top\"><img src=\"%1\" width=\"%5\" "
                                   "height=\"%6\" alt=\"%2\"><br><b>%3 %2</b><br>%4</td>")
                        .arg(address(first + i), escaped(p.title),
                             numbered ? QString::number(i + 1) : QString(), escaped(p.caption))
                        .arg(shownWidth)
                        .arg(shownWidth * p.image.height() / std::max(1, p.image.width()));
        }
        html += "</tr>";
    }
    return html + "</table>\n";
}

QString drill(const TakeHomeDrill& d) {
    QString html = QStringLiteral("<h3>%1</h3>\n").arg(escaped(d.name));
    const QString needs =
        d.equipment.isEmpty() ? QString() : TakeHomeWords::tr(" You need: %1.").arg(d.equipment);
    html += QStringLiteral("<p><b>%1</b> · %2 · %3.%4</p>\n")
                .arg(escaped(d.dose), escaped(TakeHomeWords::tr("%1 minutes").arg(d.minutes)),
                     escaped(d.place), escaped(needs));
    html += paragraph(d.setUp);
    html += list(d.steps, "ol");
    html += labelled(TakeHomeWords::tr("Feels right when:"), d.feel);
    html += labelled(TakeHomeWords::tr("Watch out for:"), d.mistake);
    html += labelled(TakeHomeWords::tr("When it is easy:"), d.next);
    html += labelled(TakeHomeWords::tr("Take care:"), d.caution);
    return html;
}

/// The homework with boxes to tick.
QString week(const TakeHome& sheet) {
    QString html =
        QStringLiteral("<table width=\"100%\" cellpadding=\"4\" border=\"0\" summary=\"%1\"><tr>")
            .arg(escaped(TakeHomeWords::tr("Homework by day")));
    for (const QString& title : {TakeHomeWords::tr("Day"), TakeHomeWords::tr("What to do"),
                                 TakeHomeWords::tr("Time"), TakeHomeWords::tr("Done")}) {
        html += QStringLiteral("<th align=\"left\">%1</th>").arg(escaped(title));
    }
    html += "</tr>\n";
    QString stage;
    for (const TakeHomeDay& day : sheet.week) {
        if (day.stage != stage) {
            stage = day.stage;
            html +=
                QStringLiteral("<tr><td colspan=\"4\"><b>%1</b></td></tr>\n").arg(escaped(stage));
        }
        QStringList drills;
        QStringList boxes;
        for (const QString& drill : day.drills) {
            drills << escaped(drill);
            boxes << QStringLiteral("☐");
        }
        html += QStringLiteral("<tr><td valign=\"top\">%1</td><td valign=\"top\">%2</td>"
                               "<td valign=\"top\">%3</td><td valign=\"top\">%4</td></tr>\n")
                    .arg(escaped(day.date), drills.join("<br>"),
                         escaped(TakeHomeWords::tr("%1 min").arg(day.minutes)), boxes.join("<br>"));
    }
    return html + "</table>\n";
}

} // namespace

namespace {

QString focusPart(const TakeHome& sheet) {
    QString body;
    if (sheet.focus.isEmpty()) {
        body += heading(TakeHomeWords::tr("Your focus"));
        body += paragraph(
            TakeHomeWords::tr("The film shows nothing that needs to change now. Keep playing the "
                              "way you do, and film again at your next visit."));
    } else {
        body += heading(TakeHomeWords::tr("Your one focus: %1").arg(sheet.focus));
        body += paragraph(sheet.focusMeaning);
        body += paragraph(sheet.whyFirst);
        body += QStringLiteral("<p><b>%1</b></p>\n")
                    .arg(escaped(TakeHomeWords::tr("Think of one of these as you move:")));
        QStringList cues;
        for (const QString& cue : sheet.cues) {
            cues << TakeHomeWords::tr("“%1”").arg(cue);
        }
        body += list(cues);
    }
    return body;
}

QString drillsPart(const TakeHome& sheet, const PictureAddress& pictureAddress) {
    QString body;
    // What to think of is on the first page, what to do on those that follow.
    // Two rows of pictures leave room for the focus on the first page, and the drills begin the
    // next one; after three they go on where the focus ends.
    constexpr std::size_t twoRows = 8;
    body += sheet.pictures.size() <= twoRows ? pageHeading(TakeHomeWords::tr("Your drills"))
                                             : heading(TakeHomeWords::tr("Your drills"));
    if (!sheet.pose.empty()) {
        body += pictures(sheet.pose, sheet.pictures.size() + sheet.beforeAndAfter.size(), false,
                         pictureAddress);
    }
    for (const TakeHomeDrill& d : sheet.drills) {
        body += drill(d);
    }
    return body;
}

} // namespace

QString takeHomeHtml(const TakeHome& sheet, const PictureAddress& pictureAddress) {
    QString body;
    body += QStringLiteral("<h1 style=\"color:%1\">%2</h1>\n")
                .arg(slate.name(),
                     escaped(TakeHomeWords::tr("%1: %2").arg(sheet.player, sheet.technique)));
    body += paragraph(
        sheet.filmed.isEmpty() ? QString() : TakeHomeWords::tr("Filmed on %1.").arg(sheet.filmed));
    if (!sheet.pictures.empty()) {
        body += pictures(sheet.pictures, 0, true, pictureAddress);
    }
    if (!sheet.strengths.isEmpty()) {
        body += heading(TakeHomeWords::tr("Keep doing this"));
        body += list(sheet.strengths);
    }
    body += focusPart(sheet);
    if (!sheet.drills.empty()) {
        body += drillsPart(sheet, pictureAddress);
    }
    if (!sheet.week.empty()) {
        body += heading(TakeHomeWords::tr("Your plan"));
        body += paragraph(TakeHomeWords::tr(
            "Tick each drill when you have done it. “Stepped up” means: do it as it "
            "says under “When it is easy”."));
        body += week(sheet);
    }
    if (!sheet.beforeAndAfter.empty()) {
        body += heading(TakeHomeWords::tr("Then and now"));
        body += pictures(sheet.beforeAndAfter, sheet.pictures.size(), false, pictureAddress);
    }
    if (!sheet.nextQuestions.isEmpty()) {
        body += heading(sheet.nextVisit.isEmpty()
                            ? TakeHomeWords::tr("Next time we ask")
                            : TakeHomeWords::tr("Next time, on %1, we ask").arg(sheet.nextVisit));
        body += list(sheet.nextQuestions);
    }
    if (!sheet.watch.isEmpty()) {
        body += heading(TakeHomeWords::tr("Keep an eye on"));
        body += paragraph(
            TakeHomeWords::tr("Nothing to change yet; we look at these again next time."));
        body += list(sheet.watch);
    }
    if (!sheet.note.isEmpty()) {
        body += heading(TakeHomeWords::tr("From your coach"));
        body += paragraph(sheet.note);
    }
    body += heading(TakeHomeWords::tr("Take care"));
    body += list(sheet.cautions);
    return documentHtml(sheet.player, body);
}

} // namespace kestrel::report
