#include "report/take_home.h"

#include "report/position_picture.h"
#include "technique/reading_text.h"

#include <QCoreApplication>

#include <algorithm>

namespace kestrel::report {
namespace {

QString text(const std::string& s) {
    return QString::fromStdString(s);
}

QString tr(const char* s) {
    return QCoreApplication::translate("TakeHome", s);
}

TakeHomeDrill drillFor(const coaching::Drill& drill, std::optional<int> age) {
    TakeHomeDrill result;
    result.name = text(drill.name);
    result.place = text(coaching::placeText(drill.place));
    result.dose = text(coaching::doseFor(drill, age));
    result.setUp = text(drill.setUp);
    for (const std::string& step : drill.steps) {
        result.steps << text(step);
    }
    result.feel = text(drill.feel);
    result.mistake = text(drill.mistake);
    result.next = text(drill.progression);
    QStringList equipment;
    for (const std::string& item : drill.equipment) {
        equipment << text(item);
    }
    result.equipment = equipment.join(", ");
    result.caution = text(drill.caution);
    result.minutes = drill.minutes;
    return result;
}

/// Of the readings taken at a position, the one to draw: evidence of the focus, of another fault,
/// else the clearest strength.
const model::Reading* readingToShow(const coaching::Review& review, const std::string& position) {
    const auto evidenceHere = [&](const model::Fault& fault) -> const model::Reading* {
        for (const model::Reading& reading : fault.evidence) {
            if (reading.positionId == position && !reading.constructs.empty()) {
                return &reading;
            }
        }
        return nullptr;
    };
    for (const bool focusOnly : {true, false}) {
        for (const model::Fault& fault : review.findings.faults) {
            if (!focusOnly || fault.faultId == review.plan.focusFaultId) {
                if (const model::Reading* found = evidenceHere(fault)) {
                    return found;
                }
            }
        }
    }
    const model::Reading* shown = nullptr;
    for (const model::Reading& reading : review.readings) {
        if (reading.positionId == position && !reading.constructs.empty() &&
            (shown == nullptr || (shown->verdict != model::Verdict::inside &&
                                  reading.verdict == model::Verdict::inside))) {
            shown = &reading;
        }
    }
    return shown;
}

QString caption(const technique::Pack& pack, const model::Reading* reading) {
    if (reading == nullptr) {
        return {};
    }
    const QString plain = text(technique::findMeasure(pack, reading->measureId)->plain);
    switch (reading->verdict) {
    case model::Verdict::inside:
        return tr("Good: %1.").arg(plain);
    case model::Verdict::outside:
        return tr("Work on: %1.").arg(plain);
    case model::Verdict::edge:
        return tr("Close to the line: %1.").arg(plain);
    case model::Verdict::reported:
    case model::Verdict::unreadable:
        return tr("Shown: %1.").arg(plain);
    }
    return {};
}

} // namespace

TakeHome takeHomeOf(const technique::Pack& pack, const coaching::DrillLibrary& drills,
                    const model::Player& player, const model::Clip& clip, const model::Rep& rep,
                    const technique::Circumstances& circumstances, const coaching::Review& review,
                    const QString& note, const FrameImages& images) {
    TakeHome sheet;
    sheet.player = text(player.name);
    sheet.technique = text(pack.name);
    sheet.filmed = text(clip.filmed);
    sheet.note = note;
    QStringList schools;
    for (const std::string& id : technique::schoolsInForce(pack, circumstances.schools)) {
        schools << text(technique::findSchool(pack, id)->name);
    }
    sheet.schools = schools.join(", ");
    for (const std::string& id : review.plan.strengthIds) {
        sheet.strengths << text(technique::findMeasure(pack, id)->plain);
    }
    if (!review.plan.focusFaultId.empty()) {
        const technique::FaultDefinition& focus =
            *technique::findFault(pack, review.plan.focusFaultId);
        sheet.focus = text(focus.name);
        sheet.focusMeaning = text(focus.meaning);
        const bool proposed =
            !review.findings.faults.empty() && review.findings.faults.front().faultId == focus.id;
        sheet.whyFirst = proposed ? text(review.findings.whyFirst)
                                  : tr("Your coach chose this one to work on first.");
        for (const std::string& cue : review.plan.cueTexts) {
            sheet.cues << text(cue);
        }
        for (const std::string& id : review.plan.drillIds) {
            sheet.drills.push_back(drillFor(drills.at(id), circumstances.ageYears));
        }
    }
    for (const std::string& id : review.plan.watchFaultIds) {
        sheet.watch << text(technique::findFault(pack, id)->name);
    }
    for (const std::string& caution : review.findings.cautions) {
        sheet.cautions << text(caution);
    }

    constexpr double aspect = 0.85; // upright, as a standing player is
    constexpr int pictureWidth = 420;
    for (const technique::Position& position : pack.positions) {
        const auto frame = model::frameOf(rep, position.id);
        if (position.event || !frame) {
            continue;
        }
        const QImage image = images(*frame);
        if (image.isNull()) {
            continue;
        }
        const QRectF region = playerRegion(rep.landmarks, *frame, image.size(), aspect);
        const model::Reading* shown = readingToShow(review, position.id);
        sheet.pictures.push_back(
            {model::onlyFound(rep, position.id) == nullptr
                 ? text(position.name)
                 : tr("%1 (found by the program)").arg(text(position.name)),
             caption(pack, shown),
             positionPicture(image, *frame, region, pictureWidth,
                             shown ? std::vector{*shown} : std::vector<model::Reading>{})});
    }
    for (const model::Reading& reading : review.readings) {
        const technique::Measure& measure = *technique::findMeasure(pack, reading.measureId);
        TakeHomeReading row;
        row.name = text(measure.name);
        row.position = text(technique::findPosition(pack, measure.at)->name);
        row.kind = reading.verdict;
        row.verdict = text(technique::verdictText(reading.verdict));
        if (reading.value) {
            row.value = text(technique::valueWithUncertainty(reading));
            row.range = reading.range ? text(technique::rangeText(*reading.range, reading.unit))
                                      : QString();
            row.basis = text(reading.rangeBasis);
        } else {
            row.value = text(reading.missing->text);
        }
        sheet.readings.push_back(std::move(row));
    }
    return sheet;
}

} // namespace kestrel::report
