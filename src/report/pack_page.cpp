#include "report/pack_page.h"

#include "report/fonts.h"
#include "report/palette.h"
#include "technique/kinds/measure_kind.h"
#include "technique/pack/roles.h"
#include "words/measured.h"
#include "words/text.h"
#include "words/words.h"

#include <QCoreApplication>
#include <QPainter>
#include <QStringList>

#include <algorithm>
#include <cmath>

namespace kestrel::report {
namespace {

using words::text;

/// What stands on it, for translators.
class PackPageWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::PackPageWords)
};

QString escaped(const std::string& s) {
    return text(s).toHtmlEscaped();
}

/// Whom a range is for: "from 13 years, tall": empty for everybody.
QString whomFor(const technique::Pack& pack, const technique::MeasureRange& range) {
    QStringList parts;
    if (range.ages.from && range.ages.to) {
        parts << PackPageWords::tr("%1 to %2 years").arg(*range.ages.from).arg(*range.ages.to);
    } else if (range.ages.from) {
        parts << PackPageWords::tr("from %1 years").arg(*range.ages.from);
    } else if (range.ages.to) {
        parts << PackPageWords::tr("up to %1 years").arg(*range.ages.to);
    }
    if (const auto* school = technique::findSchool(pack, range.school)) {
        parts << QString::fromStdString(school->name);
    }
    for (const technique::Variant& variant : pack.variants) {
        if (variant.id == range.variant) {
            parts << QString::fromStdString(variant.name);
        }
    }
    for (const technique::Shot& shot : pack.shots) {
        if (shot.id == range.shot) {
            parts << QString::fromStdString(shot.name);
        }
    }
    return parts.join(", ");
}

QString list(const std::vector<std::string>& items) {
    QString html = "<ul>";
    for (const std::string& item : items) {
        html += "<li>" + escaped(item) + "</li>";
    }
    return html + "</ul>";
}

class Page {
  public:
    Page(const technique::Pack& pack, const coaching::DrillLibrary& drills,
         const std::map<std::string, QImage>& pictures, int pictureWidth)
        : pack_(pack), drills_(drills), pictures_(pictures), width_(pictureWidth) {}

    PackPage make() {
        out("<h1>" + escaped(pack_.name) + "</h1><p>" + escaped(pack_.sport) + " · " +
            PackPageWords::tr("version %1").arg(pack_.version) + " · " +
            PackPageWords::tr("%1 positions, %2 measures, %3 faults")
                .arg(pack_.positions.size())
                .arg(pack_.measures.size())
                .arg(pack_.faults.size()) +
            "</p>");
        for (const technique::Position& position : pack_.positions) {
            this->position(position);
        }
        schools();
        sequence();
        faults();
        if (!pack_.cautions.empty()) {
            out("<h2>" + PackPageWords::tr("Cautions") + "</h2>" + list(pack_.cautions));
        }
        out("<h2>" + PackPageWords::tr("How to film it") + "</h2>" + list(pack_.filming.advice));
        return std::move(page_);
    }

  private:
    void out(const QString& html) { page_.html += html; }

    void position(const technique::Position& position) {
        out("<h2><a name='" + escaped(position.id) + "'></a>" + escaped(position.name) +
            "</h2><table width='100%'><tr>");
        const auto picture = pictures_.find(position.id);
        if (picture != pictures_.end()) {
            const QString name = "position:" + QString::fromStdString(position.id);
            page_.images[name] = picture->second;
            out(QStringLiteral("<td width='%1' valign='top'><img src='%2' width='%1'></td>")
                    .arg(width_)
                    .arg(name));
        }
        out("<td valign='top'><p>" + escaped(position.definition) + "</p>");
        if (!position.lookFor.empty()) {
            out("<p><b>" + PackPageWords::tr("Look at:") + "</b> " + escaped(position.lookFor) +
                "</p>");
        }
        for (const technique::Observation& observation : pack_.observations) {
            if (observation.at == position.id) {
                out("<p><b>" + PackPageWords::tr("Ask:") + "</b> " + escaped(observation.question) +
                    "</p>");
            }
        }
        for (const technique::Measure& measure : pack_.measures) {
            if (measure.at == position.id) {
                this->measure(measure);
            }
        }
        out("</td></tr></table>");
    }

    void measure(const technique::Measure& measure) {
        QStringList views;
        for (const model::View view : measure.views) {
            views << words::inWords(technique::nameOfView(view));
        }
        out("<p><b>" + escaped(measure.name) + "</b> (" +
            words::kindText(measure.kind->id).toHtmlEscaped() +
            (views.isEmpty() ? QString() : "; " + views.join(", ")) + ")");
        if (!measure.note.empty()) {
            out("<br>" + escaped(measure.note));
        }
        constexpr int bandWidth = 560;
        if (const QImage bands = rangeBands(pack_, measure, bandWidth); !bands.isNull()) {
            const QString name = "range:" + QString::fromStdString(measure.id);
            page_.images[name] = bands;
            out("<br><img src='" + name + "'>");
            QStringList bases;
            for (const technique::MeasureRange& range : measure.ranges) {
                bases << escaped(range.basis);
            }
            bases.removeDuplicates();
            out("<br><small>" + bases.join("; ") + "</small>");
        } else {
            out("<br><small>" + PackPageWords::tr("told, not judged") + "</small>");
        }
        out("</p>");
    }

    void schools() {
        if (pack_.schools.empty()) {
            return;
        }
        out("<h2>" + PackPageWords::tr("Where coaches differ") + "</h2>");
        for (const technique::SchoolQuestion& question : pack_.schools) {
            out("<h3>" + escaped(question.text) +
                "</h3><table border='1' cellspacing='0' cellpadding='6' width='100%'><tr>");
            for (const technique::SchoolOption& option : question.options) {
                const bool usual = option.id == question.defaultOption;
                out("<td valign='top'><b>" + escaped(option.name) +
                    (usual ? " (" + PackPageWords::tr("used unless you choose") + ")" : QString()) +
                    "</b><br>" + escaped(option.why) + judgedOtherwise(option) + "</td>");
            }
            out("</tr></table><p>" + escaped(question.reason) + "</p>");
        }
    }

    /// The ranges and faults that hold for a school alone.
    [[nodiscard]] QString judgedOtherwise(const technique::SchoolOption& option) const {
        QStringList items;
        for (const technique::Measure& measure : pack_.measures) {
            for (const technique::MeasureRange& range : measure.ranges) {
                if (range.school == option.id) {
                    items << escaped(measure.name) + ": " +
                                 words::rangeText(range.good, measure.unit).toHtmlEscaped();
                }
            }
        }
        for (const technique::FaultDefinition& fault : pack_.faults) {
            if (fault.school == option.id) {
                items << PackPageWords::tr("a fault here only: %1").arg(escaped(fault.name));
            }
        }
        return items.isEmpty() ? QString() : "<br>· " + items.join("<br>· ");
    }

    void sequence() {
        if (!pack_.sequence) {
            return;
        }
        QStringList links;
        for (const technique::SequenceLink& link : pack_.sequence->links) {
            links << escaped(link.name);
        }
        out("<h2>" + PackPageWords::tr("Sequence") + "</h2><p>" + links.join(" → ") + "</p>");
        if (!pack_.sequence->note.empty()) {
            out("<p>" + escaped(pack_.sequence->note) + "</p>");
        }
    }

    [[nodiscard]] QString signText(const technique::Sign& sign) const {
        using Is = technique::Sign::Is;
        if (sign.is == Is::denied) {
            const auto* observation = technique::findObservation(pack_, sign.measure);
            return PackPageWords::tr("“%1” answered no").arg(escaped(observation->question));
        }
        const QString name = escaped(technique::findMeasure(pack_, sign.measure)->name);
        switch (sign.is) {
        case Is::above:
            return PackPageWords::tr("%1 above its range").arg(name);
        case Is::below:
            return PackPageWords::tr("%1 below its range").arg(name);
        default:
            return PackPageWords::tr("%1 outside its range").arg(name);
        }
    }

    void faults() {
        out("<h2>" + PackPageWords::tr("Faults, cues and drills") + "</h2>");
        for (const technique::FaultDefinition& fault : pack_.faults) {
            out("<h3>" + escaped(fault.name) +
                (fault.safety ? " · " + PackPageWords::tr("guards the body") : QString()) +
                "</h3><p>" + escaped(fault.meaning) + "</p>");
            QStringList signs;
            for (const technique::Sign& sign : fault.signs) {
                signs << signText(sign);
            }
            out("<p><b>" +
                (fault.allSigns ? PackPageWords::tr("Seen by all of:")
                                : PackPageWords::tr("Seen by:")) +
                "</b> " + signs.join("; ") + "</p>");
            if (!fault.leadsTo.empty()) {
                QStringList later;
                for (const std::string& id : fault.leadsTo) {
                    later << escaped(technique::findFault(pack_, id)->name);
                }
                out("<p><b>" + PackPageWords::tr("Leads to:") + "</b> " + later.join(", ") +
                    "</p>");
            }
            QStringList cues;
            for (const std::string& cue : fault.cues) {
                cues << "“" + escaped(cue) + "”";
            }
            out("<p><b>" + PackPageWords::tr("Cues:") + "</b> " + cues.join(" · ") + "</p><p><b>" +
                PackPageWords::tr("Drills:") + "</b> ");
            QStringList names;
            for (const std::string& id : fault.drills) {
                const auto drill = drills_.find(id);
                if (drill != drills_.end()) {
                    names << escaped(drill->second.name) + " (" +
                                 words::inWords(coaching::nameOf(drill->second.place))
                                     .toHtmlEscaped() +
                                 ")";
                }
            }
            out(names.join(" · ") + "</p>");
            if (!fault.caution.empty()) {
                out("<p><b>" + PackPageWords::tr("Caution:") + "</b> " + escaped(fault.caution) +
                    "</p>");
            }
        }
    }

    const technique::Pack& pack_;
    const coaching::DrillLibrary& drills_;
    const std::map<std::string, QImage>& pictures_;
    int width_;
    PackPage page_;
};

/// The axis of a measure's ranges: all limits with room beside them.
struct Axis {
    double low = 0.0;
    double high = 1.0;
};

Axis axisOf(const technique::Measure& measure) {
    std::vector<double> limits;
    for (const technique::MeasureRange& range : measure.ranges) {
        for (const auto& limit : {range.good.low, range.good.high}) {
            if (limit) {
                limits.push_back(*limit);
            }
        }
    }
    const auto [low, high] = std::minmax_element(limits.begin(), limits.end());
    const double width = std::max(*high - *low, 0.25 * std::max(std::abs(*high), std::abs(*low)));
    constexpr double room = 0.35;
    const double beside = room * (width > 0.0 ? width : 1.0); // a single limit of nought
    return {*low - beside, *high + beside};
}

} // namespace

QImage rangeBands(const technique::Pack& pack, const technique::Measure& measure, int width) {
    if (measure.ranges.empty()) {
        return {};
    }
    constexpr int rowHeight = 21;
    constexpr int pixelsOfPoint = 13;
    const int rows = static_cast<int>(measure.ranges.size());
    QImage image(width, rows * rowHeight + 3, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    QFont font(fontFamily);
    font.setPixelSize(pixelsOfPoint);
    painter.setFont(font);
    const Axis axis = axisOf(measure);
    const double labelWidth = 0.4 * width; // whom each is for
    const auto placeOf = [&](double value) {
        return (width - labelWidth) * (value - axis.low) / (axis.high - axis.low);
    };
    for (int i = 0; i < rows; ++i) {
        const technique::MeasureRange& range = measure.ranges[static_cast<std::size_t>(i)];
        const double y = i * rowHeight;
        const QRectF whole(0, y + 3, width - labelWidth, rowHeight - 6);
        painter.fillRect(whole, QColor(0xEF, 0xE6, 0xD3));
        const double from = range.good.low ? placeOf(*range.good.low) : 0.0;
        const double to = range.good.high ? placeOf(*range.good.high) : whole.width();
        painter.fillRect(QRectF(from, y + 3, to - from, rowHeight - 6), QColor(0xB9, 0xCC, 0xB4));
        painter.setPen(QPen(slate, 2.0));
        for (const auto& [limit, x] :
             {std::pair{range.good.low, from}, std::pair{range.good.high, to}}) {
            if (limit) {
                painter.drawLine(QPointF(x, y + 1), QPointF(x, y + rowHeight - 2));
            }
        }
        painter.setPen(nearBlack);
        painter.drawText(whole, Qt::AlignCenter, words::rangeText(range.good, measure.unit));
        painter.drawText(QRectF(whole.right() + 8, y, labelWidth - 8, rowHeight),
                         Qt::AlignVCenter | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(whomFor(pack, range), Qt::ElideRight,
                                                          static_cast<int>(labelWidth) - 8));
    }
    return image;
}

QString drillsHtml(const coaching::DrillLibrary& drills) {
    QString html;
    for (const auto& [id, drill] : drills) {
        html += "<h2>" + escaped(drill.name) + "</h2><p>" +
                words::inWords(coaching::nameOf(drill.place)).toHtmlEscaped() + " · " +
                PackPageWords::tr("%1 minutes").arg(drill.minutes) + "</p><p>" +
                escaped(drill.setUp) + "</p>" + list(drill.steps) + "<p>";
        for (const coaching::DrillDose& dose : drill.doses) {
            html += dose.ageTo ? PackPageWords::tr("Up to %1 years: %2")
                                     .arg(*dose.ageTo)
                                     .arg(escaped(dose.text))
                               : (drill.doses.size() > 1 ? PackPageWords::tr("Older: %1")
                                                         : PackPageWords::tr("Dose: %1"))
                                     .arg(escaped(dose.text));
            html += "<br>";
        }
        html += "<b>" + PackPageWords::tr("Feel:") + "</b> " + escaped(drill.feel) + "<br><b>" +
                PackPageWords::tr("Mistake:") + "</b> " + escaped(drill.mistake) + "<br><b>" +
                PackPageWords::tr("Then:") + "</b> " + escaped(drill.progression) + "<br><b>" +
                PackPageWords::tr("Caution:") + "</b> " + escaped(drill.caution) + "</p>";
    }
    return html;
}

PackPage packPage(const technique::Pack& pack, const coaching::DrillLibrary& drills,
                  const std::map<std::string, QImage>& pictures, int pictureWidth) {
    return Page(pack, drills, pictures, pictureWidth).make();
}

} // namespace kestrel::report
