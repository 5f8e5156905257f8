#include "report/take_home.h"

#include "coaching/drill_texts.h"
#include "coaching/schedule.h"
#include "report/face_blur.h"
#include "report/position_picture.h"
#include "words/day_text.h"
#include "words/text.h"
#include "words/words.h"

#include <QCoreApplication>
#include <QDate>
#include <QLocale>

#include <algorithm>

namespace kestrel::report {
namespace {

using words::text;

/// What stands on it, for translators.
class TakeHomeWords {
    Q_DECLARE_TR_FUNCTIONS(kestrel::report::TakeHomeWords)
};

TakeHomeDrill drillFor(const coaching::Drill& drill, std::optional<int> age) {
    TakeHomeDrill result;
    result.name = text(drill.name);
    result.place = words::inWords(coaching::nameOf(drill.place));
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
        equipment << words::inWords(coaching::nameOfEquipment(item));
    }
    result.equipment = equipment.join(", ");
    result.caution = text(drill.caution);
    result.minutes = drill.minutes;
    return result;
}

/// Of the readings taken at a position, the one to draw: evidence of the focus, of another fault,
/// else the clearest strength.
const model::Reading* readingToShow(const SheetMaterial& material, const FilmedRep& filmed,
                                    const std::string& position) {
    const auto drawn = [&](const std::string& measure) -> const model::Reading* {
        for (const model::Reading& reading : filmed.readings) {
            if (reading.measureId == measure && reading.positionId == position &&
                !reading.constructs.empty()) {
                return &reading;
            }
        }
        return nullptr;
    };
    for (const bool focusOnly : {true, false}) {
        for (const model::Fault& fault : material.visit.findings.faults) {
            if (focusOnly && fault.faultId != material.visit.plan.focusFaultId) {
                continue;
            }
            for (const model::Reading& evidence : fault.evidence) {
                if (const model::Reading* found = drawn(evidence.measureId)) {
                    return found;
                }
            }
        }
    }
    const model::Reading* shown = nullptr;
    for (const model::Reading& reading : filmed.readings) {
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
        return TakeHomeWords::tr("Good: %1.").arg(plain);
    case model::Verdict::outside:
        return TakeHomeWords::tr("Work on: %1.").arg(plain);
    case model::Verdict::edge:
        return TakeHomeWords::tr("Close to the line: %1.").arg(plain);
    case model::Verdict::reported:
    case model::Verdict::unreadable:
        return TakeHomeWords::tr("Shown: %1.").arg(plain);
    }
    return {};
}

constexpr double aspect = 0.85; // upright, as a standing player is
constexpr int pictureWidth = 420;

/// The player at a frame with what a reading draws; null when it cannot be shown.
QImage playerAt(const SheetMaterial& material, const FilmedRep& filmed, int frame,
                const model::Reading* reading) {
    QImage image = filmed.images(frame);
    if (image.isNull() || (material.blurFaces && !blurFace(image, filmed.rep.landmarks, frame))) {
        return {};
    }
    const QRectF region = playerRegion(filmed.rep.landmarks, frame, image.size(), aspect);
    return positionPicture(image, frame, region, pictureWidth,
                           reading ? std::vector{*reading} : std::vector<model::Reading>{});
}

std::vector<TakeHomePicture> positionPictures(const SheetMaterial& material) {
    std::vector<TakeHomePicture> pictures;
    const model::Rep& rep = material.shown.rep;
    for (const technique::Position& position : material.pack.positions) {
        const auto frame = model::frameOf(rep, position.id);
        if (position.event || !frame) {
            continue;
        }
        const model::Reading* shown = readingToShow(material, material.shown, position.id);
        const QImage image = playerAt(material, material.shown, *frame, shown);
        if (!image.isNull()) {
            pictures.push_back(
                {model::onlyFound(rep, position.id) == nullptr
                     ? text(position.name)
                     : TakeHomeWords::tr("%1 (found by the program)").arg(text(position.name)),
                 caption(material.pack, shown), image});
        }
    }
    return pictures;
}

/// The position at which the focus of the plan that is asked about shows, else today's focus's.
std::string comparedPosition(const SheetMaterial& material) {
    const std::string fault =
        material.askBack ? material.askBack->focusFaultId : material.visit.plan.focusFaultId;
    const technique::FaultDefinition* focus = technique::findFault(material.pack, fault);
    if (focus == nullptr) {
        return {};
    }
    for (const technique::Sign& sign : focus->signs) {
        if (const auto* measure = technique::findMeasure(material.pack, sign.measure)) {
            if (model::frameOf(material.shown.rep, measure->at)) {
                return measure->at;
            }
        }
    }
    return focus->at;
}

std::vector<TakeHomePicture> beforeAndAfter(const SheetMaterial& material) {
    if (!material.earlier) {
        return {};
    }
    const std::string position = comparedPosition(material);
    std::vector<TakeHomePicture> pair;
    for (const FilmedRep* filmed : {&*material.earlier, &material.shown}) {
        const auto frame = model::frameOf(filmed->rep, position);
        if (!frame) {
            return {};
        }
        const model::Reading* shown = readingToShow(material, *filmed, position);
        const QImage image = playerAt(material, *filmed, *frame, shown);
        if (image.isNull()) {
            return {};
        }
        pair.push_back(
            {filmed == &material.shown
                 ? TakeHomeWords::tr("Now: %1").arg(words::dayText(filmed->clip.filmed))
                 : TakeHomeWords::tr("Then: %1").arg(words::dayText(filmed->clip.filmed)),
             caption(material.pack, shown), image});
    }
    return pair;
}

std::vector<TakeHomeDay> weekOf(const SheetMaterial& material) {
    std::vector<TakeHomeDay> days;
    for (const model::HomeworkItem& item : material.homework) {
        const QString date = QLocale().toString(words::dateOf(item.day), "dddd, d MMMM");
        if (days.empty() || days.back().date != date) {
            days.push_back({date, words::inWords(coaching::nameOf(item.stage)), {}, 0});
        }
        const auto drill = material.drills.find(item.drillId);
        days.back().drills << TakeHomeWords::tr("%1: %2").arg(
            drill == material.drills.end() ? text(item.drillId) : text(drill->second.name),
            words::inWords(coaching::doseOf(material.homework, item, material.drills)));
        days.back().minutes += item.minutes;
    }
    return days;
}

} // namespace

TakeHome takeHomeOf(const SheetMaterial& material) {
    const technique::Pack& pack = material.pack;
    const model::Plan& plan = material.visit.plan;
    TakeHome sheet;
    sheet.player = text(material.player.name);
    sheet.technique = text(pack.name);
    sheet.filmed = words::dayText(material.shown.clip.filmed);
    sheet.note = text(material.choice.note);
    for (const std::string& id : plan.strengthIds) {
        sheet.strengths << text(technique::findMeasure(pack, id)->plain);
    }
    if (!plan.focusFaultId.empty()) {
        const coaching::FaultWords focus =
            coaching::wordsOf(pack, material.choice, plan.focusFaultId);
        sheet.focus = text(focus.name);
        sheet.focusMeaning = text(focus.meaning);
        const model::Fault& first = material.visit.findings.faults.front();
        const bool proposed = first.faultId == plan.focusFaultId && !first.pinned;
        sheet.whyFirst = proposed
                             ? words::inWords(material.visit.findings.whyFirst)
                             : TakeHomeWords::tr("Your coach chose this one to work on first.");
        for (const std::string& cue : plan.cueTexts) {
            sheet.cues << text(cue);
        }
        for (const std::string& id : plan.drillIds) {
            if (const auto drill = material.drills.find(id); drill != material.drills.end()) {
                sheet.drills.push_back(drillFor(drill->second, material.doseAge));
            }
        }
        sheet.nextQuestions
            << TakeHomeWords::tr("Did you do your drills? Bring this sheet with your ticks.")
            << TakeHomeWords::tr("Do you still do it: “%1”? We film it again.").arg(sheet.focus);
    }
    for (const std::string& id : plan.watchFaultIds) {
        sheet.watch << text(coaching::wordsOf(pack, material.choice, id).name);
    }
    for (const std::string& caution : material.visit.findings.cautions) {
        sheet.cautions << text(caution);
    }
    if (material.doseAge != material.circumstances.ageYears) {
        sheet.cautions << TakeHomeWords::tr(
            "You grow fast right now, so your drills are kept small. Stop when a "
            "heel, knee, elbow or shoulder hurts, and tell a grown-up.");
    }
    if (!material.pose.isNull() && !plan.focusFaultId.empty()) {
        const std::string& at = technique::findFault(pack, plan.focusFaultId)->at;
        sheet.pose.push_back({text(technique::findPosition(pack, at)->name),
                              TakeHomeWords::tr("This is how it looks when it is right."),
                              material.pose});
    }
    sheet.week = weekOf(material);
    sheet.nextVisit = material.nextVisit.empty() ? QString() : words::dayText(material.nextVisit);
    sheet.pictures = positionPictures(material);
    sheet.beforeAndAfter = beforeAndAfter(material);
    return sheet;
}

std::vector<TakeHomePicture> picturesOf(const TakeHome& sheet) {
    std::vector<TakeHomePicture> pictures = sheet.pictures;
    pictures.insert(pictures.end(), sheet.beforeAndAfter.begin(), sheet.beforeAndAfter.end());
    pictures.insert(pictures.end(), sheet.pose.begin(), sheet.pose.end());
    return pictures;
}

} // namespace kestrel::report
