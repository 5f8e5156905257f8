#include "report/coach_report.h"

#include "coaching/schedule.h"
#include "report/chain_picture.h"
#include "report/html.h"
#include "report/numbered_sheet.h"
#include "report/palette.h"
#include "report/take_home.h"
#include "technique/pack/roles.h"
#include "words/day_text.h"
#include "words/measured.h"
#include "words/text.h"
#include "words/words.h"

#include <QCoreApplication>

#include <algorithm>

namespace kestrel::report {
namespace {

using words::text;

/// What stands on it, for translators.
class CoachReportWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::CoachReportWords)
};

QString cell(const QString& html, const char* attributes = "") {
    return QStringLiteral("<td valign=\"top\" %1>%2</td>").arg(attributes, html);
}

QString headRow(const QStringList& titles) {
    QString html = "<tr>";
    for (const QString& title : titles) {
        html += QStringLiteral("<th align=\"left\">%1</th>").arg(escaped(title));
    }
    return html + "</tr>\n";
}

class Writer {
  public:
    explicit Writer(const SheetMaterial& material) : m_(material) {}

    CoachReport written() {
        QStringList title{text(m_.pack.name)};
        if (!m_.shown.clip.filmed.empty()) {
            title << words::dayText(m_.shown.clip.filmed);
        }
        report_.title = text(m_.player.name) + ": " + title.join(", ");
        body_ = QStringLiteral("<h1 style=\"color:%1\">%2</h1>\n")
                    .arg(slate.name(), escaped(report_.title));
        about();
        askBack();
        positions();
        findings();
        dismissed();
        plan();
        readings();
        methods();
        report_.html = documentHtml(report_.title, body_);
        return std::move(report_);
    }

  private:
    void about() {
        QStringList schools;
        for (const std::string& id : technique::schoolsInForce(m_.pack, m_.circumstances.schools)) {
            schools << text(technique::findSchool(m_.pack, id)->name);
        }
        body_ += labelled(CoachReportWords::tr("Judged by:"), schools.join(", "));
        body_ += labelled(CoachReportWords::tr("From:"),
                          CoachReportWords::tr("reps with readings: %1").arg(m_.visit.reps));
        QStringList shown;
        for (const std::string* name : {&m_.shown.clip.title, &m_.shown.rep.title}) {
            if (!name->empty()) {
                shown << text(*name);
            }
        }
        body_ += labelled(CoachReportWords::tr("Pictures:"), shown.join(", "));
    }

    void askBack() {
        if (!m_.askBack) {
            return;
        }
        body_ += heading(CoachReportWords::tr("What the plan of %1 asks")
                             .arg(words::dayText(m_.askBack->visit.filmed)));
        body_ += list(words::inWords(coaching::toldAskBack(m_.pack, *m_.askBack)));
    }

    void picture(const QString& name, const QImage& image, int shownWidth, const QString& alt) {
        report_.pictures.emplace_back(name, image);
        body_ += QStringLiteral("<p><img src=\"%1\" width=\"%2\" height=\"%3\" alt=\"%4\"></p>\n")
                     .arg(name)
                     .arg(shownWidth)
                     .arg(shownWidth * image.height() / std::max(1, image.width()))
                     .arg(escaped(alt));
    }

    void positions() {
        NumberedSheet sheet;
        sheet.blurFaces = m_.blurFaces;
        const auto frames = framesAtPositions(m_.pack, m_.shown.rep);
        if (frames.empty()) {
            return;
        }
        constexpr int pageWidth = 510; // of the paper between its margins
        picture("sheet:positions",
                numberedSheet(sheet, frames, m_.shown.rep.landmarks, judged(), m_.shown.images),
                pageWidth, CoachReportWords::tr("The key positions of the rep"));
    }

    /// The readings to draw: the judged ones, else the picture is full of lines.
    [[nodiscard]] std::vector<model::Reading> judged() const {
        std::vector<model::Reading> shown;
        for (const model::Reading& reading : m_.shown.readings) {
            if (reading.verdict == model::Verdict::outside ||
                reading.verdict == model::Verdict::edge) {
                shown.push_back(reading);
            }
        }
        return shown;
    }

    [[nodiscard]] QStringList names(const std::vector<std::string>& faults) const {
        QStringList names;
        for (const std::string& id : faults) {
            names << text(coaching::wordsOf(m_.pack, m_.choice, id).name);
        }
        return names;
    }

    void fault(const model::Fault& fault) {
        const coaching::FaultWords words = coaching::wordsOf(m_.pack, m_.choice, fault.faultId);
        const QString often = words::inWords(coaching::howOften(fault.shownIn, fault.readIn));
        body_ += QStringLiteral("<h3>%1</h3>\n").arg(escaped(text(words.name)));
        body_ += paragraph(text(words.meaning));
        QStringList says{words::confidenceText(fault.confidence)};
        if (!often.isEmpty()) {
            says << often;
        }
        if (fault.added) {
            says << CoachReportWords::tr("seen by the coach, not by the readings");
        }
        if (fault.pinned) {
            says << CoachReportWords::tr("put first by the coach");
        }
        body_ += paragraph(says.join(", "));
        QStringList signs;
        for (const model::Reading& reading : fault.evidence) {
            signs << CoachReportWords::tr("%1: %2, good is %3, %4 times its 95 % half width beyond")
                         .arg(text(technique::findMeasure(m_.pack, reading.measureId)->name),
                              words::valueWithUncertainty(reading),
                              words::rangeText(*reading.range, reading.unit))
                         .arg(std::abs(model::distanceBeyond(*reading.value, *reading.range)) /
                                  std::max(reading.u95, 1e-9),
                              0, 'f', 1);
        }
        for (const std::string& id : fault.denials) {
            signs << CoachReportWords::tr("answered no: %1")
                         .arg(text(technique::findObservation(m_.pack, id)->question));
        }
        body_ += list(signs);
        constexpr int chainWidth = 1000;
        constexpr double chainFont = 22.0;
        const QImage chain =
            chainPicture({names(fault.comesFrom), text(words.name), names(fault.leadsTo)},
                         chainWidth, chainFont);
        if (!chain.isNull()) {
            constexpr int shownWidth = 480;
            picture("chain:" + text(fault.faultId), chain, shownWidth,
                    CoachReportWords::tr("What it comes from and leads to"));
        }
        const technique::FaultDefinition& definition =
            *technique::findFault(m_.pack, fault.faultId);
        body_ += labelled(CoachReportWords::tr("Take care:"), text(definition.caution));
    }

    void findings() {
        body_ += heading(CoachReportWords::tr("Strengths"));
        QStringList strengths;
        for (const model::Strength& strength : m_.visit.findings.strengths) {
            const QString often =
                words::inWords(coaching::howOften(strength.shownIn, strength.readIn));
            strengths << text(technique::findMeasure(m_.pack, strength.measureId)->name) + ": " +
                             words::valueWithUncertainty(strength.reading) +
                             (often.isEmpty() ? QString() : ", " + often);
        }
        body_ += strengths.isEmpty() ? paragraph(CoachReportWords::tr("None is read for certain."))
                                     : list(strengths);
        body_ += heading(CoachReportWords::tr("Findings, the most important first"));
        body_ += paragraph(words::inWords(m_.visit.findings.whyFirst));
        if (m_.visit.findings.faults.empty()) {
            body_ += paragraph(CoachReportWords::tr("No fault shows for certain."));
        }
        for (const model::Fault& f : m_.visit.findings.faults) {
            fault(f);
        }
        if (!m_.visit.findings.watch.empty()) {
            body_ += heading(CoachReportWords::tr("To watch: at the edge, or seen once"));
            QStringList watch;
            for (const model::Fault& f : m_.visit.findings.watch) {
                const QString often = words::inWords(coaching::howOften(f.shownIn, f.readIn));
                watch << text(coaching::wordsOf(m_.pack, m_.choice, f.faultId).name) +
                             (often.isEmpty() ? QString() : ", " + often);
            }
            body_ += list(watch);
        }
    }

    void dismissed() {
        if (m_.visit.dismissed.empty()) {
            return;
        }
        body_ += heading(CoachReportWords::tr("Dismissed by the coach"));
        QStringList lines;
        for (const model::Fault& f : m_.visit.dismissed) {
            const std::string& reason = m_.choice.findings.at(f.faultId).reason;
            lines << text(coaching::wordsOf(m_.pack, m_.choice, f.faultId).name) + ": " +
                         (reason.empty() ? CoachReportWords::tr("no reason given") : text(reason));
        }
        body_ += list(lines);
    }

    void plan() {
        const model::Plan& plan = m_.visit.plan;
        if (plan.focusFaultId.empty()) {
            return;
        }
        body_ += heading(CoachReportWords::tr("Plan"));
        body_ += labelled(CoachReportWords::tr("Focus:"),
                          text(coaching::wordsOf(m_.pack, m_.choice, plan.focusFaultId).name));
        body_ += labelled(CoachReportWords::tr("To watch:"), names(plan.watchFaultIds).join(", "));
        QStringList drills;
        for (const std::string& id : plan.drillIds) {
            const auto drill = m_.drills.find(id);
            if (drill != m_.drills.end()) {
                drills << text(drill->second.name) + " (" +
                              words::inWords(coaching::nameOf(drill->second.place)) +
                              "): " + text(coaching::doseFor(drill->second, m_.doseAge));
            }
        }
        body_ += list(drills);
        if (!m_.homework.empty()) {
            const auto done = std::count_if(m_.homework.begin(), m_.homework.end(),
                                            [](const auto& item) { return !item.doneOn.empty(); });
            body_ += paragraph(
                CoachReportWords::tr("Homework from %1 to %2: %3 drills planned, %4 ticked so far.")
                    .arg(words::dayText(m_.homework.front().day),
                         words::dayText(m_.homework.back().day))
                    .arg(m_.homework.size())
                    .arg(done));
        }
        body_ += labelled(CoachReportWords::tr("Next visit:"),
                          m_.nextVisit.empty() ? QString() : words::dayText(m_.nextVisit));
        body_ += labelled(CoachReportWords::tr("Note:"), text(m_.choice.note));
    }

    void readings() {
        body_ += pageHeading(
            m_.shown.rep.title.empty()
                ? CoachReportWords::tr("All readings")
                : CoachReportWords::tr("All readings of %1").arg(text(m_.shown.rep.title)));
        body_ += paragraph(CoachReportWords::tr(
            "± is half the 95 % interval. A reading is “inside”, “edge” or "
            "“outside” only as far as that interval allows. The last column is "
            "the mean over all reps of the visit."));
        body_ +=
            QStringLiteral("<table width=\"100%\" cellpadding=\"3\" border=\"0\" summary=\"%1\">")
                .arg(escaped(CoachReportWords::tr("All readings"))) +
            headRow({CoachReportWords::tr("Position"), CoachReportWords::tr("Measure"),
                     CoachReportWords::tr("Reading"), CoachReportWords::tr("Range"),
                     CoachReportWords::tr("Basis"), CoachReportWords::tr("Verdict"),
                     CoachReportWords::tr("All reps")});
        for (const model::Reading& r : m_.shown.readings) {
            const technique::Measure* measure = technique::findMeasure(m_.pack, r.measureId);
            if (measure == nullptr) {
                continue; // of an edition with other measures
            }
            QString row = cell(escaped(text(technique::findPosition(m_.pack, measure->at)->name))) +
                          cell(escaped(text(measure->name)));
            // A reason is a sentence: it takes the room of the figures that are not there.
            row += r.value ? cell(escaped(words::valueWithUncertainty(r))) +
                                 cell(r.range ? escaped(words::rangeText(*r.range, r.unit))
                                              : QString()) +
                                 cell(escaped(text(r.rangeBasis)))
                           : cell(escaped(words::inWords(r.missing->why)), "colspan=\"3\"");
            row +=
                QStringLiteral("<td valign=\"top\"><span style=\"color:%1\">%2&nbsp;%3</span></td>")
                    .arg(verdictColour(r.verdict).name(), QString::fromUtf8(verdictSign(r.verdict)),
                         escaped(words::verdictText(r.verdict)));
            const auto over = coaching::overReps(m_.reps, r.measureId);
            row +=
                cell(over && over->reps > 1 ? escaped(CoachReportWords::tr("%1 ± %2 (%3)")
                                                          .arg(words::valueText(over->mean, r.unit),
                                                               words::valueText(over->u95, r.unit))
                                                          .arg(over->reps))
                                            : QString());
            body_ += "<tr>" + row + "</tr>\n";
        }
        body_ += "</table>\n";
    }

    void methods() {
        body_ += heading(CoachReportWords::tr("How it was made"));
        QStringList lines;
        if (m_.circumstances.view) {
            lines << CoachReportWords::tr("View: %1.")
                         .arg(words::inWords(technique::nameOfView(*m_.circumstances.view)));
        }
        if (m_.shown.clip.captureRate) {
            lines << CoachReportWords::tr("Camera: %1 pictures a second.")
                         .arg(*m_.shown.clip.captureRate);
        }
        lines << CoachReportWords::tr(
                     "Each ± holds where landmarks were placed, how far apart the frames are, the "
                     "scale, and how much a limb may point out of the picture; by first-order "
                     "propagation.")
              << CoachReportWords::tr(
                     "Technique pack: %1, version %2. Program: Jolly Kestrel %3. Written on %4.")
                     .arg(text(m_.pack.name), QString::number(m_.pack.version),
                          QCoreApplication::applicationVersion(), words::dayText(m_.today));
        int byHand = 0;
        int byMachine = 0;
        for (const auto& [frame, points] : m_.shown.rep.landmarks) {
            for (const auto& [landmark, point] : points) {
                (point.source == model::Source::placed ? byHand : byMachine) += 1;
            }
        }
        lines << CoachReportWords::tr(
                     "Landmarks of this rep: %1 placed or confirmed by hand, %2 by the program.")
                     .arg(byHand)
                     .arg(byMachine);
        for (const std::string& caution : m_.visit.findings.cautions) {
            lines << text(caution);
        }
        body_ += list(lines);
    }

    const SheetMaterial& m_;
    CoachReport report_;
    QString body_;
};

} // namespace

CoachReport coachReportOf(const SheetMaterial& material) {
    return Writer(material).written();
}

} // namespace kestrel::report
